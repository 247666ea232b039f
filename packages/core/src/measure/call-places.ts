/** Where an edge or effect stands: a reference, a use of an own member, an unresolved name, or nowhere (it follows from the language). */
export type Place = number
export const NOWHERE: Place = -1
const PLACE_KINDS = 3
export const referencePlace = (index: number): Place => index * PLACE_KINDS
export const ownUsePlace = (index: number): Place => index * PLACE_KINDS + 1
export const unresolvedPlace = (index: number): Place => index * PLACE_KINDS + 2
export function placeKind(place: Place): 'reference' | 'own-use' | 'unresolved' | 'nowhere' {
  return place < 0 ? 'nowhere' : (['reference', 'own-use', 'unresolved'] as const)[place % PLACE_KINDS]!
}
export function placeIndex(place: Place): number { return Math.floor(place / PLACE_KINDS) }

