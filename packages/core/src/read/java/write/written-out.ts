import type { ClassSymbol } from '../../binding/symbols.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'

const WRITTEN = new Set(['java.io.Serializable', 'java.io.Externalizable'])

/**
 * Whether the project means objects of a class to be written out and read back by their fields: one of its own classes or interfaces
 * says so. What only a library's class says, as all of Swing's do, is not meant.
 */
export function isWrittenOut(symbol: ClassSymbol, { program: { hierarchy } }: Pick<BoundProgram, 'program'>): boolean {
  const own = [...hierarchy.ancestorsOf(symbol)].filter(one => one.source)
  return own.some(one => one.interfaces.some(parent => WRITTEN.has(parent.symbol.id)) || one.own('serialVersionUID').length > 0)
}

/** Refuses where one field more, or one less, would be part of what is written out. */
export function refuseWrittenOut(symbol: ClassSymbol, bound: Pick<BoundProgram, 'program'>): void {
  if (isWrittenOut(symbol, bound)) throw new Refused('serializable', `${symbol.name} is serializable, and its fields are part of what is written`)
}
