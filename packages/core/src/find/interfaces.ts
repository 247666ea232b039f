import { listIn } from '../graph/lists.js'
import { UnionFind } from '../graph/union-find.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Finder, Finding } from './finding.js'
import { atDeclaration, atReference, filesOf, listed, plural } from './finding.js'

/** Fewer public members than this are no burden to a client. */
const FAT = 8
/** A role of one member is too small to be worth an interface of its own. */
const FEWEST_IN_ROLE = 2

/** Clients of a type that use the same members, and the members. */
export interface ClientGroup { readonly clients: readonly number[]; readonly members: readonly string[] }

const groupsKnown = new WeakMap<Survey, Map<number, ClientGroup[]>>()

/** Product clients of a type, grouped by members that they use in common; most members first. Found once for a survey, linear in the uses. */
export function clientGroups(survey: Survey, type: number): ClientGroup[] {
  let known = groupsKnown.get(survey)
  if (!known) groupsKnown.set(survey, known = new Map())
  let groups = known.get(type)
  if (!groups) known.set(type, groups = findGroups(survey, type))
  return groups
}

function findGroups(survey: Survey, type: number): ClientGroup[] {
  const { model } = survey
  const wanted = new Set(model.types[type]!.members.filter(one => one.public && !one.static && one.kind !== 'constructor').map(one => one.name))
  if (wanted.size === 0) return []
  const uses: { client: number; member: string }[] = []
  const connected = new UnionFind<string>()
  for (const { from, references } of dependenciesOn(survey, type)) {
    if (model.types[from]!.test) continue
    // Who extends or implements it is no client of its parts.
    if (references.some(at => { const kind = model.references.kind(at); return kind === 'extends' || kind === 'implements' })) continue
    let first = ''
    for (const at of references) {
      const member = model.references.member(at)
      if (!wanted.has(member)) continue
      if (first === '') { first = member; uses.push({ client: from, member }) }
      connected.join(first, member)
    }
  }
  const clients = new Map<string, number[]>(), members = new Map<string, string[]>()
  for (const { client, member } of uses) listIn(clients, connected.root(member)).push(client)
  for (const member of connected.items()) listIn(members, connected.root(member)).push(member)
  return [...clients].map(([root, list]) => ({ clients: list.sort((a, b) => a - b), members: members.get(root)!.sort() }))
    .sort((a, b) => b.members.length - a.members.length || a.clients[0]! - b.clients[0]!)
}

/** Types whose clients use separate parts of them; and abstractions of which most clients use a small part. */
export const findFatInterfaces: Finder = function* (survey) {
  for (const type of survey.model.types) {
    if (type.test || type.inert || type.kind === 'functions' || type.kind === 'enum') continue
    const members = type.members.filter(one => one.public && !one.static && (one.kind === 'method' || one.kind === 'getter'))
    if (members.length < FAT) continue
    const roles = clientGroups(survey, type.index).filter(group => group.members.length >= FEWEST_IN_ROLE)
    if (roles.length < 2) continue
    const name = (client: number) => survey.model.types[client]!.name
    const evidence = roles.flatMap(role => role.clients.flatMap(client => {
      const first = dependenciesOn(survey, type.index).find(one => one.from === client)!.references.find(at => role.members.includes(survey.model.references.member(at)))!
      return [atReference(survey, first, `${name(client)} uses ${listed(role.members)}`)]
    }))
    const clients = roles.reduce((sum, role) => sum + role.clients.length, 0)
    yield {
      kind: 'fat-interface', id: `fat-interface:${type.id}`, subject: type.id, about: 'type',
      sentence: `${type.name} has ${members.length} public members, and its clients fall into ${roles.length} groups that use separate ones: ${roles.slice(0, 3).map(role => `${listed(role.clients.map(name), 2)} ${role.clients.length === 1 ? 'uses' : 'use'} ${listed(role.members, 3)}`).join('; ')}.`,
      evidence, remedies: [type.kind === 'interface' ? 'split-interface' : 'extract-interface'],
      cost: { references: clients, files: filesOf(evidence) + 1, steps: roles.length }, frees: { modules: 0, types: 0, clients }
    }
  }
}

/** Members of an abstraction that an implementation leaves empty or only throws from, where another does something. */
export const findRefusedMembers: Finder = function* (survey) {
  const { model } = survey
  const refused = new Map<string, { type: number; base: number; members: Set<string> }>()
  const works = new Set(model.overrides.filter(({ type, member }) => model.types[type]!.members.some(one => one.name === member && one.hasBody && !one.refuses)).map(({ base, member }) => `${base}.${member}`))
  for (const { type, base, member } of model.overrides) {
    if (model.types[type]!.test || !works.has(`${base}.${member}`)) continue
    const own = model.types[type]!.members.filter(one => one.name === member)
    const above = model.types[base]!.members.find(one => one.name === member)
    if (!own.every(one => one.refuses) || !above || above.hasBody) continue
    const key = `${type}.${base}`
    const entry = refused.get(key) ?? { type, base, members: new Set<string>() }
    entry.members.add(member)
    refused.set(key, entry)
  }
  for (const { type, base, members } of refused.values()) {
    const { id, name } = model.types[type]!
    const names = [...members].sort()
    yield {
      kind: 'refused-member', id: `refused-member:${id}:${model.types[base]!.id}`, subject: id, about: 'type',
      sentence: `${name} has to answer ${listed(names)} because ${model.types[base]!.name} asks for ${names.length === 1 ? 'it' : 'them'}, and leaves ${names.length === 1 ? 'it' : 'them'} empty or only throws.`,
      evidence: names.map(member => atDeclaration(survey, type, member, `${name}.${member} does nothing or throws`)), remedies: ['split-interface'],
      cost: { references: names.length, files: 2, steps: 1 }, frees: { modules: 0, types: 0, clients: 1 }
    }
  }
}

/** Shared members that make two classes one shape. */
const FEWEST_SHARED = 3
const MOST_OF_THEM = 0.6
/** What very different classes have in common. */
const CLOSING = new Set(['close', 'dispose'])

/** Classes with the same public methods and no abstraction in common, and those methods. */
export interface SameShape { readonly types: readonly number[]; readonly members: readonly string[] }

const shapesKnown = new WeakMap<Survey, readonly SameShape[]>()

/** Groups of classes of one shape; found once for a survey. */
export function sameShapes(survey: Survey): readonly SameShape[] {
  let known = shapesKnown.get(survey)
  if (!known) shapesKnown.set(survey, known = [...shapesOf(survey)])
  return known
}

export const findSameShape: Finder = survey => sameShapes(survey).map(one => sameShape(survey, one.types, one.members))

function* shapesOf(survey: Survey): Generator<SameShape> {
  const { model } = survey
  const parents: Set<number>[] = model.types.map(() => new Set())
  for (const { from, to, references } of survey.dependencies) if (references.some(at => ['extends', 'implements'].includes(model.references.kind(at)))) parents[from]!.add(to)
  const hasExternalBase = new Set<number>()
  for (let index = 0; index < model.references.length; index++) if (model.references.to(index) < 0 && model.references.kind(index) === 'extends') hasExternalBase.add(model.references.from(index))
  const shapes = model.types.map(type => (type.kind !== 'class' || type.test || type.inert ? [] : type.members
    .filter(one => one.public && !one.static && one.kind === 'method' && !['toString', 'equals', 'hashCode', 'compareTo', 'toJSON'].includes(one.name)).map(one => `${one.name}${one.signature}`)))
  const having = new Map<string, number[]>()
  shapes.forEach((shape, type) => { for (const member of new Set(shape)) { const list = having.get(member); if (list) list.push(type); else having.set(member, [type]) } })
  const done = new Set<string>()
  for (const type of model.types) {
    const shape = new Set(shapes[type.index]!)
    if (shape.size < FEWEST_SHARED) continue
    const shared = new Map<number, number>()
    for (const member of shape) { const all = having.get(member)!; if (all.length <= 40) for (const other of all) if (other !== type.index) shared.set(other, (shared.get(other) ?? 0) + 1) }
    const alike = [...shared].filter(([other, count]) => count >= FEWEST_SHARED && count >= MOST_OF_THEM * Math.max(shape.size, new Set(shapes[other]!).size) &&
      ![...parents[type.index]!].some(parent => parents[other]!.has(parent)) && !parents[type.index]!.has(other) && !parents[other]!.has(type.index) && !(hasExternalBase.has(type.index) && hasExternalBase.has(other))).map(([other]) => other)
    const group = [type.index, ...alike].sort((a, b) => a - b)
    if (group.length < 2 || group.some(one => done.has(String(one)))) continue
    const common = [...shape].filter(member => group.every(one => shapes[one]!.includes(member))).map(member => member.slice(0, member.indexOf('(')))
    // That both can be closed makes them alike only beside something of their own.
    if (common.filter(name => !CLOSING.has(name)).length < FEWEST_SHARED - 1) continue
    for (const one of group) done.add(String(one))
    yield { types: group, members: common }
  }
}

function sameShape(survey: Survey, group: readonly number[], common: readonly string[]): Finding {
  const { model } = survey
  const names = group.map(one => model.types[one]!.name)
  return {
    kind: 'same-shape', id: `same-shape:${group.map(one => model.types[one]!.id).join('+')}`, subject: model.types[group[0]!]!.id, about: 'type',
    sentence: `${listed(names)} have the same ${listed(common)} and no abstraction in common.`,
    evidence: group.map(one => atDeclaration(survey, one, common[0]!, `${model.types[one]!.name} has ${plural(common.length, 'of them', 'of them')}`)), remedies: ['shared-interface'],
    cost: { references: group.length, files: group.length + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: 1 }
  }
}
