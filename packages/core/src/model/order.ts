/** Orders text by UTF-16 code units: the same on every machine and in every locale. */
export function compareText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}
