import type { ObservedValue } from '../../../model/observation.js'

const NUMBER = /^(-?(\d+(\.\d+)?([eE][+-]?\d+)?|Infinity)|NaN)$/

/** A value that was seen, as an expression; undefined where there is none for it. */
export function observedText(value: ObservedValue, text: (value: string) => string): string | undefined {
  const all = (values: readonly ObservedValue[]): string[] | undefined => {
    const written = values.map(one => observedText(one, text))
    return written.every(one => one !== undefined) ? written : undefined
  }
  switch (value.is) {
    case 'text': return text(value.text)
    case 'number': return NUMBER.test(value.text) ? value.text : undefined
    case 'bigint': return /^-?\d+$/.test(value.text) ? `${value.text}n` : undefined
    case 'boolean': return value.text === 'true' ? 'true' : 'false'
    case 'nothing': return value.text === 'null' ? 'null' : 'undefined'
    case 'date': return /^[\d, -]+$/.test(value.text) ? `new Date(${value.text})` : undefined
    case 'list': { const items = all(value.items); return items && `[${items.join(', ')}]` }
    case 'set': { const items = all(value.items); return items && `new Set([${items.join(', ')}])` }
    case 'map': {
      const keys = all(value.entries.map(([key]) => key)), values = all(value.entries.map(([, one]) => one))
      return keys && values && `new Map([${keys.map((key, at) => `[${key}, ${values[at]!}]`).join(', ')}])`
    }
    case 'record': {
      const values = all(value.fields.map(([, one]) => one))
      if (!values) return undefined
      const fields = value.fields.map(([name], at) => `${/^[A-Za-z_$][\w$]*$/.test(name) && name !== '__proto__' ? name : `[${text(name)}]`}: ${values[at]!}`)
      return fields.length === 0 ? '{}' : `{ ${fields.join(', ')} }`
    }
    default: return undefined
  }
}
