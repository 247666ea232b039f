import { effectsInWords, kindsIn } from '../effect/kinds.js'
import { cohesionOf } from '../measure/cohesion.js'
import { ancestryOf } from './ancestry.js'
import { crossCuttingTypes } from './cross-cutting.js'
import { compareText } from '../model/order.js'
import type { TypeSwitch } from '../model/code-model.js'
import { membersTouchingOutside, WORTH_A_CLASS } from './touching-members.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Finder } from './finding.js'
import { atDeclaration, atReference, filesOf, listed, plural } from './finding.js'

/** From so many arguments on, a constructor is crowded. */
const CROWDED = 6
/** From so many constructors on that take the same arguments, the arguments travel together. */
const TOGETHER = 3

function hasConstructor(type: Survey['model']['types'][number]): boolean { return type.kind === 'record' || type.members.some(one => one.kind === 'constructor') }

/** Sets of arguments that at least three constructors take together. */
export function travellingArguments(survey: Survey): { readonly names: readonly string[]; readonly types: readonly number[] }[] {
  const { model } = survey
  const pairs = new Map<string, { names: string[]; types: number[] }>()
  for (const type of model.types) {
    // What is inherited is written, and changed, once.
    if (type.test || !hasConstructor(type)) continue
    const keys = [...new Set(type.parameters.filter(one => one.name !== '').map(one => `${one.name}: ${one.text}`))].sort()
    for (let a = 0; a < keys.length; a++) {
      for (let b = a + 1; b < keys.length; b++) {
        const key = `${keys[a]}|${keys[b]}`
        const entry = pairs.get(key)
        if (entry) entry.types.push(type.index)
        else pairs.set(key, { names: [keys[a]!, keys[b]!], types: [type.index] })
      }
    }
  }
  // Pairs of the same constructors grow together.
  const grown = new Map<string, { names: Set<string>; types: readonly number[] }>()
  for (const { names, types } of pairs.values()) {
    if (types.length < TOGETHER) continue
    const entry = grown.get(types.join()) ?? { names: new Set<string>(), types }
    for (const name of names) entry.names.add(name)
    grown.set(types.join(), entry)
  }
  return [...grown.values()].map(({ names, types }) => ({ names: [...names], types }))
}

export const findCrowdedConstructors: Finder = function* (survey) {
  const common = crossCuttingTypes(survey), together = travellingArguments(survey)
  for (const type of survey.model.types) {
    if (type.test || type.inert || type.kind === 'record' || type.kind === 'enum' || type.parameters.length < CROWDED || !hasConstructor(type)) continue
    const cutting = type.parameters.filter(one => common.has(one.type)), travelling = together.filter(set => set.types.includes(type.index))
    const creations = creationsOf(survey, type.index)
    yield {
      kind: 'crowded-constructor', id: `crowded-constructor:${type.id}`, subject: type.id, about: 'type',
      sentence: `The constructor of ${type.name} takes ${type.parameters.length} arguments` +
        `${cutting.length > 0 ? `; ${listed(cutting.map(one => one.name))} ${cutting.length === 1 ? 'is' : 'are'} wanted all over the project and ${cutting.length === 1 ? 'speaks' : 'speak'} of nothing else in it` : ''}` +
        `${travelling.length > 0 ? `; ${listed(travelling[0]!.names.map(name => name.split(':')[0]!))} always travel together` : ''}.` +
        (cutting.length > 0 && survey.kind === 'library' ? ' In a library such arguments stay: who uses it decides what they are.' : ''),
      evidence: [atDeclaration(survey, type.index, 'constructor', `takes ${listed(type.parameters.map(one => one.name || one.text), 12)}`), ...creations.map(at => atReference(survey, at, 'built here'))],
      remedies: travelling.length > 0 ? ['group-arguments', 'compose-object-graph'] : ['compose-object-graph', 'extract-class'],
      cost: { references: creations.length + 1, files: new Set(creations.map(at => survey.model.references.at(at).file)).size + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: creations.length }
    }
  }
}

function creationsOf(survey: Survey, type: number): number[] {
  const { model } = survey
  return dependenciesOn(survey, type).flatMap(one => one.references.filter(at => model.references.kind(at) === 'creates'))
}

/** Classes whose methods fall into groups that share no field. */
export const findSeveralResponsibilities: Finder = function* (survey) {
  for (const type of survey.model.types) {
    // Two groups of two methods are the least that is told.
    if (type.test || type.inert || type.members.length < 6) continue
    const { lcom4, groups, between } = cohesionOf(survey.model, type.index)
    const large = groups.filter(group => group.methods.length >= 2)
    if (lcom4 === null || large.length < 2 || between.length > large.length) continue
    yield {
      kind: 'several-responsibilities', id: `several-responsibilities:${type.id}`, subject: type.id, about: 'type',
      sentence: `The methods of ${type.name} fall into ${large.length} groups that share no field: ${large.slice(0, 3).map(group => `${listed(group.methods, 3)} ${group.methods.length === 1 ? 'uses' : 'use'} ${listed(group.fields, 3)}`).join('; ')}${between.length > 0 ? `. ${plural(between.length, 'call')} between them speaks against dividing it` : ''}.`,
      evidence: [...large.map(group => atDeclaration(survey, type.index, group.methods[0]!, `group of ${listed(group.methods)}`)), ...between.map(({ from, to, line, column }) => ({ file: type.file, line, column, length: to.length, what: `${from} calls ${to}` }))],
      remedies: ['extract-class'], cost: { references: large.at(-1)!.methods.length + large.at(-1)!.fields.length, files: 2, steps: large.length - 1 }, frees: { modules: 0, types: 0, clients: Math.min(1, survey.fanIn[type.index]!) }
    }
  }
}

/** Members that compute, beside so many of which touching the outside is another job. */
const COMPUTING = 3

/** Classes with members that touch the outside themselves, beside several that only compute. */
export const findOutsideAmongLogic: Finder = function* (survey) {
  const { model } = survey
  for (const [index, members] of membersTouchingOutside(survey)) {
    const type = model.types[index]!
    // What does little else is where the outside belongs.
    if (members.has('constructor') || members.has('')) continue
    const methods = type.members.filter(one => one.kind === 'method' && one.hasBody && !one.refuses)
    const computing = methods.filter(one => one.logic && !one.static && survey.reach.ofMember(index, one.name) === 0)
    if (computing.length < COMPUTING || members.size >= computing.length || ![...members.keys()].every(name => methods.some(one => one.name === name && !one.static))) continue
    const names = [...members.keys()].sort(compareText), references = [...members.values()].flat()
    const touched = survey.reach.behind(references) & WORTH_A_CLASS, effects = listed(effectsInWords(touched))
    yield {
      kind: 'several-responsibilities', id: `several-responsibilities:${type.id}:outside`, subject: type.id, about: 'type', detail: kindsIn(touched)[0]!,
      sentence: `${type.name} touches ${effects} in ${listed(names)}, and beside that computes in ${listed(computing.map(one => one.name), 4)}.`,
      evidence: [...references.map(at => atReference(survey, at, `${model.references.inMember(at)} touches ${effects}`)), ...computing.map(one => atDeclaration(survey, index, one.name, 'only computes'))],
      remedies: ['extract-class'], cost: { references: references.length, files: 2, steps: 1 }, frees: { modules: 0, types: 1, clients: 0 }
    }
  }
}

/** From so many members of another class on, a method is more at home there. */
const ENVIED = 5

/** Methods and functions that use more of another class than of their own. */
export const findFeatureEnvy: Finder = function* (survey) {
  const { model } = survey
  const { references } = model
  const isAncestor = ancestryOf(survey)
  const used: { type: number; member: string; to: number; members: Set<string>; first: number }[] = []
  // Pair by pair: most pairs have too few references to look at.
  for (const dependency of survey.dependencies) {
    const { from, to } = dependency, target = model.types[to]!
    if (dependency.references.length < ENVIED || model.types[from]!.test || target.kind === 'functions' || target.kind === 'enum') continue
    // What it inherits, or is declared in, is its own.
    if (isAncestor(from, to) || model.types[from]!.id.startsWith(`${target.id}.`)) continue
    const byMember = new Map<string, typeof used[number]>()
    for (const index of dependency.references) {
      const kind = references.kind(index)
      if ((kind !== 'calls' && kind !== 'reads' && kind !== 'writes') || references.typeOnly(index) || !references.use(index)) continue
      const member = references.inMember(index), named = references.member(index)
      if (member === '' || member === 'constructor' || named === '') continue
      const entry = byMember.get(member)
      if (entry) entry.members.add(named)
      else byMember.set(member, { type: from, member, to, members: new Set([named]), first: index })
    }
    for (const entry of byMember.values()) if (entry.members.size >= ENVIED) used.push(entry)
  }
  const own = new Map<string, Set<string>>()
  for (const use of model.ownUses) { const key = `${use.type}.${use.inMember}`; const set = own.get(key); if (set) set.add(use.member); else own.set(key, new Set([use.member])) }
  for (const { type, member, to, members, first } of used) {
    const facts = model.types[type]!.members.find(one => one.name === member), isFunction = model.types[type]!.kind === 'functions'
    if (!facts?.logic) continue
    // What takes a mere record apart has nowhere to go, nor has what is no object's own.
    const isClass = model.types[to]!.kind === 'class' || model.types[to]!.kind === 'abstract-class'
    if (!isClass && (isFunction || facts.static || !model.types[to]!.members.some(one => one.kind === 'method'))) continue
    // A collaborator that the class holds and directs is its own business; what it is given and takes apart is not.
    const mine = own.get(`${type}.${member}`)?.size ?? 0
    if (mine > 1 || members.size <= mine * 2) continue
    const { id, name } = model.types[type]!
    yield {
      kind: 'feature-envy', id: `feature-envy:${id}.${member}:${model.types[to]!.id}`, subject: id, about: 'type',
      sentence: `${isFunction ? member : `${name}.${member}`} uses ${listed([...members].sort())} of ${model.types[to]!.name} and ${mine === 0 ? 'nothing' : plural(mine, 'member')} of its own.`,
      evidence: [atReference(survey, first, `${member} takes ${model.types[to]!.name} apart`)],
      // What implements an interface would each need the method; the class is divided instead.
      remedies: isClass ? ['move-member'] : ['extract-class'], detail: member,
      cost: { references: members.size, files: 2, steps: 1 }, frees: { modules: 0, types: 0, clients: 0 }
    }
  }
}

/** The member that a switch stands in, with its number where it is not the first there, as the key of its place is. */
function placeOf(one: TypeSwitch, { model }: Survey): string {
  const before = model.typeSwitches.filter(other => other.type === one.type && other.inMember === one.inMember && other.line * 10_000 + other.column < one.line * 10_000 + one.column).length
  return before === 0 ? one.inMember : `${one.inMember}:${before + 1}`
}

/** From so many cases or places on, choosing by kind is worth an abstraction. */
const MANY_CASES = 4, MANY_PLACES = 2

export const findTypeSwitches: Finder = function* (survey) {
  const { model } = survey
  const byWhat = new Map<string, typeof model.typeSwitches[number][]>()
  for (const one of model.typeSwitches) {
    if (model.types[one.type]!.test) continue
    const key = one.over === '' ? `${one.type}.${one.inMember}` : one.over
    const list = byWhat.get(key)
    if (list) list.push(one)
    else byWhat.set(key, [one])
  }
  for (const [key, places] of byWhat) {
    const cases = Math.max(...places.map(one => one.cases.length))
    if (cases < MANY_CASES && places.length < MANY_PLACES && places[0]!.over !== '') continue
    // What an object does can be handed to it; what belongs to none calls what chooses.
    const isOf = (...kinds: readonly string[]) => places.find(one => kinds.includes(model.types[one.type]!.kind))
    const home = isOf('class', 'abstract-class') ?? isOf('functions'), first = model.types[(home ?? places[0]!).type]!
    const what = places[0]!.over === '' ? 'the class of what it is given' : model.types[model.typeIndex.get(places[0]!.over) ?? -1]?.name ?? places[0]!.over.replace(/^.*[#./](?=[^#/.]+\.[^.]+$)/, '')
    const names = [...new Set(places.map(one => `${model.types[one.type]!.name}.${one.inMember}`))]
    const evidence = places.map(one => ({ file: one.file, line: one.line, column: one.column, length: one.word.length, what: `${model.types[one.type]!.name}${one.inMember === '' ? '' : `.${one.inMember}`} has ${plural(one.cases.length, 'case')}: ${listed(one.cases, 6)}` }))
    yield {
      kind: 'type-switch', id: `type-switch:${key}`, subject: first.id, about: 'type',
      sentence: `${listed(names)} ${names.length === 1 ? 'chooses' : 'choose'} by ${what} among ${plural(cases, 'case')}; the next case touches ${plural(places.length, 'place')}.`,
      evidence, remedies: home ? ['replace-type-switch'] : [], ...(home ? { detail: placeOf(home, survey) } : {}), cost: { references: places.reduce((sum, one) => sum + one.cases.length, 0), files: filesOf(evidence) + 1, steps: 1 }, frees: { modules: 0, types: 0, clients: places.length }
    }
  }
}

