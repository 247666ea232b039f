import { lowerFirst, numberedName, upperFirst } from './names.js'

/** Names for what stands in the place of a switch. */
export interface SwitchNames {
  readonly contract: string
  readonly method: string
  /** A class for each case, in order. */
  readonly classes: readonly string[]
  /** A class for what no case is for, where nothing is done then. */
  readonly other: string
  /** What chooses, as a function and as a class, and the field that holds it. */
  readonly choose: string
  readonly chooser: string
  readonly field: string
}

/** `WIDE_BARGE` and `wide-barge` give `WideBarge`; no label gives `Other`. */
export function caseName(labels: readonly string[]): string {
  const [first] = labels
  if (first === undefined) return 'Other'
  const words = first.split(/[^\p{L}\p{N}]+/u).filter(word => word !== '')
  const name = words.map(word => (word.length > 1 && word === word.toUpperCase() ? word.charAt(0) + word.slice(1).toLowerCase() : upperFirst(word))).join('')
  return name === '' ? 'Empty' : /^\p{N}/u.test(name) ? `Case${name}` : name
}

/** Names by the member that the switch stands in (`tollFor`) and what it chooses by (`CraftKind`): `CraftKindToll`, `WideBargeToll`, `tollByCraftKind`. */
export function switchNames(member: string, over: string, cases: readonly (readonly string[])[], wanted: string | null, free: (name: string) => boolean): SwitchNames {
  const plain = member.replace(/^[#_]+/, '').replace(/^get(?=[A-Z])/, '').replace(/(?<=[a-z])(For|Of|By|From|To)$/, '')
  // `CRAFT_KIND` is a name for constants, not for a class.
  const kind = /^[\p{Lu}\p{N}_]*_[\p{Lu}\p{N}_]*$/u.test(over) ? caseName([over]) : over
  const word = upperFirst(plain)
  const given = new Set<string>()
  const name = (proposed: string): string => { const found = numberedName(proposed, one => free(one) && !given.has(one)); given.add(found); return found }
  const contract = wanted ?? name(`${kind}${word}`)
  given.add(contract)
  const classes = cases.map(labels => name(`${caseName(labels)}${word}`))
  const other = cases.some(labels => labels.length === 0) ? classes[cases.findIndex(labels => labels.length === 0)]! : name(`Other${word}`)
  const chooser = name(`${word}By${kind}`)
  return { contract, method: lowerFirst(member.replace(/^[#_]+/, '')), classes, other, choose: lowerFirst(chooser), chooser, field: `${lowerFirst(word)}By` }
}
