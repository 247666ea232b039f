import { listIn } from '../graph/lists.js'
import { UnionFind } from '../graph/union-find.js'
import type { CodeModel, OwnUse } from '../model/code-model.js'

/** Methods of a class that belong together by the fields that they use. */
export interface MemberGroup {
  readonly methods: readonly string[]
  readonly fields: readonly string[]
}

/** How far the members of a class belong together. */
export interface Cohesion {
  /** Connected groups of methods over shared fields and calls (Hitz, Montazeri 1995); null without methods. */
  readonly lcom4: number | null
  /** Share of the pairs of public methods that use a field in common, directly or through calls (Bieman, Kang 1995); null below two. */
  readonly tcc: number | null
  /** Groups over shared fields alone, largest first; methods that use no field are in none. */
  readonly groups: readonly MemberGroup[]
  /** Calls from a method of one group to one of another: what speaks against dividing the class along them. */
  readonly between: readonly { readonly from: string; readonly to: string; readonly line: number; readonly column: number }[]
}

const NOTHING: Cohesion = { lcom4: null, tcc: null, groups: [], between: [] }

/** What is known of a model: the uses of own members by type, and the cohesion of the types that were asked for. */
const known = new WeakMap<CodeModel, { readonly uses: readonly (readonly OwnUse[])[]; readonly found: Map<number, Cohesion> }>()

/** Cohesion of one type, found once for a model. O(methods² + uses). */
export function cohesionOf(model: CodeModel, type: number): Cohesion {
  let about = known.get(model)
  if (!about) {
    const lists: OwnUse[][] = model.types.map(() => [])
    for (const use of model.ownUses) lists[use.type]!.push(use)
    known.set(model, about = { uses: lists, found: new Map() })
  }
  let found = about.found.get(type)
  if (!found) about.found.set(type, found = findCohesion(model, type, about.uses[type]!))
  return found
}

/** Groups of methods over shared fields, some fields passed over, which all may use; the largest first. O(methods + uses). */
export function memberGroups(model: CodeModel, type: number, passedOver: ReadonlySet<string>): readonly MemberGroup[] {
  cohesionOf(model, type)
  return findCohesion(model, type, known.get(model)!.uses[type]!.filter(one => !passedOver.has(one.member))).groups
}

function findCohesion(model: CodeModel, type: number, uses: readonly OwnUse[]): Cohesion {
  const { members, kind } = model.types[type]!
  if (kind !== 'class' && kind !== 'abstract-class') return NOTHING
  const methods = [...new Set(members.filter(one => !one.static && one.hasBody && !one.refuses && one.kind !== 'constructor' && one.kind !== 'field').map(one => one.name))]
  const fields = new Set(members.filter(one => one.kind === 'field' && !one.static && !one.hasBody).map(one => one.name))
  if (methods.length === 0) return NOTHING
  const isMethod = new Set(methods)
  const usedFields = new Map(methods.map(name => [name, new Set<string>()])), calls = new Map(methods.map(name => [name, new Set<string>()]))
  for (const { inMember, member } of uses) {
    if (!isMethod.has(inMember)) continue
    if (fields.has(member)) usedFields.get(inMember)!.add(member)
    else if (isMethod.has(member) && member !== inMember) calls.get(inMember)!.add(member)
  }
  const joined = groupsBy(methods, union => {
    for (const name of methods) {
      for (const field of usedFields.get(name)!) union(name, `.${field}`)
      for (const callee of calls.get(name)!) union(name, callee)
    }
  })
  const byFields = groupsBy(methods.filter(name => usedFields.get(name)!.size > 0), union => {
    for (const name of methods) for (const field of usedFields.get(name)!) union(name, `.${field}`)
  })
  const groups = byFields.map(names => ({ methods: names, fields: [...new Set(names.flatMap(name => [...usedFields.get(name)!]))].sort() }))
    .sort((a, b) => b.methods.length - a.methods.length || (a.methods[0]! < b.methods[0]! ? -1 : 1))
  const groupOf = new Map(groups.flatMap((group, index) => group.methods.map(name => [name, index] as const)))
  const between = uses.filter(({ inMember, member }) => isMethod.has(member) && groupOf.has(inMember) && groupOf.has(member) && groupOf.get(inMember) !== groupOf.get(member))
    .map(({ inMember, member, line, column }) => ({ from: inMember, to: member, line, column }))
  return { lcom4: joined.length, tcc: tightness(members.filter(one => one.public).map(one => one.name).filter(name => isMethod.has(name)), usedFields, calls), groups, between }
}

function groupsBy(names: readonly string[], connect: (union: (a: string, b: string) => void) => void): string[][] {
  const connected = new UnionFind<string>()
  connect((a, b) => connected.join(a, b))
  const groups = new Map<string, string[]>()
  for (const name of names) listIn(groups, connected.root(name)).push(name)
  return [...groups.values()]
}

function tightness(visible: readonly string[], usedFields: ReadonlyMap<string, ReadonlySet<string>>, calls: ReadonlyMap<string, ReadonlySet<string>>): number | null {
  const names = [...new Set(visible)]
  if (names.length < 2) return null
  const reached = names.map(name => {
    const fields = new Set<string>(), seen = new Set<string>([name]), open = [name]
    while (open.length > 0) {
      const at = open.pop()!
      for (const field of usedFields.get(at)!) fields.add(field)
      for (const callee of calls.get(at)!) if (!seen.has(callee)) { seen.add(callee); open.push(callee) }
    }
    return fields
  })
  let connected = 0
  for (let a = 0; a < names.length; a++) for (let b = a + 1; b < names.length; b++) if ([...reached[a]!].some(field => reached[b]!.has(field))) connected++
  return connected / (names.length * (names.length - 1) / 2)
}
