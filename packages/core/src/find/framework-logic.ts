import { bitOf } from '../effect/kinds.js'
import { listIn } from '../graph/lists.js'
import type { Span } from '../model/facts.js'
import type { ModelType } from '../model/code-model.js'
import type { Survey } from '../survey.js'
import type { Finder, Finding } from './finding.js'
import { atReference, filesOf, listed, plural } from './finding.js'

/** Lines of logic below which it is not worth taking out. */
const FEWEST_LINES = 4

/** What a class that a framework builds has from it. */
const OF_FRAMEWORKS = bitOf('framework') | bitOf('user-interface')

/** The parts of one method's body, with whether each of them touches the framework. */
interface MemberParts { readonly name: string; readonly parts: readonly { readonly span: Span; readonly touches: boolean }[] }

/** Logic in classes that only a framework can build: which of their statements and fields do not touch it. */
export const findLogicInFrameworkClasses: Finder = function* (survey) {
  const bases = frameworkBases(survey)
  if (bases.size === 0) return
  const places = touchingPlaces(survey, bases), uses = new Map<number, typeof survey.model.ownUses[number][]>()
  for (const use of survey.model.ownUses) if (bases.has(use.type)) listIn(uses, use.type).push(use)
  for (const [index, base] of bases) {
    const type = survey.model.types[index]!
    if (type.test) continue
    const members = partsOf(type, places.get(index) ?? [])
    const free = members.flatMap(member => member.parts.filter(part => !part.touches))
    const lines = new Set(free.map(part => part.span.line)).size
    if (lines < FEWEST_LINES) continue
    const all = members.reduce((sum, member) => sum + member.parts.length, 0)
    const fields = fieldsApart(type, members, uses.get(index) ?? [])
    const reference = survey.model.references.at(base)
    const evidence = [atReference(survey, base, `extends ${reference.external}`), ...members.flatMap(member => runsOf(type, member))]
    yield {
      kind: 'logic-in-a-framework-class', id: `logic-in-a-framework-class:${type.id}`, subject: type.id, about: 'type',
      sentence: `${type.name} extends ${reference.member || reference.external}, so that a test needs the framework; ${free.length === all ? `all ${all}` : `${free.length} of ${all}`} statements of ${listed(members.map(one => one.name))} do not touch it, ${plural(lines, 'line')}` +
        `${fields.length > 0 ? `; ${listed(fields)} ${fields.length === 1 ? 'is' : 'are'} used by those alone` : ''}.`,
      evidence, remedies: ['extract-plain-class'], cost: { references: lines, files: filesOf(evidence) + 1, steps: 1 }, frees: { modules: 0, types: 1, clients: 0 }
    }
  }
}

const known = new WeakMap<Survey, ReadonlyMap<number, number>>()

/** Types that inherit from what a framework or an unknown library has, with the reference that says so. Found once for a survey. */
export function frameworkBases(survey: Survey): ReadonlyMap<number, number> {
  const before = known.get(survey)
  if (before) return before
  const found = new Map<number, number>(), { model, reach } = survey
  known.set(survey, found)
  for (let index = 0; index < model.references.length; index++) {
    if (model.references.kind(index) !== 'extends' || model.references.to(index) >= 0) continue
    const effect = reach.effectOfBase(model, index)
    if (effect === 'framework' || effect === 'unknown' || effect === 'user-interface') found.set(model.references.from(index), index)
  }
  return found
}

/** Offsets at which each of those types names its framework, or a member of its own that does so in turn. */
function touchingPlaces({ model: { references, ownUses }, reach }: Survey, bases: ReadonlyMap<number, number>): Map<number, number[]> {
  const places = new Map<number, number[]>(), members = new Set<string>()
  for (let index = 0; index < references.length; index++) {
    const from = references.from(index), base = bases.get(from)
    if (base === undefined || references.to(index) >= 0) continue
    if (references.external(index) !== references.external(base) && (reach.behind([index]) & OF_FRAMEWORKS) === 0) continue
    listIn(places, from).push(references.at(index).start)
    if (references.inMember(index) !== '') members.add(`${from}.${references.inMember(index)}`)
  }
  let left = ownUses.filter(use => bases.has(use.type) && use.kind === 'calls')
  for (;;) {
    const touching = new Set(left.filter(use => members.has(`${use.type}.${use.member}`)))
    if (touching.size === 0) return places
    for (const use of touching) { listIn(places, use.type).push(use.start); members.add(`${use.type}.${use.inMember}`) }
    left = left.filter(use => !touching.has(use))
  }
}

function partsOf(type: ModelType, places: readonly number[]): MemberParts[] {
  return type.members.filter(one => one.logic && one.kind !== 'constructor' && one.statements).map(({ name, statements }) => ({
    name, parts: statements!.map(span => ({ span, touches: places.some(place => span.start <= place && place < span.end) }))
  }))
}

/** Fields that only statements use which do not touch the framework. */
function fieldsApart(type: ModelType, members: readonly MemberParts[], uses: readonly { readonly inMember: string; readonly member: string; readonly start: number }[]): string[] {
  const parts = members.flatMap(member => member.parts)
  return type.members.filter(one => one.kind === 'field').map(one => one.name).filter(field => {
    const places = uses.filter(use => use.member === field && use.inMember !== 'constructor')
    const around = places.map(({ start }) => parts.find(({ span }) => span.start <= start && start < span.end))
    return around.some(part => part) && around.every(part => part && !part.touches)
  })
}

/** Statements in a row that do not touch the framework, as one place each. */
function runsOf({ file }: ModelType, { name, parts }: MemberParts): Finding['evidence'][number][] {
  const runs: Span[][] = []
  parts.forEach((part, at) => {
    if (part.touches) return
    if (at > 0 && !parts[at - 1]!.touches) runs.at(-1)!.push(part.span)
    else runs.push([part.span])
  })
  return runs.map(run => {
    const [first] = run, lines = new Set(run.map(span => span.line)).size
    return { file, line: first!.line, column: first!.column, length: first!.end - first!.start, what: `from here ${plural(run.length, 'statement')} of ${name}, ${plural(lines, 'line')}, ${run.length === 1 ? 'does' : 'do'} not touch it` }
  })
}
