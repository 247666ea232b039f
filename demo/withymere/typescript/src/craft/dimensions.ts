/** Size of a craft in metres. */
export interface Dimensions {
  readonly length: number;
  readonly beam: number;
  readonly draught: number;
}

export function fits(craft: Dimensions, chamber: Dimensions): boolean {
  return craft.length <= chamber.length && craft.beam <= chamber.beam && craft.draught <= chamber.draught;
}

export function displacement(size: Dimensions): number {
  return Math.round(size.length * size.beam * size.draught * 0.85 * 100) / 100;
}
