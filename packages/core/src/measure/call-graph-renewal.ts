import type { EffectCatalogue } from '../effect/catalogue.js'
import type { RowGraph } from '../graph/reachable-bits.js'
import type { CodeModel } from '../model/code-model.js'
import { same } from '../model/same-structure.js'
import { CallEdges } from './call-edges.js'
import type { CallGraph } from './call-graph.js'
import { rowsOfEdges } from './call-graph.js'
import type { Place } from './call-places.js'
import { placeIndex, placeKind, ownUsePlace, referencePlace, unresolvedPlace } from './call-places.js'
import { directOverridersOf, slotOverriders } from './slot-overriders.js'

/**
 * The call graph of a model that differs from an earlier one in what the code of some files does, not in what is declared:
 * the edges of their members are collected anew, those of all others taken over. Undefined where more has changed than that.
 * O(edges), without looking up any name outside the changed files.
 */
export function renewCallGraph(before: CallGraph, model: CodeModel, changedFiles: readonly number[], catalogueOf: (language: string) => EffectCatalogue): CallGraph | undefined {
  const earlier = before.model
  const isChanged = new Uint8Array(model.files.length)
  for (const file of changedFiles) isChanged[file] = 1
  if (!sameDeclarations(earlier, model, isChanged) || reachesAcross(earlier, isChanged) || reachesAcross(model, isChanged)) return undefined

  const slots = new Map(before.slots)
  const directOverriders = directOverridersOf(model, before)
  const edges = new CallEdges(model, before, slots, node => directOverriders.has(node), catalogueOf)
  const own = [blocksOf(earlier), blocksOf(model)] as const
  for (const type of model.types) if (isChanged[type.file] === 1) edges.addWithin(type)
  for (const file of changedFiles) {
    const { references, ownUses, unresolved } = own[1]
    edges.addReferences(references[file]!, references[file + 1]!)
    edges.addOwnUses(ownUses[file]!, ownUses[file + 1]!)
    edges.addUnresolved(unresolved[file]!, unresolved[file + 1]!)
  }
  const { nodeCount, nodeType, nodeName, firstNode, names, members } = before
  const fresh = rowsOfEdges(nodeCount, edges)
  const isFresh = Uint8Array.from(nodeType, type => isChanged[model.types[type]!.file]!)
  const placeNow = movedPlaces(earlier, ...own)
  const joined = <Rows extends RowGraph & { readonly places: Int32Array }>(old: Rows, now: Rows) => joinRows(isFresh, old, now, placeNow)
  const plain = joined(before.plain, fresh.plain), slotCalls = joined(before.slotCalls, fresh.slotCalls), effects = joined(before.effects, fresh.effects)
  return {
    model, nodeCount, nodeType, nodeName, firstNode, names, members, slots, nodeOf: before.nodeOf,
    plain: plain.rows,
    slotCalls: { ...slotCalls.rows, holds: slotCalls.column(before.slotCalls.holds, fresh.slotCalls.holds) },
    effects: { ...effects.rows, plugged: effects.column(before.effects.plugged, fresh.effects.plugged) },
    overriders: slots.size === before.slots.size ? before.overriders : slotOverriders(model, before, slots, directOverriders)
  }
}

/** Whether types, members, what overrides what, and what types extend and implement are as they were. */
function sameDeclarations(before: CodeModel, after: CodeModel, isChanged: Uint8Array): boolean {
  const sameFiles = before.files.length === after.files.length && before.files.every(({ path, language, test }, at) => path === after.files[at]!.path && language === after.files[at]!.language && test === after.files[at]!.test)
  if (!sameFiles || before.types.length !== after.types.length || before.overrides.length !== after.overrides.length) return false
  for (const type of after.types) {
    const old = before.types[type.index]!
    if (old.id !== type.id || old.file !== type.file) return false
    if (isChanged[type.file] === 1 && !(old.kind === type.kind && same(old.members, type.members))) return false
  }
  if (!before.overrides.every(({ type, base, member }, at) => { const now = after.overrides[at]!; return now.type === type && now.base === base && now.member === member })) return false
  const [old, now] = [before, after].map(model => ancestry(model, isChanged))
  return same(old, now)
}

/** Who extends and implements what, in the changed files. */
function ancestry({ references }: CodeModel, isChanged: Uint8Array): (number | string)[] {
  const found: (number | string)[] = []
  for (let at = 0; at < references.length; at++) {
    if (isChanged[references.file(at)] === 0) continue
    const kind = references.kind(at)
    if (kind === 'extends' || kind === 'implements') found.push(kind, references.from(at), references.to(at), references.external(at))
  }
  return found
}

/** Whether code in a changed file stands in a type of one that has not changed, or the other way round, as where a declaration is spread over files. */
function reachesAcross({ references, ownUses, unresolved, types }: CodeModel, isChanged: Uint8Array): boolean {
  const changes = Uint8Array.from(types, type => isChanged[type.file]!)
  for (let at = 0; at < references.length; at++) if (changes[references.from(at)] !== isChanged[references.file(at)]) return true
  return ownUses.some(({ type, file }) => changes[type] !== isChanged[file]) || unresolved.some(({ from, file }) => from >= 0 && changes[from] !== isChanged[file])
}

/** Where the references, own uses and unresolved names of each file begin, and at the end where the last file's end. */
interface Blocks { readonly references: Int32Array; readonly ownUses: Int32Array; readonly unresolved: Int32Array }

function blocksOf({ files, references, ownUses, unresolved }: CodeModel): Blocks {
  const starts = (length: number, fileAt: (at: number) => number) => {
    const found = new Int32Array(files.length + 1)
    for (let at = 0; at < length; at++) found[fileAt(at) + 1]!++
    for (let file = 0; file < files.length; file++) found[file + 1]! += found[file]!
    return found
  }
  return {
    references: starts(references.length, at => references.file(at)),
    ownUses: starts(ownUses.length, at => ownUses[at]!.file),
    unresolved: starts(unresolved.length, at => unresolved[at]!.file)
  }
}

/** Gives the place in the model of now of one in the model before, in a file that has not changed. */
function movedPlaces({ references, ownUses, unresolved }: CodeModel, old: Blocks, now: Blocks): (place: Place) => Place {
  return place => {
    const index = placeIndex(place)
    switch (placeKind(place)) {
      case 'reference': { const file = references.file(index); return referencePlace(index + now.references[file]! - old.references[file]!) }
      case 'own-use': { const { file } = ownUses[index]!; return ownUsePlace(index + now.ownUses[file]! - old.ownUses[file]!) }
      case 'unresolved': { const { file } = unresolved[index]!; return unresolvedPlace(index + now.unresolved[file]! - old.unresolved[file]!) }
      default: return place
    }
  }
}

/** Rows of which some nodes' come from `fresh`, the others' from `old` with their places moved; `column` joins a further column the same way. */
function joinRows(isFresh: Uint8Array, old: RowGraph & { readonly places: Int32Array }, fresh: RowGraph & { readonly places: Int32Array }, placeNow: (place: Place) => Place): {
  readonly rows: RowGraph & { readonly places: Int32Array }; column(before: Uint8Array, now: Uint8Array): Uint8Array
} {
  const count = isFresh.length
  const starts = new Int32Array(count + 1)
  for (let node = 0; node < count; node++) {
    const { starts: own } = isFresh[node] === 1 ? fresh : old
    starts[node + 1] = starts[node]! + own[node + 1]! - own[node]!
  }
  const targets = new Int32Array(starts[count]!), places = new Int32Array(starts[count]!)
  for (let node = 0; node < count; node++) {
    const source = isFresh[node] === 1 ? fresh : old
    const first = source.starts[node]!, end = source.starts[node + 1]!
    for (let from = first, to = starts[node]!; from < end; from++, to++) {
      targets[to] = source.targets[from]!
      places[to] = source === fresh ? source.places[from]! : placeNow(source.places[from]!)
    }
  }
  return {
    rows: { starts, targets, places },
    column: (before, now) => {
      const values = new Uint8Array(starts[count]!)
      for (let node = 0; node < count; node++) {
        const source = isFresh[node] === 1 ? fresh : old
        const column = source === fresh ? now : before, end = source.starts[node + 1]!
        for (let from = source.starts[node]!, to = starts[node]!; from < end; from++, to++) values[to] = column[from]!
      }
      return values
    }
  }
}
