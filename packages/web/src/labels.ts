export { labelOf } from '@hollowmoor/contract/labels'

/** A count with its noun: `1 cycle`, `2 cycles`. */
export function counted(count: number, noun: string, plural = `${noun}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? noun : plural}`
}

/** A long name with its middle left out at word humps, its end kept. */
export function shortened(name: string, most: number): string {
  if (name.length <= most) return name
  if (/^[a-z][\w]*(\.[a-z]\w*)+$/.test(name)) {
    // Of a package the end tells most.
    const parts = name.split('.')
    while (parts.length > 1 && parts.join('.').length + 2 > most) parts.shift()
    return `…${parts.join('.')}`
  }
  const words = name.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z0-9]+|./g) ?? [name]
  let end = ''
  while (words.length > 1 && (words[words.length - 1]! + end).length < most * 0.6) end = words.pop()! + end
  let start = ''
  while (words.length > 0 && (start + words[0]! + end).length < most) start += words.shift()!
  return words.length === 0 ? start + end : `${start || name.slice(0, Math.max(1, most - end.length - 1))}…${end}`
}

export const KIND_WORDS: Record<string, string> = {
  'class': 'class', 'abstract-class': 'abstract class', 'interface': 'interface', 'enum': 'enum', 'record': 'record', 'alias': 'type alias', 'functions': 'functions of a file'
}
