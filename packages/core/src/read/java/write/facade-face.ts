import type { FacadeSteps } from '../../write/facade-steps.js'
import { BEGINS, facadeSteps, stepTypeName } from '../../write/facade-steps.js'
import { Kind } from '../syntax.js'
import type { FacadeParts } from './facade-parts.js'
import type { JavaRepeatedRun } from './repeated-runs.js'

const CONSTANTS = new Set([Kind.DecimalIntegerLiteral, Kind.DecimalFloatingPointLiteral, Kind.True, Kind.False, Kind.NullLiteral, Kind.StringLiteral, Kind.CharacterLiteral])

/** The steps in which a facade's method could be told its arguments. */
export function stepsOf({ places }: Pick<JavaRepeatedRun, 'places'>, { collaborators, parameters }: FacadeParts, method: string): FacadeSteps {
  const taken = new Set([...collaborators.map(one => one.name), method, 'begin', 'wait', 'notify', 'notifyAll', 'getClass', 'hashCode', 'toString', 'clone', 'finalize'])
  const constantText = (node: number, { tree }: JavaRepeatedRun['places'][number]['file']) => (CONSTANTS.has(tree.kind(node)) ? tree.textOf(node) : null)
  return facadeSteps(parameters.map(one => ({ name: one.name, settled: one.settled, constants: one.holes[0]!.nodes.map((node, at) => constantText(node, places[at]!.file)) })), taken)
}

/** Names of the interfaces and the class of the steps, which nothing that is imported may have. */
export function stepTypeNames({ required }: FacadeSteps): string[] { return [...required.slice(1).map(one => stepTypeName(one.name)), stepTypeName('last')] }

/** `declared`: of each parameter, as `Type name`. `thrown`: ` throws IOException`, or nothing. */
export interface StepsToWrite { readonly steps: FacadeSteps; readonly declared: readonly string[]; readonly names: readonly string[]; readonly method: string; readonly result: string; readonly thrown: string; readonly name: string }

/** The lines in the facade that take the steps: a method for the first, and for each other one an interface of what waits for it. */
export function stepLines({ steps: { required, optional }, declared, names, method, result, thrown, name }: StepsToWrite, indent: string): string[] {
  const inner = indent + indent, lastType = stepTypeName('last'), all = names.join(', ')
  const typeAfter = (at: number) => (at + 1 < required.length ? stepTypeName(required[at + 1]!.name) : lastType)
  const last = optional.length === 0 ? `() -> ${method}(${all})` : `new ${lastType}(${required.map(one => names[one.index]!).join(', ')})`
  const lambdas = `${required.slice(1).map(one => `${names[one.index]!} -> `).join('')}${last}`
  const [first] = required
  const does = `${result} ${method}()${thrown}`
  return [
    `${indent}${BEGINS}`, first ? `${indent}public ${typeAfter(0)} ${first.name}(${declared[first.index]!}) {` : `${indent}public ${lastType} begin() {`, `${inner}return ${lambdas};`, `${indent}}`, '',
    ...required.slice(1).flatMap((one, at) => [`${indent}/** Waits for ${one.name}. */`, `${indent}public interface ${stepTypeName(one.name)} {`, `${inner}${typeAfter(at + 1)} ${one.name}(${declared[one.index]!});`, `${indent}}`, '']),
    ...(optional.length === 0 ? [`${indent}/** All is said. */`, `${indent}public interface ${lastType} {`, `${inner}${does};`, `${indent}}`, ''] : [
      `${indent}/** All that has to be said is said; the rest has its usual value. */`, `${indent}public final class ${lastType} {`,
      ...required.map(one => `${inner}private final ${declared[one.index]!};`), ...optional.map(one => `${inner}private ${declared[one.index]!} = ${one.left!};`), '',
      `${inner}private ${lastType}(${required.map(one => declared[one.index]!).join(', ')}) {`, ...required.map(one => `${inner}${indent}this.${names[one.index]!} = ${names[one.index]!};`), `${inner}}`,
      ...optional.flatMap(one => ['', `${inner}/** ${one.left!.replaceAll('*/', '')} where it is not said. */`, `${inner}public ${lastType} ${one.name}(${declared[one.index]!}) {`, `${inner}${indent}this.${names[one.index]!} = ${names[one.index]!};`, `${inner}${indent}return this;`, `${inner}}`]),
      '', `${inner}public ${does} {`, `${inner}${indent}${result === 'void' ? '' : 'return '}${name}.this.${method}(${all});`, `${inner}}`, `${indent}}`, ''
    ])
  ]
}
