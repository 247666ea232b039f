import type { Finder } from './finding.js'
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
  // What each member goes over; dependencies come type by type.
  const called: { type: number; member: string; to: Map<number, number> }[] = []
  let members = new Map<string, typeof called[number]>(), at = -1
  for (const { from, to, references } of survey.dependencies) {
    if (from !== at) { members = new Map(); at = from }
    if (model.types[from]!.test || model.types[to]!.inert || model.types[to]!.kind === 'functions') continue
    for (const index of references) {
      const kind = model.references.kind(index)
      if ((kind !== 'calls' && kind !== 'calls-static' && kind !== 'creates') || !model.references.use(index)) continue
      const member = model.references.inMember(index)
      let entry = members.get(member)
      if (!entry) { members.set(member, entry = { type: from, member, to: new Map() }); called.push(entry) }
      if (!entry.to.has(to)) entry.to.set(to, index)
    }
  }
  const triples = new Map<number, number[]>(), count = model.types.length
  called.forEach(({ to }, key) => {
    const list = [...to.keys()].sort((a, b) => a - b)
    // A member that goes over a great many is where things are put together, not a client of a group.
    if (list.length > 12) return
    for (let a = 0; a < list.length; a++) for (let b = a + 1; b < list.length; b++) for (let c = b + 1; c < list.length; c++) {
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
  const weight = ([members, group]: [string, Set<number>]) => group.size * (members.match(/,/g)?.length ?? 0)
  const told = [...groups].map(one => ({ one, weight: weight(one) })).sort((a, b) => b.weight - a.weight).map(({ one }) => one)
  const shown: Set<number>[] = []
  for (const [members, group] of told) {
    if (shown.length === MOST) break
    if (group.size < GROUP || shown.some(other => [...group].filter(one => other.has(one)).length >= GROUP)) continue
    shown.push(group)
    const keys = members.split(',').map(Number), names = [...group].map(type => model.types[type]!.name)
    const evidence = keys.map(key => atReference(survey, [...called[key]!.to].find(([to]) => group.has(to))![1], `${model.types[called[key]!.type]!.name}.${called[key]!.member} goes over all of them`))
    yield {
      kind: 'always-used-together', id: `always-used-together:${[...group].map(type => model.types[type]!.id).sort().join('+')}`, subject: model.types[[...group][0]!]!.id, about: 'type',
      sentence: `${listed(names)} are called together in ${plural(keys.length, 'place')}, by ${plural(new Set(keys.map(key => called[key]!.type)).size, 'type')}.`,
      evidence, remedies: ['introduce-facade'], cost: { references: keys.length * group.size, files: filesOf(evidence) + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: keys.length }
    }
  }
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

/** Set-up of so many objects, in so many tests. */
const OBJECTS = 3, TESTS = 3

/** Tests that build the same objects again and again. */
export const findRepeatedSetup: Finder = function* (survey) {
  const { model } = survey
  const built = new Map<string, { file: number; to: Map<number, number> }>()
  for (let index = 0; index < model.references.length; index++) {
    const from = model.types[model.references.from(index)]!, to = model.references.to(index)
    if (!from.test || to < 0 || model.types[to]!.test || model.types[to]!.inert || model.references.kind(index) !== 'creates') continue
    const key = `${from.index}.${model.references.inMember(index)}`
    const entry = built.get(key) ?? { file: from.file, to: new Map<number, number>() }
    if (!entry.to.has(to)) entry.to.set(to, index)
    built.set(key, entry)
  }
  const sets = new Map<string, string[]>()
  const entries = [...built].filter(([, { to }]) => to.size >= OBJECTS)
  for (let a = 0; a < entries.length; a++) for (let b = a + 1; b < entries.length && b < a + 60; b++) {
    const common = [...entries[a]![1].to.keys()].filter(one => entries[b]![1].to.has(one)).sort((x, y) => x - y)
    if (common.length >= OBJECTS) sets.set(common.join(), entries.filter(([, { to }]) => common.every(one => to.has(one))).map(([key]) => key))
  }
  const [best] = [...sets].filter(([, keys]) => keys.length >= TESTS).sort((a, b) => b[0].split(',').length * b[1].length - a[0].split(',').length * a[1].length)
  if (!best) return
  const types = best[0].split(',').map(Number)
  const evidence = best[1].map(key => { const entry = built.get(key)!; return atReference(survey, entry.to.get(types[0]!)!, `builds ${listed(types.map(type => model.types[type]!.name), 8)}`) })
  yield {
    kind: 'repeated-test-setup', id: `repeated-test-setup:${types.map(type => model.types[type]!.id).join('+')}`, subject: model.types[types[0]!]!.id, about: 'type',
    sentence: `${plural(best[1].length, 'test')} build ${listed(types.map(type => model.types[type]!.name), 6)} in the same way.`, evidence, remedies: ['builder-for-tests'],
    cost: { references: best[1].length * types.length, files: filesOf(evidence) + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: best[1].length }
  }
}

