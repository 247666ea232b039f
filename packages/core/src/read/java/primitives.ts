import { PrimitiveType } from '../binding/types.js'

/** Java's primitive types; ranks are the order in which numbers widen. */
export const BOOLEAN = new PrimitiveType('boolean', 0)
export const BYTE = new PrimitiveType('byte', 1)
export const SHORT = new PrimitiveType('short', 2)
export const CHAR = new PrimitiveType('char', 2.5)
export const INT = new PrimitiveType('int', 3)
export const LONG = new PrimitiveType('long', 4)
export const FLOAT = new PrimitiveType('float', 5)
export const DOUBLE = new PrimitiveType('double', 6)

export const PRIMITIVES: Readonly<Record<string, PrimitiveType>> = { boolean: BOOLEAN, byte: BYTE, short: SHORT, char: CHAR, int: INT, long: LONG, float: FLOAT, double: DOUBLE }
export const PRIMITIVE_BY_CODE: Readonly<Record<string, PrimitiveType>> = { Z: BOOLEAN, B: BYTE, S: SHORT, C: CHAR, I: INT, J: LONG, F: FLOAT, D: DOUBLE }

/** The classes that stand for primitives. */
export const BOXES: Readonly<Record<string, string>> = {
  boolean: 'java/lang/Boolean', byte: 'java/lang/Byte', short: 'java/lang/Short', char: 'java/lang/Character',
  int: 'java/lang/Integer', long: 'java/lang/Long', float: 'java/lang/Float', double: 'java/lang/Double'
}

/** Widening of primitives: JLS 5.1.2. */
export function widens(from: PrimitiveType, to: PrimitiveType): boolean {
  if (from === to) return true
  if (from === BOOLEAN || to === BOOLEAN || to === CHAR) return false
  return from === CHAR ? to.rank >= INT.rank : from.rank < to.rank
}

/** The type of an operation on two numbers: JLS 5.6. */
export function promoted(left: PrimitiveType, right: PrimitiveType): PrimitiveType {
  const rank = Math.max(left.rank, right.rank, INT.rank)
  return rank === DOUBLE.rank ? DOUBLE : rank === FLOAT.rank ? FLOAT : rank === LONG.rank ? LONG : INT
}
