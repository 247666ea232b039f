import type {
  ClassView, CycleLevel, CycleRow, CycleView, GraphView, JointView, LandView, MeasuredEffect, OfferView, ReferenceView, SurveySummary, TypeRow
} from '@hollowmoor/contract/views'
import { labelOf } from '@hollowmoor/contract/labels'
import { kindsIn } from '@hollowmoor/core/effect/kinds'
import type { Joint } from '@hollowmoor/core/measure/joints'
import type { Cycle, DependencyGraph } from '@hollowmoor/core/measure/cycles'
import { fileGraph, typeGraph } from '@hollowmoor/core/measure/cycles'
import { heldKey } from '@hollowmoor/core/read/write/outside-group'
import { findingsOf } from '@hollowmoor/core/find/findings'
import { countVerdicts } from '@hollowmoor/core/measure/verdict'
import { clientsByMember } from '@hollowmoor/core/remedy/extract-interface'
import type { Survey } from '@hollowmoor/core/survey'
import { dependenciesOn } from '@hollowmoor/core/survey'
import type { TextOf } from './finding-views.js'
import { findingRows, findingsAbout } from './finding-views.js'
import { effectsBehind, effectsOfExternal, insideView, reachView, testsByMember, verdictsByModule } from './reach-views.js'

/** Figures of a survey by which it is compared with others. */
export function summarise(survey: Survey): SurveySummary {
  const { model } = survey
  const joints = { welded: 0, bolted: 0, plugged: 0, inert: 0 }
  for (const type of model.types) if (!type.test) for (const joint of survey.joints[type.index]!) joints[joint.kind]++
  return {
    files: model.files.length, testFiles: model.files.filter(file => file.test).length, lines: model.files.reduce((sum, file) => sum + file.lines, 0),
    types: model.types.filter(type => !type.test).length, modules: survey.modules.filter(module => module.types > 0).length, references: model.references.length,
    unresolved: model.unresolved.length, unreadFiles: survey.unreadFiles.length, problems: model.problems.length, notInstalled: survey.notInstalled,
    moduleCycles: survey.moduleCycles.length, modulesInCycles: survey.moduleCycles.reduce((sum, cycle) => sum + cycle.members.length, 0),
    fileCycles: survey.fileCycles.length, typeCycles: survey.typeCycles.length,
    cutReferences: survey.moduleCycles.reduce((sum, cycle) => sum + cycle.cut.references, 0),
    proven: survey.moduleCycles.every(cycle => cycle.cut.references === cycle.cut.lowerBound), joints,
    verdicts: countVerdicts(survey.verdicts), findings: findingsOf(survey).length
  }
}

export function landView(survey: Survey, excluded: readonly string[], textOf: TextOf): LandView {
  const { model } = survey
  const byId = new Map(survey.modules.map(module => [module.id, module]))
  const verdicts = verdictsByModule(survey)
  const graphs = survey.moduleGraphs.filter(graph => graph.nodes.length > 0).map(graph => graphView(graph, survey, byId, verdicts))
  return {
    summary: summarise(survey), graphs, start: startingGraph(survey, byId), modules: survey.modules, nextSteps: findingRows(survey, textOf).slice(0, 40),
    problems: model.problems.slice(0, 500),
    unresolved: model.unresolved.slice(0, 500).map(({ file, ...rest }) => ({ file: model.files[file]!.path, ...rest })), excluded
  }
}

function graphView(graph: DependencyGraph, survey: Survey, byId: ReadonlyMap<string, Survey['modules'][number]>, verdicts: ReturnType<typeof verdictsByModule>): GraphView {
  const cycles = survey.moduleCycles.filter(cycle => cycle.within === graph.within)
  const cut = new Set(cycles.flatMap(cycle => cycle.cut.dependencies.map(one => `${one.from}\0${one.to}`)))
  const hasGraph = new Set(survey.moduleGraphs.filter(one => one.nodes.length > 1).map(one => one.within))
  return {
    within: graph.within,
    nodes: graph.nodes.map(id => {
      const measures = byId.get(id)
      const own = id === graph.within
      return {
        id, label: own ? `${labelOf(id)} (own files)` : labelOf(id, graph.within), opens: !own && hasGraph.has(id),
        lines: (own ? measures?.lines : measures?.subtree.lines) ?? 0, types: (own ? measures?.types : measures?.subtree.types) ?? 0,
        verdicts: (own ? verdicts.own : verdicts.subtree).get(id) ?? countVerdicts([])
      }
    }),
    dependencies: graph.dependencies.map(one => ({
      from: one.from, to: one.to, references: one.references.length, atRunTime: one.atRunTime, cut: cut.has(`${one.from}\0${one.to}`)
    })),
    cycles: cycles.map(cycle => [...cycle.members])
  }
}

/** Of its types a folder holds so much that its neighbours say nothing of the whole. */
const NEARLY_ALL = 0.9

/** The outermost folder in which there is more than one thing to see: nearly all that there is does not lie in one of them. */
function startingGraph(survey: Survey, byId: ReadonlyMap<string, Survey['modules'][number]>): string {
  const graphs = new Map(survey.moduleGraphs.map(graph => [graph.within, graph]))
  let at = '.'
  for (;;) {
    const nodes = graphs.get(at)?.nodes ?? []
    const typesOf = (id: string) => (id === at ? byId.get(id)?.types : byId.get(id)?.subtree.types) ?? 0
    const largest = [...nodes].sort((a, b) => typesOf(b) - typesOf(a))[0]
    const inside = largest === undefined || largest === at ? undefined : graphs.get(largest)
    const isTheWhole = nodes.length === 1 || (inside !== undefined && inside.nodes.length > nodes.length && typesOf(largest!) >= NEARLY_ALL * nodes.reduce((sum, id) => sum + typesOf(id), 0))
    if (!inside || !isTheWhole) return at
    at = largest!
  }
}

const LEVELS: Record<CycleLevel, (survey: Survey) => readonly Cycle[]> = {
  modules: survey => survey.moduleCycles, files: survey => survey.fileCycles, types: survey => survey.typeCycles
}

function keyOf(level: CycleLevel, cycle: Cycle): string {
  return `${level}:${cycle.within}:${cycle.members[0]}`
}

function cycleRow(level: CycleLevel, cycle: Cycle): CycleRow {
  return {
    level, key: keyOf(level, cycle), within: cycle.within, members: cycle.members, atRunTime: cycle.atRunTime,
    cut: cycle.cut.dependencies.map(one => ({ from: one.from, to: one.to, references: one.references.length })),
    cost: cycle.cut.references, lowerBound: cycle.cut.lowerBound
  }
}

export function cycleRows(survey: Survey): CycleRow[] {
  return (Object.keys(LEVELS) as CycleLevel[]).flatMap(level => LEVELS[level](survey).map(cycle => cycleRow(level, cycle)))
}

export function cycleView(survey: Survey, key: string): CycleView | null {
  const level = key.slice(0, key.indexOf(':')) as CycleLevel
  const cycle = LEVELS[level]?.(survey).find(one => keyOf(level, one) === key)
  return cycle ? {
    ...cycleRow(level, cycle),
    dependencies: cycle.dependencies.map(one => ({ from: one.from, to: one.to, references: one.references.length, atRunTime: one.atRunTime }))
  } : null
}

export function typeRow(survey: Survey, index: number): TypeRow {
  const type = survey.model.types[index]!
  const count = (kind: string) => survey.joints[index]!.filter(joint => joint.kind === kind).length
  return {
    id: type.id, name: type.name, kind: type.kind, module: type.module, file: survey.model.files[type.file]!.path, line: type.line, lines: type.lines,
    test: type.test, fanIn: survey.fanIn[index]!, fanOut: survey.fanOut[index]!,
    welded: count('welded'), bolted: count('bolted'), plugged: count('plugged'), inert: count('inert'), verdict: survey.verdicts[index]!
  }
}

/** `searching`: with what to plug, which takes a while on large code. `canReplace`: whether the statics of a type can be made replaceable. */
export function classView(survey: Survey, id: string, offers: readonly OfferView[], textOf: TextOf, searching: boolean, canReplace: (type: string) => boolean = () => false): ClassView | null {
  const { model } = survey
  const index = model.typeIndex.get(id)
  if (index === undefined) return null
  const type = model.types[index]!
  const byMember = clientsByMember(id, survey), tests = testsByMember(survey, index)
  const clients = dependenciesOn(survey, index).map(one => {
    const from = model.types[one.from]!
    const members = new Set(one.references.map(at => model.references.at(at).member).filter(name => name !== ''))
    return { id: from.id, name: from.name, test: from.test, members: [...members].sort(), references: one.references.length }
  }).sort((a, b) => Number(a.test) - Number(b.test) || b.references - a.references)
  const joints: JointView[] = survey.joints[index]!.map(joint => {
    const first = model.references.at(joint.references[0]!)
    const to = joint.to >= 0 ? model.types[joint.to]! : null
    return {
      kind: joint.kind, reason: joint.reason, behind: joint.kind === 'plugged' || joint.kind === 'inert' ? [] : to ? effectsBehind(survey, joint.to) : effectsOfExternal(survey, joint.references), pure: joint.kind === 'welded' && to !== null && survey.reach.isPure(joint.to), name: to?.name ?? joint.external, type: to?.id ?? null, references: joint.references.length,
      firstFile: model.files[first.file]!.path, firstLine: first.line,
      remedies: pluggingOf(survey, id, joint, offers, canReplace)
    }
  })
  const implementers = dependenciesOn(survey, index).filter(one => one.references.some(at => ['implements', 'extends'].includes(model.references.kind(at))))
    .map(one => ({ id: model.types[one.from]!.id, name: model.types[one.from]!.name }))
  return {
    row: typeRow(survey, index), joints, clients, implementers, offers,
    members: type.members.map(member => ({ name: member.name, kind: member.kind, public: member.public, line: member.span.line, clients: byMember.get(member.name)?.size ?? 0, tests: tests.get(member.name) ?? 0, refuses: member.refuses })),
    reach: reachView(survey, index, searching), ...insideView(survey, index), findings: findingsAbout(survey, id, textOf),
    cycles: survey.typeCycles.filter(cycle => cycle.members.includes(id)).map(cycle => cycleRow('types', cycle))
  }
}

/** What plugs a joint: handing in what is built or fetched; for statics, making them replaceable first; for what is no type of the project, an interface of its own. */
function pluggingOf(survey: Survey, id: string, joint: Joint, offers: readonly OfferView[], canReplace: (type: string) => boolean): JointView['remedies'] {
  const told = (found: readonly OfferView[]) => found.map(({ id: offer, title }) => ({ id: offer, title }))
  if (joint.to < 0) return told(offers.filter(wrapping(survey, id, joint)))
  const to = survey.model.types[joint.to]!
  const found = told(offers.filter(offer => offer.remedy === 'inject' && offer.id.startsWith(`inject:${id}:${to.id}`)))
  if (found.length > 0 || joint.kind !== 'welded' || joint.reason !== 'static' || offers.length === 0 || !canReplace(to.id)) return found
  const first = to.kind === 'functions' ? `Let the functions of ${to.name} be handed in together` : `Let ${to.name}'s static methods call an instance that can be replaced`
  return [{ id: `make-static-replaceable:${to.id}`, title: first }, { id: `inject:${id}:${to.id}`, title: `Hand ${to.name} to ${survey.model.types[survey.model.typeIndex.get(id)!]!.name}` }]
}

/** Tells the offers that put what a type uses of an external behind an interface: told by its name, or by what it touches of the language's own runtime. */
function wrapping(survey: Survey, id: string, { external, references }: Joint): (offer: OfferView) => boolean {
  const keys = new Set([external, ...kindsIn(survey.reach.behind(references)).flatMap(kind => [`runtime.${kind}`, `jdk.${kind}`])].map(key => `wrap-library:${id}:${key}`))
  return offer => keys.has(offer.id) || offer.id.startsWith(`wrap-library:${id}:${heldKey(external ?? '', '')}`)
}

/** What wraps an external wherever it is used, class by class. */
export function wrapOffers({ model }: Survey, external: string, offersOf: (type: string) => readonly OfferView[]): OfferView[] {
  const types = new Set<number>()
  for (let at = 0; at < model.references.length; at++) if (model.references.to(at) < 0 && model.references.external(at) === external && !model.types[model.references.from(at)]!.test) types.add(model.references.from(at))
  return [...types].flatMap(type => { const { id } = model.types[type]!; return offersOf(id).filter(offer => offer.id === `wrap-library:${id}:${external}` || offer.id.startsWith(`wrap-library:${id}:${heldKey(external, '')}`)) })
}

/** References of one dependency at a level, each with the lines around it. At most 300. */
export function referenceViews(survey: Survey, level: CycleLevel, within: string, from: string, to: string, textOf: (path: string) => string | undefined): ReferenceView[] {
  const graph = level === 'modules' ? survey.moduleGraphs.find(one => one.within === within)
    : level === 'files' ? fileGraph(survey.model, survey.dependencies) : typeGraph(survey.model, survey.dependencies)
  const dependency = graph?.dependencies.find(one => one.from === from && one.to === to)
  return dependency?.references.slice(0, 300).map(at => referenceView(survey, at, textOf)) ?? []
}

/** References by which one type holds another type, or an external by its name. */
export function jointReferences(survey: Survey, type: string, collaborator: string, textOf: (path: string) => string | undefined): ReferenceView[] {
  const index = survey.model.typeIndex.get(type)
  if (index === undefined) return []
  const to = survey.model.typeIndex.get(collaborator)
  const joint = survey.joints[index]!.find(one => (to === undefined ? one.external === collaborator : one.to === to))
  const dependency = to === undefined ? undefined : survey.dependencies.find(one => one.from === index && one.to === to)
  const list = [...new Set([...(joint?.references ?? []), ...(dependency?.references ?? [])])].sort((a, b) => a - b)
  return list.slice(0, 300).map(at => referenceView(survey, at, textOf))
}

function referenceView(survey: Survey, at: number, textOf: (path: string) => string | undefined): ReferenceView {
  const { model } = survey
  const reference = model.references.at(at)
  const file = model.files[reference.file]!.path
  const lines = (textOf(file) ?? '').split(/\r?\n/)
  const first = Math.max(1, reference.line - 1)
  return {
    file, line: reference.line, column: reference.column, kind: reference.kind, from: model.types[reference.from]!.id,
    to: reference.to >= 0 ? model.types[reference.to]!.id : reference.external, member: reference.member, typeOnly: reference.typeOnly,
    excerpt: lines.slice(first - 1, reference.line + 1).map(line => line.slice(0, 240)), firstLine: first,
    mark: [reference.column - 1, reference.column - 1 + reference.end - reference.start]
  }
}

/** What a change does to the measures: the project's, and those of the types that its steps are about. */
export function effectsOf(before: Survey, after: Survey, subjects: readonly string[]): MeasuredEffect[] {
  const a = summarise(before), b = summarise(after)
  const effects: MeasuredEffect[] = [
    { label: 'module cycles', before: a.moduleCycles, after: b.moduleCycles, better: 'less' },
    { label: 'file cycles', before: a.fileCycles, after: b.fileCycles, better: 'less' },
    { label: 'class cycles', before: a.typeCycles, after: b.typeCycles, better: 'less' },
    { label: 'references to cut', before: a.cutReferences, after: b.cutReferences, better: 'less' },
    { label: 'welded joints', before: a.joints.welded, after: b.joints.welded, better: 'less' },
    { label: 'bolted joints', before: a.joints.bolted, after: b.joints.bolted, better: 'less' },
    { label: 'plugged joints', before: a.joints.plugged, after: b.joints.plugged, better: 'more' },
    { label: 'types that need the outside', before: a.verdicts!['needs-outside'], after: b.verdicts!['needs-outside'], better: 'less' },
    { label: 'types that can be tested alone', before: a.verdicts!.alone, after: b.verdicts!.alone, better: 'more' },
    { label: 'types', before: a.types, after: b.types, better: 'neither' }
  ]
  for (const subject of new Set(subjects)) {
    const was = before.model.typeIndex.get(subject), is = after.model.typeIndex.get(subject)
    if (was === undefined || is === undefined) continue
    const old = typeRow(before, was), now = typeRow(after, is)
    effects.push({ label: `${old.name}: welded`, before: old.welded, after: now.welded, better: 'less' })
    effects.push({ label: `${old.name}: bolted`, before: old.bolted, after: now.bolted, better: 'less' })
    effects.push({ label: `${old.name}: plugged`, before: old.plugged, after: now.plugged, better: 'more' })
    effects.push({ label: `${old.name}: used by`, before: old.fanIn, after: now.fanIn, better: 'less' })
  }
  return effects.filter(effect => effect.before !== effect.after || /cycles$/.test(effect.label))
}
