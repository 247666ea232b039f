import { listIn } from '../graph/lists.js'
import type { Finder } from './finding.js'
import { ancestryOf } from './ancestry.js'
import { atReference, filesOf, listed, plural } from './finding.js'

/** A library used in fewer files than this is no burden to replace. */
const FILES = 4

/** Third-party code that is used from many files of several modules. */
export const findLibraries: Finder = function* (survey) {
  const { model } = survey
  const uses = new Map<string, number[]>()
  for (let index = 0; index < model.references.length; index++) {
    if (model.references.to(index) >= 0 || model.types[model.references.from(index)]!.test || model.references.kind(index) === 'imports-only') continue
    const name = model.references.external(index)
    if (name === 'runtime' || name.startsWith('node:') || /^javax?\./.test(name)) continue
    const list = uses.get(name)
    if (list) list.push(index)
    else uses.set(name, [index])
  }
  for (const [name, list] of uses) {
    const files = new Set(list.map(at => model.references.at(at).file)), modules = new Set([...files].map(file => model.files[file]!.module))
    // What only computes is part of how the code is written, as the language itself is.
    if (files.size < FILES || modules.size < 2 || survey.reach.isPureExternal(model, list)) continue
    const evidence = list.map(at => atReference(survey, at, `${model.types[model.references.from(at)]!.name} uses ${model.references.member(at) || name}`))
    yield {
      kind: 'library-in-many-places', id: `library-in-many-places:${name}`, subject: name, about: 'external',
      sentence: `${name} is used in ${files.size} files of ${modules.size} modules, ${plural(list.length, 'reference')} in all.`, evidence, remedies: ['wrap-library'],
      cost: { references: list.length, files: files.size + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: files.size }
    }
  }
}

/** So many classes in so many members make a group. */
const GROUP = 3, MEMBERS = 3
/** Of a large code base the largest groups are told; the rest would hide them. */
const MOST = 25

/** Groups of classes that the same sequences of calls go over, in several members of several types. */
export const findAlwaysTogether: Finder = function* (survey) {
  const { model } = survey
  const isAncestor = ancestryOf(survey)
  const areKin = (a: number, b: number) => isAncestor(a, b) || isAncestor(b, a)
  // What each member goes over; dependencies come type by type.
  const called: { type: number; member: string; to: Map<number, number[]> }[] = []
  let members = new Map<string, typeof called[number]>(), at = -1
  for (const { from, to, references } of survey.dependencies) {
    if (from !== at) { members = new Map(); at = from }
    // What only holds values, and what a type inherits, is no object that a sequence of calls goes over; nor is a static.
    if (model.types[from]!.test || model.types[to]!.inert || model.types[to]!.kind === 'functions' || model.types[to]!.kind === 'record' || isAncestor(from, to)) continue
    for (const index of references) {
      const kind = model.references.kind(index)
      if ((kind !== 'calls' && kind !== 'creates') || !model.references.use(index)) continue
      const member = model.references.inMember(index)
      let entry = members.get(member)
      if (!entry) { members.set(member, entry = { type: from, member, to: new Map() }); called.push(entry) }
      listIn(entry.to, to).push(index)
    }
  }
  const triples = new Map<number, number[]>(), count = model.types.length
  called.forEach(({ to }, key) => {
    const list = [...to.keys()].sort((a, b) => a - b)
    // A member that goes over a great many is where things are put together, not a client of a group.
    if (list.length > 12) return
    for (let a = 0; a < list.length; a++) for (let b = a + 1; b < list.length; b++) for (let c = b + 1; c < list.length; c++) {
      if (areKin(list[a]!, list[b]!) || areKin(list[b]!, list[c]!) || areKin(list[a]!, list[c]!)) continue
      const triple = (list[a]! * count + list[b]!) * count + list[c]!
      const keys = triples.get(triple)
      if (keys) keys.push(key)
      else triples.set(triple, [key])
    }
  })
  const groups = new Map<string, Set<number>>()
  for (const [triple, keys] of triples) {
    if (keys.length < MEMBERS || new Set(keys.map(key => called[key]!.type)).size < 2) continue
    const group = groups.get(keys.join()) ?? new Set<number>()
    for (const type of [Math.floor(triple / count / count), Math.floor(triple / count) % count, triple % count]) group.add(type)
    groups.set(keys.join(), group)
  }
  // To be hidden behind one call, the same has to be called of each: what most of the places call counts.
  const repeated = [...groups].filter(([, group]) => group.size >= GROUP).flatMap(([places, group]) => {
    const types = [...group], keys = places.split(',').map(Number)
    const calledOf = (key: number, type: number) => called[key]!.to.get(type)!.map(at => model.references.member(at))
    const members = types.map(type => mostFrequent(keys.flatMap(key => [...new Set(calledOf(key, type))])))
    const same = keys.filter(key => types.every((type, at) => calledOf(key, type).includes(members[at]!)))
    return same.length < MEMBERS || new Set(same.map(key => called[key]!.type)).size < 2 ? [] : [{ types, members, keys: same }]
  }).sort((a, b) => b.types.length * b.keys.length - a.types.length * a.keys.length)
  const shown: (readonly number[])[] = []
  for (const { types, members, keys } of repeated) {
    if (shown.length === MOST) break
    if (shown.some(other => types.filter(one => other.includes(one)).length >= GROUP)) continue
    shown.push(types)
    const calls = types.map((type, at) => members[at] === '' ? `new ${model.types[type]!.name}` : `${model.types[type]!.name}.${members[at]}`)
    const evidence = keys.map(key => atReference(survey, called[key]!.to.get(types[0]!)!.find(at => model.references.member(at) === members[0])!, `${model.types[called[key]!.type]!.name}.${called[key]!.member} goes over all of them`))
    yield {
      kind: 'always-used-together', id: `always-used-together:${types.map(type => model.types[type]!.id).sort().join('+')}`, subject: model.types[types[0]!]!.id, about: 'type',
      sentence: `${listed(calls)} are called together in ${plural(keys.length, 'place')}, by ${plural(new Set(keys.map(key => called[key]!.type)).size, 'type')}.`,
      evidence, remedies: ['introduce-facade'], cost: { references: keys.length * types.length, files: filesOf(evidence) + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: keys.length }
    }
  }
}

/** The text that stands most often; of equally frequent ones the first. */
function mostFrequent(texts: readonly string[]): string {
  const counts = new Map<string, number>()
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1)
  return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best))[0]
}

/** A difference in stability that small changes do not make. */
const LESS_STABLE = 0.3

/** Dependencies from a module that much leans on to one that leans on much. */
export const findLessStable: Finder = function* (survey) {
  const { model } = survey
  const measures = new Map(survey.modules.map(module => [module.id, module]))
  const between = new Map<string, number[]>()
  for (const { from, to, references } of survey.dependencies) {
    const a = model.types[from]!, b = model.types[to]!
    if (a.test || b.test || a.module === b.module) continue
    const key = `${a.module}\0${b.module}`
    const list = between.get(key)
    if (list) list.push(...references)
    else between.set(key, [...references])
  }
  for (const [key, references] of between) {
    const [from, to] = key.split('\0').map(id => measures.get(id))
    if (!from || !to || from.instability === null || to.instability === null || to.instability - from.instability < LESS_STABLE || from.ca < 3) continue
    const evidence = references.map(at => atReference(survey, at, `${model.types[model.references.from(at)]!.name} uses ${model.types[model.references.to(at)]!.name}`))
    yield {
      kind: 'less-stable-dependency', id: `less-stable-dependency:${from.id}:${to.id}`, subject: from.id, about: 'module',
      sentence: `${plural(from.ca, 'type')} lean on ${from.id} (instability ${from.instability.toFixed(2)}), and it leans on ${to.id}, which changes more easily (${to.instability.toFixed(2)}).`,
      evidence, remedies: ['turn-dependency-round', 'move-type'], cost: { references: references.length, files: filesOf(evidence), steps: 1 }, frees: { modules: 0, types: 0, clients: 0 }
    }
  }
}

/** Set-up of so many objects, so many times. */
const OBJECTS = 3, TIMES = 3

/** What one place in a test builds: the references that create each type, in their order. */
interface TestPlace { readonly built: Map<number, number[]> }

/** Tests that build the same objects again and again. Where tests are functions without a name, as often as a file builds all of them. */
export const findRepeatedSetup: Finder = function* (survey) {
  const { model } = survey
  const places = new Map<string, TestPlace>()
  for (let index = 0; index < model.references.length; index++) {
    const from = model.types[model.references.from(index)]!, to = model.references.to(index)
    if (!from.test || to < 0 || model.types[to]!.test || model.types[to]!.inert || model.references.kind(index) !== 'creates') continue
    const key = `${from.index}.${model.references.inMember(index)}`
    const place = places.get(key) ?? { built: new Map<number, number[]>() }
    listIn(place.built, to).push(index)
    places.set(key, place)
  }
  const wide = [...places.values()].filter(({ built }) => built.size >= OBJECTS)
  const candidates = new Map<string, readonly number[]>()
  const consider = (types: readonly number[]) => { if (types.length >= OBJECTS) candidates.set(types.join(), types) }
  wide.forEach(({ built }, at) => {
    const all = [...built.keys()].sort((x, y) => x - y)
    consider(all)
    consider(all.filter(type => built.get(type)!.length >= TIMES))
    for (const other of wide.slice(at + 1, at + 60)) consider(all.filter(type => other.built.has(type)))
  })
  let best: { types: readonly number[]; setups: number[] } | undefined
  for (const types of candidates.values()) {
    const setups = wide.filter(({ built }) => types.every(type => built.has(type)))
      .flatMap(({ built }) => built.get(types[0]!)!.slice(0, Math.min(...types.map(type => built.get(type)!.length))))
    if (setups.length >= TIMES && (!best || types.length * setups.length > best.types.length * best.setups.length)) best = { types, setups }
  }
  if (!best) return
  const { types, setups } = best
  const evidence = setups.map(at => atReference(survey, at, `builds ${listed(types.map(type => model.types[type]!.name), 8)}`))
  yield {
    kind: 'repeated-test-setup', id: `repeated-test-setup:${types.map(type => model.types[type]!.id).join('+')}`, subject: model.types[types[0]!]!.id, about: 'type',
    sentence: `${listed(types.map(type => model.types[type]!.name), 6)} are built together ${setups.length} times in tests.`, evidence, remedies: ['builder-for-tests'],
    cost: { references: setups.length * types.length, files: filesOf(evidence) + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: setups.length }
  }
}
