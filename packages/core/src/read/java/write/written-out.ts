import type { ClassSymbol } from '../../binding/symbols.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'

/** Refuses where Java writes objects of a class out and reads them back by their fields: one more of them, or one less, would be part of that. */
export function refuseWrittenOut(symbol: ClassSymbol, { program: { hierarchy } }: BoundProgram): void {
  if ([...hierarchy.ancestorsOf(symbol)].some(one => one.id === 'java.io.Serializable')) throw new Refused('serializable', `${symbol.name} is serializable, and its fields are part of what is written`)
}
