import { deflateRawSync, inflateRawSync } from 'node:zlib'
import type { ClassView, CycleLevel, CycleRow, CycleView, FindingRow, FindingView, LandView, ReferenceView, TypeRow } from '@hollowmoor/contract/views'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import { fabricOf } from '@hollowmoor/core/measure/rearrangement'
import { REFERENCE_KINDS } from '@hollowmoor/core/model/facts'
import type { Survey } from '@hollowmoor/core/survey'
import { dependenciesFrom } from '@hollowmoor/core/survey'
import type { TextOf } from './finding-views.js'
import type { StoredFinding } from './finding-views.js'
import { findingRows, storedEvidence, withLines } from './finding-views.js'
import { classView, cycleRows, cycleView, landView, typeRow } from './views.js'

/** A piece of a survey as it is stored: what one page needs. */
export interface SurveyPart {
  readonly name: string
  /** Deflated: the length of what follows as a 32-bit number, JSON, and references of `WIDTH` 32-bit numbers each where the page shows any. */
  readonly content: Uint8Array
}

/** Numbers of one stored reference: file, line, column, length, kind, from, to, member, whether only a type; names are places in the part's list. */
const WIDTH = 9
/** References of one dependency that are kept for a cycle: as many as its page shows. */
const SHOWN = 300

interface Named<T> { readonly view: T; readonly names: readonly string[] }
/** For each dependency of a cycle, where its references end. */
interface StoredCycle { readonly cycle: CycleView; readonly ends: readonly number[] }
/** Each collaborator, and where the references to it end. */
interface StoredClass { readonly type: ClassView; readonly collaborators: readonly (readonly [string, number])[] }

/** Parts are many and small, so that setting the compressor up must cost little. */
const SMALL = { level: 1, windowBits: 12, memLevel: 5, chunkSize: 2048 }, LARGE = { level: 1 }, LARGE_FROM = 100_000

function part(name: string, value: unknown, references: Int32Array = new Int32Array(0)): SurveyPart {
  const text = JSON.stringify(value), length = Buffer.byteLength(text)
  const bytes = Buffer.allocUnsafe(4 + length + references.byteLength)
  bytes.writeUInt32LE(length)
  bytes.write(text, 4)
  bytes.set(new Uint8Array(references.buffer, references.byteOffset, references.byteLength), 4 + length)
  return { name, content: deflateRawSync(bytes, bytes.length < LARGE_FROM ? SMALL : LARGE) }
}

/** What a part holds, and the bytes of its references. */
function opened<T>(content: Uint8Array): { value: T; references: Uint8Array } {
  const bytes = inflateRawSync(content), length = bytes.readUInt32LE()
  return { value: JSON.parse(bytes.toString('utf8', 4, 4 + length)) as T, references: bytes.subarray(4 + length) }
}

/** References as numbers, with the names that they speak of. */
class Packer {
  readonly names: string[] = []
  private readonly known = new Map<string, number>()

  constructor(private readonly survey: Survey) {}

  private name(text: string): number {
    let at = this.known.get(text)
    if (at === undefined) { at = this.names.length; this.names.push(text); this.known.set(text, at) }
    return at
  }

  pack(indices: readonly number[]): Int32Array<ArrayBuffer> {
    const { model } = this.survey
    const numbers = new Int32Array(indices.length * WIDTH)
    indices.forEach((index, row) => {
      const one = model.references.at(index)
      let at = row * WIDTH
      numbers[at++] = this.name(model.files[one.file]!.path)
      numbers[at++] = one.line
      numbers[at++] = one.column
      numbers[at++] = one.end - one.start
      numbers[at++] = REFERENCE_KINDS.indexOf(one.kind)
      numbers[at++] = this.name(model.types[one.from]!.id)
      numbers[at++] = this.name(one.to >= 0 ? model.types[one.to]!.id : one.external)
      numbers[at++] = this.name(one.member)
      numbers[at] = one.typeOnly ? 1 : 0
    })
    return numbers
  }
}

/** Types whose parts are packed at once, so that what else is asked need not wait for all. */
const SLICE = 400

/**
 * A slice of a survey in parts, one for each page that shows it; none after the last slice. The overview comes with the
 * last: where it is, all others are. Linear in the references of the slice.
 */
export function packSlice(survey: Survey, excluded: readonly string[], slice: number, textOf: TextOf): SurveyPart[] {
  const slices = Math.ceil(survey.model.types.length / SLICE)
  // Findings first: the cuts of cycles may still be looked for by other threads.
  if (slice === 0) return [...packFindings(survey, textOf), ...packCycles(survey)]
  if (slice <= slices) return packTypes(survey, (slice - 1) * SLICE, slice * SLICE, textOf)
  return slice === slices + 1 ? packOverview(survey, excluded, textOf) : []
}

/** A whole survey in parts. */
export function packSurvey(survey: Survey, excluded: readonly string[], textOf: TextOf): SurveyPart[] {
  const parts: SurveyPart[] = []
  for (let slice = 0; ; slice++) {
    const some = packSlice(survey, excluded, slice, textOf)
    if (some.length === 0 && slice > survey.model.types.length / SLICE + 1) return parts
    parts.push(...some)
  }
}

/** Findings in one part: most are a few hundred bytes, and a row of the database each would cost more than they hold. */
const FINDINGS = 50

/** Findings in their order, without the lines around their evidence, which are those of the files. */
function packFindings(survey: Survey, textOf: TextOf): SurveyPart[] {
  const parts = [part('findings', findingRows(survey, textOf))]
  let some: StoredFinding[] = []
  const store = () => { if (some.length > 0) parts.push(part(`findings:${parts.length - 1}`, some)); some = [] }
  for (const evidence of storedEvidence(survey)) {
    some.push(evidence)
    if (some.length === FINDINGS) store()
  }
  store()
  return parts
}

function packOverview(survey: Survey, excluded: readonly string[], textOf: TextOf): SurveyPart[] {
  return [
    part('fabric', fabricOf(survey.model, survey.dependencies, survey.verdicts)),
    part('types', survey.model.types.map(type => typeRow(survey, type.index))),
    part('land', landView(survey, excluded, textOf))
  ]
}

function packCycles(survey: Survey): SurveyPart[] {
  const rows = cycleRows(survey)
  const parts: SurveyPart[] = [part('cycles', rows)]
  for (const row of rows) {
    const cycle = cycleView(survey, row.key)
    if (!cycle) continue
    const found = { modules: survey.moduleCycles, files: survey.fileCycles, types: survey.typeCycles }[row.level].find(one => one.within === row.within && one.members[0] === row.members[0])!
    const packer = new Packer(survey)
    const indices: number[] = [], ends: number[] = []
    for (const dependency of found.dependencies) { indices.push(...dependency.references.slice(0, SHOWN)); ends.push(indices.length) }
    const references = packer.pack(indices)
    parts.push(part(`cycle:${row.key}`, { view: { cycle, ends }, names: packer.names } satisfies Named<StoredCycle>, references))
  }
  return parts
}

function packTypes(survey: Survey, start: number, end: number, textOf: TextOf): SurveyPart[] {
  const parts: SurveyPart[] = []
  for (const type of survey.model.types.slice(start, end)) {
    const view = classView(survey, type.id, [], textOf, false)
    if (!view) continue
    const held = new Map<string, Set<number>>()
    const hold = (to: string, references: readonly number[]): void => { const set = held.get(to) ?? new Set(); for (const at of references) set.add(at); held.set(to, set) }
    for (const joint of survey.joints[type.index]!) hold(joint.to >= 0 ? survey.model.types[joint.to]!.id : joint.external, joint.references)
    for (const { to, references } of dependenciesFrom(survey, type.index)) hold(survey.model.types[to]!.id, references)
    const packer = new Packer(survey)
    const indices: number[] = [], collaborators: [string, number][] = []
    for (const [to, list] of held) { indices.push(...[...list].sort((a, b) => a - b).slice(0, SHOWN)); collaborators.push([to, indices.length]) }
    const references = packer.pack(indices)
    // Its cycles are told by the list of all: a large one would be said again by each of its members.
    parts.push(part(`type:${type.id}`, { view: { type: { ...view, cycles: [] }, collaborators }, names: packer.names } satisfies Named<StoredClass>, references))
  }
  return parts
}

/** Gives one part of a stored survey by its name. */
export type PartReader = (name: string) => Promise<{ readonly content: Uint8Array } | undefined>

/** Answers what pages ask from a stored survey, each from the one part that it needs. Null where the parts do not tell. */
export class PackedSurvey {
  /** `textOf`: of a file as it is now, for the lines around a reference. */
  constructor(private readonly part: PartReader, private readonly textOf: (path: string) => string | undefined) {}

  private async json<T>(name: string): Promise<T | null> {
    const found = await this.part(name)
    return found ? opened<T>(found.content).value : null
  }

  land(): Promise<LandView | null> { return this.json('land') }
  findings(): Promise<FindingRow[] | null> { return this.json('findings') }
  async finding(id: string): Promise<FindingView | null> {
    const rows = await this.findings(), at = rows?.findIndex(row => row.id === id) ?? -1
    const some = at < 0 ? null : await this.json<StoredFinding[]>(`findings:${Math.floor(at / FINDINGS)}`)
    return some && { ...rows![at]!, evidence: withLines(some[at % FINDINGS]!, this.textOf) }
  }
  fabric(): Promise<Fabric | null> { return this.json('fabric') }
  cycles(): Promise<CycleRow[] | null> { return this.json('cycles') }
  types(): Promise<TypeRow[] | null> { return this.json('types') }
  async cycle(key: string): Promise<CycleView | null> { return (await this.json<Named<StoredCycle>>(`cycle:${key}`))?.view.cycle ?? null }
  /** Without remedies: those need the code, not what was measured of it. */
  async type(id: string): Promise<ClassView | null> {
    const found = await this.json<Named<StoredClass>>(`type:${id}`)
    return found && { ...found.view.type, cycles: (await this.cycles() ?? []).filter(row => row.level === 'types' && row.members.includes(id)) }
  }

  async references(level: CycleLevel, within: string, from: string, to: string): Promise<ReferenceView[] | null> {
    const row = (await this.cycles())?.find(one => one.level === level && one.within === within && one.members.includes(from) && one.members.includes(to))
    const found = row && await this.part(`cycle:${row.key}`)
    if (!found) return null
    const { value: { view: { cycle, ends }, names }, references } = opened<Named<StoredCycle>>(found.content)
    const at = cycle.dependencies.findIndex(one => one.from === from && one.to === to)
    return at < 0 ? null : this.views(references, names, at === 0 ? 0 : ends[at - 1]!, ends[at]!)
  }

  async jointReferences(type: string, collaborator: string): Promise<ReferenceView[] | null> {
    const found = await this.part(`type:${type}`)
    if (!found) return null
    const { value: { view: { collaborators }, names }, references } = opened<Named<StoredClass>>(found.content)
    const at = collaborators.findIndex(([to]) => to === collaborator)
    return at < 0 ? [] : this.views(references, names, at === 0 ? 0 : collaborators[at - 1]![1], collaborators[at]![1])
  }

  /** The references of a part from one place on to another. */
  private views(packed: Uint8Array, names: readonly string[], start: number, end: number): ReferenceView[] {
    const numbers = new Int32Array(packed.buffer.slice(packed.byteOffset, packed.byteOffset + packed.byteLength))
    const views: ReferenceView[] = []
    for (let row = start; row < end; row++) {
      const [file, line, column, length, kind, from, to, member, typeOnly] = numbers.subarray(row * WIDTH, (row + 1) * WIDTH) as unknown as number[]
      const path = names[file!]!
      const lines = (this.textOf(path) ?? '').split(/\r?\n/), first = Math.max(1, line! - 1)
      views.push({
        file: path, line: line!, column: column!, kind: REFERENCE_KINDS[kind!]!, from: names[from!]!, to: names[to!]!, member: names[member!]!, typeOnly: typeOnly === 1,
        excerpt: lines.slice(first - 1, line! + 1).map(one => one.slice(0, 240)), firstLine: first, mark: [column! - 1, column! - 1 + length!]
      })
    }
    return views
  }
}
