import { effectsInWords, notKnownOf, outsideOf } from '../effect/kinds.js'
import type { Joint } from '../measure/joints.js'
import { collaboratorOf } from '../measure/plugs.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Finder, Finding } from './finding.js'
import { atReference, filesOf, listed, plural } from './finding.js'

/** From so many types on, something static is a concern of the whole project. */
const MANY = 4

/** Types that build or fetch for themselves what reaches outside. What many use statically is told once, by the other finder. */
export const findWelded: Finder = function* (survey) {
  const shared = new Set(sharedStatics(survey).map(one => one.type))
  const implementing = new Set(survey.model.overrides.filter(({ base }) => isAbstraction(survey, base)).map(one => one.type))
  for (const type of survey.model.types) {
    if (survey.verdicts[type.index] !== 'needs-outside') continue
    // What nobody needs is where a program begins: it has to be put together somewhere.
    if (survey.fanIn[type.index] === 0 && (type.kind === 'functions' || type.members.some(member => member.static && member.name === 'main'))) continue
    const welded = survey.joints[type.index]!.filter(joint => joint.kind === 'welded' && joint.reason !== 'inherited' && !shared.has(joint.to))
      .map(joint => ({ joint, behind: outsideOf(survey.reach.behind(joint.references)) }))
      .filter(({ behind }) => behind !== 0)
    // An implementation of an abstraction that touches the outside by itself is where the outside belongs.
    if (welded.length === 0 || (implementing.has(type.index) && welded.every(({ joint }) => joint.to < 0))) continue
    const nameOf = (joint: Joint) => (joint.to >= 0 ? survey.model.types[joint.to]!.name : joint.external)
    const evidence = welded.flatMap(({ joint }) => joint.references.map(at => atReference(survey, at, `${type.name} ${joint.reason === 'created' ? 'builds' : 'fetches'} ${nameOf(joint)}`)))
    const left = survey.reach.deciding(type.index, new Set(welded.map(({ joint }) => collaboratorOf(joint))))
    yield {
      kind: 'welded-to-the-outside', id: `welded-to-the-outside:${type.id}`, subject: type.id, about: 'type',
      sentence: `${type.name} builds or fetches ${listed(welded.map(({ joint }) => nameOf(joint)))} itself, and so reaches ${listed(effectsInWords(welded.reduce((set, { behind }) => set | behind, 0)))}.`,
      evidence, remedies: [...(welded.some(({ joint }) => joint.to >= 0) ? ['extract-interface', 'inject'] as const : []), ...(welded.some(({ joint }) => joint.to < 0) ? ['wrap-library'] as const : [])],
      cost: { references: evidence.length, files: filesOf(evidence) + welded.length, steps: welded.length * 2 },
      frees: { modules: 0, types: outsideOf(left) === 0 && notKnownOf(left) === 0 ? 1 : 0, clients: 0 }
    }
  }
}

function isAbstraction({ model }: Survey, type: number): boolean { return ['interface', 'abstract-class', 'alias', 'protocol', 'trait'].includes(model.types[type]!.kind) }

const known = new WeakMap<Survey, readonly SharedStatic[]>()

interface SharedStatic { readonly type: number; readonly clients: readonly number[]; readonly references: readonly number[] }

/** Types whose static members, or the values of a file, reach outside and are used from many product types. */
export function sharedStatics(survey: Survey): readonly SharedStatic[] {
  const before = known.get(survey)
  if (before) return before
  const { model } = survey
  const found: SharedStatic[] = []
  for (const type of model.types) {
    if (type.test || type.inert || outsideOf(survey.reach.deciding(type.index)) === 0) continue
    const clients: number[] = [], references: number[] = []
    for (const dependency of dependenciesOn(survey, type.index)) {
      if (model.types[dependency.from]!.test) continue
      const used = dependency.references.filter(at => model.references.kind(at) !== 'creates' && model.references.use(at)?.origins.some(origin => origin.how === 'static') && isStaticMember(survey, type.index, model.references.member(at)))
      if (used.length > 0) { clients.push(dependency.from); references.push(...used) }
    }
    if (clients.length >= MANY) found.push({ type: type.index, clients, references })
  }
  known.set(survey, found)
  return found
}

function isStaticMember({ model }: Survey, type: number, member: string): boolean {
  return model.types[type]!.members.some(one => one.name === member && one.static)
}

/** Statics and globals that reach outside and are used from many places. */
export const findStatics: Finder = survey => sharedStatics(survey).map(({ type, clients, references }): Finding => {
  const { id, name } = survey.model.types[type]!
  const frees = clients.filter(client => {
    if (survey.verdicts[client] !== 'needs-outside') return false
    // What reaches outside by another of its collaborators is not freed by this one; that is soon seen.
    if (survey.joints[client]!.some(joint => joint.to !== type && joint.kind !== 'plugged' && joint.kind !== 'inert' && outsideOf(survey.reach.behind(joint.references)) !== 0)) return false
    const left = survey.reach.deciding(client, new Set([type]))
    return outsideOf(left) === 0 && notKnownOf(left) === 0
  }).length
  const evidence = references.map(at => atReference(survey, at, `${survey.model.types[survey.model.references.from(at)]!.name} calls ${name}.${survey.model.references.member(at)}`))
  return {
    kind: 'static-used-from-many-places', id: `static-used-from-many-places:${id}`, subject: id, about: 'type',
    sentence: `${plural(clients.length, 'type')} use ${name} statically, which reaches ${listed(effectsInWords(outsideOf(survey.reach.behind(references)) || outsideOf(survey.reach.deciding(type))))}${frees > 0 ? `; for ${frees} of them it is the only thing in the way of a test` : ''}.` +
      (survey.kind === 'library' ? ' In a library it should be handed in: who uses the library cannot replace a static.' : ''),
    evidence, remedies: ['make-static-replaceable', 'inject'], cost: { references: evidence.length, files: filesOf(evidence), steps: 3 }, frees: { modules: 0, types: frees, clients: 0 }
  }
})

/** Static and module-level variables that are written, with those who write them. */
export const findHiddenState: Finder = function* (survey) {
  const { model } = survey
  const written = new Map<string, { type: number; member: string; evidence: Finding['evidence'][number][] }>()
  const note = (type: number, member: string, evidence: Finding['evidence'][number]) => {
    const facts = model.types[type]!.members.find(one => one.name === member)
    if (!facts || !facts.static || !facts.mutable || model.types[type]!.test || !(facts.kind === 'field' || facts.kind === 'value')) return
    const key = `${type}.${member}`
    const entry = written.get(key)
    if (entry) entry.evidence.push(evidence)
    else written.set(key, { type, member, evidence: [evidence] })
  }
  for (let index = 0; index < model.references.length; index++) {
    if (model.references.kind(index) === 'writes' && model.references.to(index) >= 0) note(model.references.to(index), model.references.member(index), atReference(survey, index, `${model.types[model.references.from(index)]!.name} writes it`))
  }
  for (const use of model.ownUses) {
    if (use.kind === 'writes' && use.inMember !== '') note(use.type, use.member, { file: use.file, line: use.line, column: use.column, length: use.end - use.start, what: `${use.inMember} writes it` })
  }
  const tests = testsThatReach(survey)
  for (const { type, member, evidence } of written.values()) {
    const { id, name, members } = model.types[type]!
    const disturbed = tests.get(type)?.size ?? 0
    yield {
      kind: 'hidden-state', id: `hidden-state:${id}.${member}`, subject: id, about: 'type',
      sentence: `${name}.${member} is shared by the whole program and written in ${plural(evidence.length, 'place')}${disturbed > 1 ? `; ${disturbed} test files use it and could disturb each other` : ''}.`,
      evidence: [atDeclarationOf(survey, type, member), ...evidence],
      // It is replaced behind what asks for it; where nothing static does, it becomes a field by hand.
      remedies: members.some(one => one.static && one.public && (one.kind === 'method' || one.kind === 'function')) ? ['make-static-replaceable', 'inject'] : [],
      cost: { references: evidence.length, files: filesOf(evidence), steps: 2 }, frees: { modules: 0, types: 0, clients: 0 }
    }
  }
}

function atDeclarationOf({ model }: Survey, type: number, member: string): Finding['evidence'][number] {
  const { file, members } = model.types[type]!
  const { span } = members.find(one => one.name === member)!
  return { file, line: span.line, column: span.column, length: member.length, what: 'declared here' }
}

/** Test files that use each type, by themselves. */
function testsThatReach(survey: Survey): Map<number, Set<number>> {
  const found = new Map<number, Set<number>>()
  for (const { from, to } of survey.dependencies) {
    const type = survey.model.types[from]!
    if (!type.test) continue
    const set = found.get(to) ?? new Set()
    found.set(to, set.add(type.file))
  }
  return found
}
