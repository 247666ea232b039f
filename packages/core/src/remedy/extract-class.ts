import { listed, plural } from '../find/finding.js'
import type { EffectKind } from '../effect/kinds.js'
import { bitOf, effectsInWords, kindsIn } from '../effect/kinds.js'
import type { MemberGroup } from '../measure/cohesion.js'
import { cohesionOf, memberGroups } from '../measure/cohesion.js'
import { membersTouchingOutside, WORTH_A_CLASS } from '../find/touching-members.js'
import type { LanguageWriter, PlainPart } from '../model/plan.js'
import type { TouchingLines } from '../model/touching-lines.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { Remedy } from './remedy.js'
import { asOneStep } from './composed-changes.js'

/** What a class is called by that touches one kind of outside, behind the name of the class that it is taken from. */
const STEMS: Partial<Record<EffectKind, string>> = { 'file-system': 'Files', network: 'Network', database: 'Database', process: 'Processes', device: 'Device' }

/** Fields, and the methods that share them, as a class of their own; or the methods that touch one kind of outside (the detail). */
export const extractClassRemedy: Remedy = {
  name: 'extract-class',
  title: 'Extract class',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.inert) return []
    const [group] = groupsOf(index, survey, writer)
    const outside = kindsIn(touchedBy(index, survey)).flatMap(kind => {
      const members = outsideGroup(index, kind, survey, writer)
      return members ? [{ detail: kind, title: `Extract what touches ${effectsInWords(bitOf(kind))[0]!} from ${type.name}: ${members.join(', ')}`, edits: members.length + 2, files: 2 }] : []
    })
    const parts = kindsIn(touchedBy(index, survey)).flatMap(kind => {
      const all = partsOf(index, kind, survey, writer)
      return [...(all.length > 1 ? [all] : []), ...all.map(one => [one])].map(some => ({ detail: `${kind}@${some.map(({ part }) => part.member).join('+')}`, title: partsTitle(type.name, some), edits: statementsOf(some) + 2, files: 2 }))
    })
    return [...(group ? [{ detail: '', title: `Extract a class of ${[...new Set(group)].join(', ')} from ${type.name}`, edits: group.length + 2, files: 2 }] : []), ...outside, ...parts]
  },

  titleOf(subject, detail, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!, found = partsAt(index, detail, survey, writer)
    return found && partsTitle(survey.model.types[index]!.name, found)
  },

  choices(subject, detail, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!, parts = partsAt(index, detail, survey, writer)
    if (parts) {
      const [{ part }] = parts as [TouchingPart], name = { name: 'name', label: 'Name', kind: 'text', value: part.name, help: 'Left empty, a free name is proposed.', options: [] } as const
      return parts.length > 1 ? [name] : [name, { name: 'method', label: 'Name of its method', kind: 'text', value: part.method, help: `It does ${plural(part.statements, 'statement')} of ${part.member}, from line ${part.line} on.`, options: [] }]
    }
    const groups = groupsOf(index, survey, writer)
    const proposed = isKind(detail) ? outsideGroup(index, detail, survey, writer) : groups[0], others = groups.filter(one => one !== proposed)
    const members = survey.model.types[index]!.members.filter(one => !one.static && one.kind !== 'constructor').map(one => one.name)
    return [
      { name: 'members', label: 'Members', kind: 'many-of', value: (proposed ?? []).join(','), help: others.length > 0 ? `Other groups: ${others.slice(0, 3).map(group => group.join(', ')).join('; ')}.` : 'Fields, and the methods that share them.', options: [...new Set(members)].map(name => ({ value: name, label: name })) },
      { name: 'name', label: 'Name', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'held', label: 'The class', kind: 'one-of', value: 'made', help: 'What is handed in can be another in a test; who builds the class goes on as before.', options: [{ value: 'made', label: 'makes one for itself' }, { value: 'handed', label: 'is handed one, or makes it' }] },
      { name: 'tests', label: 'Tests of what goes', kind: 'one-of', value: 'go', help: 'An object that a test only asks for what goes is of the new class then, and needs less to be set up.', options: [{ value: 'go', label: 'ask the new class' }, { value: 'stay', label: 'stay as they are' }] }
    ]
  },

  plan(subject, detail, choices, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!, proposed = () => (isKind(detail) ? outsideGroup(index, detail, survey, writer) : groupsOf(index, survey, writer)[0])
    const parts = choices.members ? undefined : partsAt(index, detail, survey, writer)
    if (parts) return writer.extractPlainClass({ type: subject, parts: parts.map(({ part: { member }, touching }) => ({ member, touching })), name: choices.name || null, method: choices.method || null })
    if (detail.includes('@')) return planRefused('nothing-outside', `No statements in a row of ${detail.slice(detail.indexOf('@') + 1).replaceAll('+', ' or ')} hold all that touches the ${detail.slice(0, detail.indexOf('@')).replaceAll('-', ' ')} and can stand elsewhere.`)
    const members = choices.members ? choices.members.split(',').map(one => one.trim()).filter(one => one !== '') : proposed()
    const extraction = { type: subject, name: choices.name || null, stem: isKind(detail) ? STEMS[detail]! : null, exported: choices.held === 'handed', tests: choices.tests !== 'stay' }
    if (!members?.length) {
      const why = cohesionOf(survey.model, index).groups.filter(one => one.methods.length > 1).slice(0, TOLD).flatMap(({ fields, methods }) => {
        // Only asked: a plan that can be carried out would be, and what is planned next would stand on it.
        const outcome = writer.sketch?.extractClass({ ...extraction, members: [...fields, ...methods] })
        return outcome?.refused ? [`${listed([...fields, ...methods])}: ${outcome.message}`] : []
      })
      return planRefused('members', `No group of its members stands by itself. ${why.map(one => `${one} `).join('')}Choose the members.`)
    }
    const extracted = writer.extractClass({ ...extraction, members })
    if (extracted.refused || choices.held !== 'handed') return extracted
    const name = extracted.choices.name!, point = writer.injectionPoints(subject).find(one => one.collaborator.endsWith(`#${name}`) || one.collaborator.endsWith(`.${name}`))
    if (!point) return planRefused('handed', `${name} cannot be handed in where it would be made; let the class make it.`)
    const injected = writer.inject({ type: subject, point: point.key, name: null, as: null, withDefault: true, levels: 0 })
    return injected.refused ? injected : { ...asOneStep(extracted, injected), choices: { ...extracted.choices, held: 'handed' } }
  }
}

/** Of so many groups it is told why they cannot go. */
const TOLD = 2

function isKind(detail: string): detail is EffectKind { return Object.hasOwn(STEMS, detail) }

function touchedBy(index: number, survey: Survey): number { return survey.reach.behind([...membersTouchingOutside(survey).get(index)?.values() ?? []].flat()) & WORTH_A_CLASS }

/** The methods of a class that touch one kind of outside themselves and can go, with what only they need; undefined where there are none, or nothing else is left. */
function outsideGroup(index: number, kind: EffectKind, survey: Survey, writer: LanguageWriter): readonly string[] | undefined {
  const { model, reach } = survey, type = model.types[index]!
  const touching = [...membersTouchingOutside(survey).get(index) ?? []].filter(([, references]) => (reach.behind(references) & bitOf(kind)) !== 0).map(([name]) => name)
  const leavesLogic = (methods: readonly string[]) => type.members.some(one => one.kind === 'method' && one.hasBody && !one.static && one.logic && !methods.includes(one.name) && reach.ofMember(index, one.name) === 0)
  const going = (names: readonly string[]) => {
    const methods = withHelpers(names, index, survey)
    return names.length > 0 && leavesLogic(methods) ? [[...fieldsOnlyIn(methods, index, survey), ...methods], methods].find(members => writer.canExtractClass(type.id, members)) : undefined
  }
  // Where not all can go, those that can by themselves do; a field that others see, or that is filled otherwise, may stay.
  return going(touching) ?? going(touching.filter(name => going([name]))) ?? touching.map(name => going([name])).find(one => one !== undefined)
}

/** Fields that some methods use, and nothing else but the constructor. */
function fieldsOnlyIn(methods: readonly string[], index: number, { model }: Survey): string[] {
  const uses = model.ownUses.filter(one => one.type === index), inside = new Set(methods)
  return model.types[index]!.members.filter(({ name, kind }) => kind === 'field' && uses.some(one => one.member === name && inside.has(one.inMember)) && uses.every(one => one.member !== name || inside.has(one.inMember) || one.inMember === 'constructor')).map(one => one.name)
}

/** Statements of a method that hold all with which it touches one kind of outside. */
interface TouchingPart { readonly part: PlainPart; readonly touching: TouchingLines }

/** Of each method that touches one kind of outside and does more than that, the statements that do so, where they can stand elsewhere. */
function partsOf(index: number, kind: EffectKind, survey: Survey, writer: LanguageWriter): TouchingPart[] {
  const { model: { references, types }, reach } = survey, { id } = types[index]!, whole = new Set(outsideGroup(index, kind, survey, writer))
  return [...membersTouchingOutside(survey).get(index) ?? []].filter(([member]) => !whole.has(member)).flatMap(([member, all]) => {
    const lines = [...new Set(all.filter(at => (reach.behind([at]) & bitOf(kind)) !== 0).map(at => references.at(at).line))]
    const touching = { lines, what: effectsInWords(bitOf(kind))[0]!, stem: STEMS[kind]! }, part = lines.length > 0 ? writer.touchingPart(id, member, touching) : null
    return part ? [{ part, touching }] : []
  })
}

function partsTitle(type: string, parts: readonly TouchingPart[]): string {
  const [{ part, touching }] = parts as [TouchingPart]
  return parts.length === 1 ? `Extract what touches ${touching.what} from ${type}.${part.member}, ${plural(part.statements, 'statement')}`
    : `Extract what touches ${touching.what} from ${type}: ${plural(statementsOf(parts), 'statement')} of ${parts.map(one => one.part.member).join(', ')}`
}

function statementsOf(parts: readonly TouchingPart[]): number { return parts.reduce((sum, { part }) => sum + part.statements, 0) }

/** The parts that a detail names, `file-system@load+store`; of a kind alone all of it, where no whole methods can go. */
function partsAt(index: number, detail: string, survey: Survey, writer: LanguageWriter): TouchingPart[] | undefined {
  const [kind, named] = detail.split('@') as [string, string | undefined]
  if (!isKind(kind) || (named === undefined && outsideGroup(index, kind, survey, writer))) return undefined
  const all = partsOf(index, kind, survey, writer), found = named === undefined ? all : named.split('+').map(member => all.find(one => one.part.member === member))
  return found.length > 0 && found.every(one => one !== undefined) ? found : undefined
}

/** Methods, and the private ones that they call, and those that these call. */
function withHelpers(methods: readonly string[], index: number, survey: Survey): string[] {
  const { model } = survey, isHidden = hiddenMethods(index, survey), found = new Set(methods)
  for (const name of found) for (const use of model.ownUses) if (use.type === index && use.inMember === name && isHidden.has(use.member)) found.add(use.member)
  return [...found]
}

function hiddenMethods(index: number, { model }: Survey): ReadonlySet<string> { return new Set(model.types[index]!.members.filter(one => one.kind === 'method' && !one.public && !one.static).map(one => one.name)) }

/** Groups of members that share fields and nothing with the rest, and can go; the largest first, but never all of the class. */
function groupsOf(index: number, survey: Survey, writer: LanguageWriter): string[][] {
  const { id, members: own } = survey.model.types[index]!, logic = new Set(own.filter(one => one.logic).map(one => one.name))
  const helpers = helpersOf(index, survey)
  const uses = survey.model.ownUses.filter(one => one.type === index)
  const found = new Map<string, string[]>()
  const tryAll = (groups: readonly MemberGroup[], alongWith: (methods: readonly string[]) => string[]) => {
    for (const { fields, methods } of groups) {
      // Two methods that only set a field and give it back are no class of their own.
      if (methods.length < 2 || (methods.length === 2 && !methods.some(one => logic.has(one)))) continue
      const group = [...fields, ...methods, ...alongWith(methods)]
      // What is left has something of its own: other fields, or what does without the group.
      const leavesMore = groups.length > 1 || own.some(({ name, kind, hasBody }) => kind === 'method' && hasBody && !group.includes(name) && !uses.some(one => one.inMember === name && group.includes(one.member)))
      if (leavesMore && !found.has([...group].sort().join()) && writer.canExtractClass(id, group)) found.set([...group].sort().join(), group)
    }
  }
  tryAll(cohesionOf(survey.model, index).groups, helpers)
  // Where all share what is only handed in, they may still fall into groups without it.
  if (found.size === 0) for (const groups of groupsWithout(index, survey, writer)) {
    tryAll(groups, methods => withHelpers(methods, index, survey).filter(one => !methods.includes(one)))
    if (found.size > 0) break
  }
  return [...found.values()]
}

/** So many fields that can be shared are looked at. */
const MOST_SHARED = 12

/** Groups of methods over all fields but one that can be shared, but two, and so on: what holds most groups together is passed over first. */
function* groupsWithout(index: number, { model }: Survey, writer: LanguageWriter): Generator<readonly MemberGroup[]> {
  const usersOf = (field: string) => new Set(model.ownUses.filter(one => one.type === index && one.member === field).map(one => one.inMember)).size
  const left = new Map(writer.sharableFields(model.types[index]!.id).map(field => [field, usersOf(field)] as const).filter(([, users]) => users > 1).slice(0, MOST_SHARED)), passedOver = new Set<string>()
  while (left.size > 0) {
    const trials = [...left].map(([field, users]) => ({ field, users, groups: memberGroups(model, index, new Set([...passedOver, field])) }))
    const [best] = trials.sort((a, b) => b.groups.length - a.groups.length || b.users - a.users)
    left.delete(best!.field)
    passedOver.add(best!.field)
    if (best!.groups.length > 1) yield best!.groups
  }
}

/** Methods without fields of their own that only some others call: they go along. */
function helpersOf(index: number, survey: Survey): (methods: readonly string[]) => string[] {
  const { model } = survey
  const uses = model.ownUses.filter(one => one.type === index)
  const isHidden = hiddenMethods(index, survey)
  return methods => {
    const inside = new Set(methods)
    for (let size = -1; size !== inside.size;) {
      size = inside.size
      for (const { member, inMember } of uses) {
        if (inside.has(inMember) && isHidden.has(member) && uses.every(other => other.member !== member || other.inMember === member || inside.has(other.inMember))) inside.add(member)
      }
    }
    return [...inside].filter(one => !methods.includes(one))
  }
}
