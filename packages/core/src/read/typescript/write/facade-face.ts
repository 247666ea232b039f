import ts from 'typescript'
import type { FacadeSteps } from '../../write/facade-steps.js'
import { BEGINS, facadeSteps, stepTypeName } from '../../write/facade-steps.js'
import type { FacadeParts } from './facade-parts.js'
import type { FileStyle } from './style.js'

/** The steps in which a facade's method could be told its arguments. */
export function stepsOf({ collaborators, parameters }: FacadeParts, method: string): FacadeSteps {
  const taken = new Set([...collaborators.map(one => one.name), method, 'constructor', 'then', 'ready'])
  return facadeSteps(parameters.map(one => ({ name: one.name, settled: one.settled, constants: one.holes[0]!.nodes.map(constantText) })), taken)
}

function constantText(node: ts.Expression): string | null {
  const isConstant = ts.isStringLiteralLike(node) || ts.isNumericLiteral(node) || [ts.SyntaxKind.TrueKeyword, ts.SyntaxKind.FalseKeyword, ts.SyntaxKind.NullKeyword].includes(node.kind) || (ts.isIdentifier(node) && node.text === 'undefined')
  return isConstant ? node.getText() : null
}

/** `declared`: of each parameter, as `name: type`. `result`: what the method gives. */
export interface StepsToWrite { readonly steps: FacadeSteps; readonly declared: readonly string[]; readonly names: readonly string[]; readonly method: string; readonly result: string; readonly name: string }

/** The members of the facade that take the steps, and the interfaces of what follows each. */
export function stepsText({ steps: { required, optional }, declared, names, method, result, name }: StepsToWrite, { indent, lineEnd, semicolons }: FileStyle): { readonly members: readonly string[]; readonly types: string } {
  const end = semicolons ? ';' : '', inner = indent + indent
  const typeOf = (index: number) => declared[index]!.slice(names[index]!.length + 2)
  const typeAfter = (at: number) => (at + 1 < required.length ? `${name}${stepTypeName(required[at + 1]!.name)}` : `${name}${stepTypeName('last')}`)
  const all = names.join(', ')
  const last = optional.length === 0 ? `({ ${method}: () => this.${method}(${all}) })` : `this.ready(${required.map(one => names[one.index]!).join(', ')})`
  /** What the step at a place gives, as an expression. */
  const given = (at: number): string => (at + 1 >= required.length ? last : `({ ${required[at + 1]!.name}: ${names[required[at + 1]!.index]!} => ${given(at + 1)} })`)
  const returned = (text: string) => (text.startsWith('({') ? text.slice(1, -1) : text)
  const [first] = required
  const members = [
    first ? [`${indent}${BEGINS}`, `${indent}${first.name}(${declared[first.index]!}): ${typeAfter(0)} {`, `${inner}return ${returned(given(0))}${end}`, `${indent}}`]
      : [`${indent}${BEGINS}`, `${indent}begin(): ${name}${stepTypeName('last')} {`, `${inner}return ${returned(last)}${end}`, `${indent}}`],
    ...(optional.length === 0 ? [] : [[
      `${indent}private ready(${[...required.map(one => declared[one.index]!), ...optional.map(one => `${declared[one.index]!} = ${one.left!}`)].join(', ')}): ${name}${stepTypeName('last')} {`,
      `${inner}return {`,
      ...optional.map(one => `${inner}${indent}${one.name}: said => this.ready(${[...required, ...optional].map(other => (other === one ? 'said' : names[other.index]!)).join(', ')}),`),
      `${inner}${indent}${method}: () => this.${method}(${all})`, `${inner}}${end}`, `${indent}}`
    ]])
  ].map(lines => lines.join(lineEnd))
  const types = [
    ...required.slice(1).map((one, at) => [`/** Waits for ${one.name}. */`, `export interface ${name}${stepTypeName(one.name)} {`, `${indent}${one.name}(${declared[one.index]!}): ${typeAfter(at + 1)}${end}`, '}']),
    [
      optional.length === 0 ? '/** All is said. */' : '/** All that has to be said is said; the rest has its usual value. */', `export interface ${name}${stepTypeName('last')} {`,
      ...optional.flatMap(one => [`${indent}/** ${one.left!} where it is not said. */`, `${indent}${one.name}(${names[one.index]!}: ${typeOf(one.index)}): ${name}${stepTypeName('last')}${end}`]),
      `${indent}${method}(): ${result}${end}`, '}'
    ]
  ].map(lines => lines.join(lineEnd)).join(lineEnd + lineEnd)
  return { members, types }
}
