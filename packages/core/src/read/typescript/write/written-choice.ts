import ts from 'typescript'
import { numberedName } from '../../write/names.js'
import type { SwitchNames } from '../../write/switch-names.js'
import type { FoundSwitch } from './found-switches.js'
import type { FileStyle } from './style.js'

/** What chooses among the classes of a switch, to be written behind them. */
export interface ChoiceToWrite {
  readonly found: FoundSwitch
  readonly names: SwitchNames
  /** The type of what is looked at. */
  readonly kind: string
  /** Whether there is a class for each value of that type. */
  readonly isTotal: boolean
  /** Whether one more value is to be an error until it has a class, as it is one where it stands. */
  readonly asksForAll: boolean
  /** `export `, or nothing where only the file itself asks for it. */
  readonly exported: string
  /** Whether the file has no such name yet. */
  readonly free: (name: string) => boolean
  /** A label as the file names it. */
  readonly nameOf: (label: ts.Expression) => string
}

/** What is looked at, as what chooses calls it. */
export function kindWord({ isByClass }: Pick<FoundSwitch, 'isByClass'>): string { return isByClass ? 'thing' : 'kind' }

/** The objects of the classes, and the function that gives one of them. */
export function writtenChoice(choice: ChoiceToWrite, style: FileStyle): string {
  const { found, names, kind, isTotal, exported, free } = choice, { lineEnd, indent, semicolons } = style, end = semicolons ? ';' : ''
  const other = numberedName('OTHER', free), { known, body } = found.isByClass ? byClass(choice, other, style) : byValue(choice, other, style)
  return [
    '', ...known, ...(isTotal ? [] : [`const ${other} = new ${names.other}()${end}`]), '',
    `/** Chooses by ${found.over}: for another one there is another class, and one more line ${found.isByClass ? 'here' : 'above'}. */`,
    `${exported}function ${names.choose}(${kindWord(found)}: ${kind}): ${names.contract} {`, ...body.map(line => `${indent}${line}${end}`), '}', ''
  ].join(lineEnd)
}

interface Chosen { readonly known: readonly string[]; readonly body: readonly string[] }

/** A table of what there is for each value. */
function byValue({ found: { cases }, names, kind, isTotal, asksForAll, free, nameOf }: ChoiceToWrite, other: string, { indent, semicolons, quote }: FileStyle): Chosen {
  const table = numberedName('KNOWN', free), end = semicolons ? ';' : ''
  const entries = cases.flatMap((one, at) => one.labels.map(label => ({ label, value: `new ${names.classes[at]!}()` })))
  const lines = (list: readonly string[]) => list.map((line, at) => `${indent}${line}${at < list.length - 1 ? ',' : ''}`)
  const key = (label: ts.Expression) => (!ts.isStringLiteralLike(label) ? `[${nameOf(label)}]` : /^[A-Za-z_$][\w$]*$/.test(label.text) ? label.text : label.getText())
  // A record of all kinds does not compile when there is one more; a map serves where there is a class for any other.
  return asksForAll
    ? { known: [`const ${table}: Readonly<Record<${kind}, ${names.contract}>> = {`, ...lines(entries.map(({ label, value }) => `${key(label)}: ${value}`)), `}${end}`], body: [`return ${table}[kind]${isTotal ? '' : ` ?? ${other}`}`] }
    : { known: [`const ${table}: ReadonlyMap<${kind}, ${names.contract}> = new Map<${kind}, ${names.contract}>([`, ...lines(entries.map(({ label, value }) => `[${ts.isStringLiteralLike(label) ? quote + label.text + quote : nameOf(label)}, ${value}]`)), `])${end}`], body: [`return ${table}.get(kind) ?? ${other}`] }
}

/** Classes are asked for one after the other, as they were: an object may be of several. */
function byClass({ found, names, free, nameOf }: ChoiceToWrite, other: string, { semicolons }: FileStyle): Chosen {
  const { cases } = found, end = semicolons ? ';' : ''
  const told = cases.flatMap((one, at) => (one.labels.length === 0 ? [] : [{ labels: one.labels, name: names.classes[at]!, held: numberedName(constantName(names.classes[at]!), free) }]))
  return {
    known: told.map(({ name, held }) => `const ${held} = new ${name}()${end}`),
    body: [...told.map(({ labels, held }) => `if (${labels.map(label => `${kindWord(found)} instanceof ${nameOf(label)}`).join(' || ')}) return ${held}`), `return ${other}`]
  }
}

/** `BARGE_DUE` for `BargeDue`. */
function constantName(name: string): string { return name.replace(/(?<=[a-z\d])(?=[A-Z])/g, '_').toUpperCase() }
