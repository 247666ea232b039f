import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

/** A project's compile and test command. */
export interface ProposedCommands { readonly compile: string; readonly test: string }

/** Compile and test commands as the build files suggest them; the user confirms or types others. */
export function proposedCommands(root: string): ProposedCommands {
  const has = (name: string) => existsSync(join(root, name))
  if (has('package.json') || has('tsconfig.json')) return scriptsOf(root, has)
  if (has('gradlew')) return { compile: 'sh gradlew --offline -q testClasses', test: 'sh gradlew --offline test' }
  if (has('build.gradle') || has('build.gradle.kts')) return { compile: 'gradle --offline -q testClasses', test: 'gradle --offline test' }
  if (has('mvnw')) return { compile: 'sh mvnw -o -q test-compile', test: 'sh mvnw -o test' }
  if (has('pom.xml') && !has('compile.sh')) return { compile: 'mvn -o -q test-compile', test: 'mvn -o test' }
  if (has('compile.sh')) return { compile: 'sh compile.sh', test: has('test.sh') ? 'sh test.sh' : '' }
  return plainJava(root)
}

function scriptsOf(root: string, has: (name: string) => boolean): ProposedCommands {
  let scripts: Record<string, unknown> = {}
  try {
    scripts = (JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { scripts?: Record<string, unknown> }).scripts ?? {}
  } catch { /* without one there is nothing to propose from */ }
  const runner = has('pnpm-lock.yaml') ? 'pnpm' : has('yarn.lock') ? 'yarn' : 'npm'
  const compile = ['typecheck', 'type-check', 'compile', 'check-types', 'tsc', 'build'].find(name => typeof scripts[name] === 'string')
  return {
    compile: compile ? `${runner} run ${compile}` : has('tsconfig.json') ? 'npx tsc --noEmit -p .' : '',
    test: typeof scripts.test === 'string' && !/no test specified/.test(scripts.test) ? `${runner} test` : ''
  }
}

const SYSTEM_JARS = '/usr/share/java'
/** What runs tests written with JUnit 5 and 4, as Debian's packages `junit5` and `junit4` bring it. */
const RUNNER = ['junit-platform-console', 'junit-platform-commons', 'junit-platform-engine', 'junit-platform-launcher', 'junit-platform-reporting', 'junit-jupiter-api', 'junit-jupiter-engine', 'junit-jupiter-params', 'junit-vintage-engine', 'junit4', 'hamcrest', 'opentest4j', 'apiguardian-api', 'picocli', 'univocity-parsers']

/** Sources without a build file: the compiler on all of them, and JUnit from the project's own `lib` or from the system's jars. */
function plainJava(root: string): ProposedCommands {
  const folders = ['src', 'test', 'tests'].filter(name => existsSync(join(root, name)))
  const isJava = (at: string, depth = 0): boolean => depth < 12 && readdirSync(at, { withFileTypes: true }).some(entry => entry.isDirectory() ? isJava(join(at, entry.name), depth + 1) : entry.name.endsWith('.java'))
  if (folders.length === 0 || !folders.some(name => isJava(join(root, name)))) return { compile: '', test: '' }
  const jars = systemRunner()
  const classpath = [...(existsSync(join(root, 'lib')) ? ['lib/*'] : []), ...jars].join(':')
  const compile = `javac -nowarn -d .trial/classes${classpath ? ` -cp '${classpath}'` : ''} $(find ${folders.join(' ')} -name '*.java')`
  return { compile, test: jars.length > 0 ? `java -cp '.trial/classes:${classpath}' org.junit.platform.console.ConsoleLauncher --scan-classpath .trial/classes --reports-dir .trial/reports` : '' }
}

function systemRunner(): string[] {
  const jars = RUNNER.map(name => join(SYSTEM_JARS, `${name}.jar`))
  return existsSync(jars[0]!) && existsSync(jars[5]!) ? jars.filter(path => existsSync(path)) : []
}
