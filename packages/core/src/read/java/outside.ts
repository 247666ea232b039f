/** Packages of the JDK that only compute and hold values: nothing of them needs replacing in a test. */
const PURE_PACKAGES = ['java.lang', 'java.lang.annotation', 'java.lang.invoke', 'java.lang.ref', 'java.lang.reflect', 'java.math', 'java.text', 'java.time', 'java.util']
const PURE_BELOW = ['java.time.', 'java.util.function', 'java.util.regex', 'java.util.stream', 'java.nio.charset', 'java.util.concurrent.atomic', 'java.util.concurrent.locks']

/** Classes of those packages that do reach outside: clocks, randomness, processes, threads, the console. */
const IMPURE = new Set([
  'java.lang.System', 'java.lang.Runtime', 'java.lang.Process', 'java.lang.ProcessBuilder', 'java.lang.Thread', 'java.lang.ClassLoader', 'java.lang.Shutdown',
  'java.util.Random', 'java.util.SplittableRandom', 'java.util.Timer', 'java.util.Scanner', 'java.util.ServiceLoader', 'java.util.Locale', 'java.util.TimeZone',
  'java.time.Clock'
])

/** Members of otherwise pure classes that ask the clock, the machine or chance. */
const IMPURE_MEMBERS = new Set(['now', 'random', 'randomUUID', 'systemUTC', 'systemDefaultZone', 'getInstance', 'getDefault', 'currentTimeMillis', 'nanoTime'])

/** True for `java.util.List.add`, false for `java.util.Random.nextInt` or `java.time.LocalDate.now`. */
export function isPureInJdk(packageName: string, className: string, member: string): boolean {
  if (IMPURE.has(className)) return false
  if (!PURE_PACKAGES.includes(packageName) && !PURE_BELOW.some(prefix => packageName.startsWith(prefix))) return false
  return !IMPURE_MEMBERS.has(member)
}

/** Annotations that mean that a framework hands a field in or builds a class. */
const INJECTING = new Set(['Inject', 'Autowired', 'Resource', 'Value', 'EJB', 'PersistenceContext', 'Mock', 'InjectMocks', 'Spy'])

export function isInjecting(annotation: string): boolean {
  return INJECTING.has(annotation.slice(annotation.lastIndexOf('.') + 1))
}
