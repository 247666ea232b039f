import { catalogueOf } from '../../effect/shipped.js'

/** True for `java.util.List.add`, false for `java.nio.file.Files.copy` or `java.time.LocalDate.now`. `member` is `Class.member`. */
export function isPureInJdk(packageName: string, member: string): boolean {
  return catalogueOf('java').effectOf(packageName, member) === 'pure'
}

/** Whether it makes a difference to what is touched if a member is called, or a class made, without arguments. */
export function tellsBare(packageName: string, member: string): boolean { return catalogueOf('java').tellsBare(packageName, member) }

/** Annotations that mean that a framework hands a field in or builds a class. */
const INJECTING = new Set(['Inject', 'Autowired', 'Resource', 'Value', 'EJB', 'PersistenceContext', 'Mock', 'InjectMocks', 'Spy'])

export function isInjecting(annotation: string): boolean {
  return INJECTING.has(annotation.slice(annotation.lastIndexOf('.') + 1))
}
