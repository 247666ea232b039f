import type { ObservedValue } from '../../../model/observation.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'

const WHOLE = /^-?\d+$/
const BOXED: ReadonlyMap<string, string> = new Map([['java.lang.Integer', 'int'], ['java.lang.Long', 'long'], ['java.lang.Double', 'double'], ['java.lang.Float', 'float'], ['java.lang.Byte', 'byte'], ['java.lang.Short', 'short'], ['java.lang.Boolean', 'boolean'], ['java.lang.Character', 'char']])

/** How a value that was seen is compared: what is expected, and what of the call is compared with it. */
export interface Expected {
  readonly how: 'equal' | 'null' | 'true' | 'false' | 'decimal'
  readonly text: string
  readonly actual: (call: string) => string
}

const itself = (call: string) => call

/** A value that a method of a type was seen to give; undefined where it cannot be compared. `enumName`: an enum as it is called in the file. */
export function expectedText(value: ObservedValue, type: Type, enumName: (symbol: ClassSymbol) => string): Expected | undefined {
  const isPrimitive = type.tag === 'primitive', id = type.tag === 'class' ? type.symbol.id : ''
  const base = isPrimitive ? type.name : BOXED.get(id)
  const boxed = (literal: string) => (isPrimitive ? literal : `(Object) ${literal.startsWith('(') ? `(${literal})` : literal}`)
  switch (value.is) {
    case 'nothing': return { how: 'null', text: 'null', actual: itself }
    case 'boolean':
      if (base === 'boolean' && isPrimitive) return { how: value.text === 'true' ? 'true' : 'false', text: '', actual: itself }
      return base === 'boolean' ? { how: 'equal', text: value.text === 'true' ? 'Boolean.TRUE' : 'Boolean.FALSE', actual: itself } : shown(value.text)
    case 'number': {
      if (base === undefined || base === 'boolean' || base === 'char') return shown(value.text)
      if (base === 'double' || base === 'float') {
        const literal = decimal(value.text, base)
        return literal === undefined ? undefined : isPrimitive ? { how: 'decimal', text: literal, actual: itself } : { how: 'equal', text: boxed(literal), actual: itself }
      }
      if (!WHOLE.test(value.text)) return undefined
      const literal = base === 'long' ? `${value.text}L` : base === 'int' ? value.text : `(${base}) ${value.text}`
      return { how: 'equal', text: boxed(literal), actual: itself }
    }
    case 'character': return base === 'char' ? { how: 'equal', text: isPrimitive ? quotedCharacter(value.text) : `(Object) ${quotedCharacter(value.text)}`, actual: itself } : shown(value.text)
    case 'text': return id === 'java.lang.String' ? { how: 'equal', text: quoted(value.text), actual: itself } : shown(value.text)
    case 'constant': {
      if (type.tag !== 'class' || value.text.slice(0, value.text.lastIndexOf('.')) !== type.symbol.id) return shown(value.text.slice(value.text.lastIndexOf('.') + 1))
      const name = value.text.slice(value.text.lastIndexOf('.') + 1)
      return /^\w+$/.test(name) ? { how: 'equal', text: `${enumName(type.symbol)}.${name}`, actual: itself } : undefined
    }
    case 'shown': {
      if (type.tag !== 'array') return shown(value.text)
      return { how: 'equal', text: quoted(value.text), actual: call => (type.element.tag === 'array' ? `Arrays.deepToString(${call})` : `Arrays.toString(${call})`) }
    }
    default: return undefined
  }
}

/** What an object says of itself. */
function shown(text: string): Expected { return { how: 'equal', text: quoted(text), actual: call => `String.valueOf(${call})` } }

function decimal(text: string, base: 'double' | 'float'): string | undefined {
  const box = base === 'double' ? 'Double' : 'Float'
  if (text === 'NaN') return `${box}.NaN`
  if (text === 'Infinity') return `${box}.POSITIVE_INFINITY`
  if (text === '-Infinity') return `${box}.NEGATIVE_INFINITY`
  return /^-?\d+(\.\d+)?([eE]-?\d+)?$/.test(text) ? (base === 'float' ? `${text}f` : text) : undefined
}

export function quoted(text: string): string { return `"${escaped(text).replaceAll('"', '\\"')}"` }
function quotedCharacter(text: string): string { return `'${escaped(text).replaceAll("'", "\\'")}'` }

function escaped(text: string): string {
  return text.replaceAll('\\', '\\\\').replaceAll('\n', '\\n').replaceAll('\r', '\\r').replaceAll('\t', '\\t')
    // What has no place in a line is written by its number.
    .replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029\ud800-\udfff]/g, one => `\\u${one.charCodeAt(0).toString(16).padStart(4, '0')}`)
}
