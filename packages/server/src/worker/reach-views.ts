import type { ClassView, PathStepView, PluggedView, ReachView, SetupView, VerdictCounts } from '@hollowmoor/contract/views'
import { bitOf, kindsIn, notKnownOf, outsideOf } from '@hollowmoor/core/effect/kinds'
import { clientGroups } from '@hollowmoor/core/find/interfaces'
import { cohesionOf } from '@hollowmoor/core/measure/cohesion'
import { crossCuttingTypes } from '@hollowmoor/core/find/cross-cutting'
import { pathLines } from '@hollowmoor/core/measure/places'
import { collaboratorOf, smallestPlugs } from '@hollowmoor/core/measure/plugs'
import type { ReachedEffect } from '@hollowmoor/core/measure/reach'
import type { SetupNode } from '@hollowmoor/core/measure/setup-tree'
import { setupOf } from '@hollowmoor/core/measure/setup-tree'
import { countVerdicts, verdictFrom } from '@hollowmoor/core/measure/verdict'
import type { Survey } from '@hollowmoor/core/survey'
import { dependenciesOn } from '@hollowmoor/core/survey'

/** What keeps a type from being tested by itself. `searching`: also the paths and what to plug, which takes many walks. */
export function reachView(survey: Survey, type: number, searching: boolean): ReachView {
  const { model, reach } = survey
  const set = searching ? reach.setOf(type) : 0
  const setup = setupOf(model, type)
  const blocked = outsideOf(set) !== 0 || notKnownOf(set) !== 0
  const plugs = searching && blocked ? smallestPlugs(reach, type, survey.joints[type]!) : null
  return {
    searched: searching, effects: !searching ? [] : reach.effectsOf(type).map(effect => ({ kind: effect.kind, borne: outsideOf(bitOf(effect.kind)) === 0 && notKnownOf(bitOf(effect.kind)) === 0, path: pathView(survey, effect) })),
    plugs: plugs && {
      collaborators: plugs.collaborators.map(one => (typeof one === 'number' ? { name: model.types[one]!.name, type: model.types[one]!.id } : { name: one, type: null })), proven: plugs.proven,
      others: othersFreed(survey, type, plugs.collaborators)
    },
    held: searching && blocked && plugs === null,
    setup: { arguments: setup.arguments.map(node => setupView(survey, node)), realObjects: setup.realObjects, doubles: setup.doubles, lines: setup.lines }
  }
}

function pathView({ model }: Survey, effect: ReachedEffect): PathStepView[] {
  return pathLines(model, effect).map(({ type, member, file, line, column }) => ({ type: model.types[type]!.id, name: model.types[type]!.name, member, file: model.files[file]!.path, line, column }))
}

function setupView(survey: Survey, { name, text, kind, type, children }: SetupNode): SetupView {
  const id = type < 0 ? null : survey.model.types[type]!.id
  return { name, text, kind, type: id, wantedBy: id === null ? 0 : crossCuttingTypes(survey).get(id) ?? 0, children: children.map(child => setupView(survey, child)) }
}

/** What would be of a type if `plugged`, ids of types or names of externals, were handed in as abstractions. */
export function pluggedView(survey: Survey, type: number, plugged: readonly string[]): PluggedView {
  const collaborators = plugged.map(name => survey.model.typeIndex.get(name) ?? name), set = new Set(collaborators)
  const left = survey.reach.setWithout(type, set)
  const joints = survey.joints[type]!.map(joint => (set.has(collaboratorOf(joint)) ? { ...joint, kind: 'plugged' as const } : joint))
  const verdict = verdictFrom(survey.model, type, joints, left)
  return { verdict, effects: kindsIn(outsideOf(left) | notKnownOf(left)), others: othersFreed(survey, type, collaborators) }
}

/** How many other types would reach nothing outside with the same plugged. */
function othersFreed(survey: Survey, type: number, plugged: readonly (number | string)[]): number {
  const set = new Set(plugged)
  const candidates = new Set<number>()
  survey.joints.forEach((joints, other) => { if (other !== type && survey.verdicts[other] === 'needs-outside' && joints.some(joint => set.has(collaboratorOf(joint)))) candidates.add(other) })
  return [...candidates].filter(other => { const left = survey.reach.setWithout(other, set); return outsideOf(left) === 0 && notKnownOf(left) === 0 }).length
}

/** How the members of a type and its clients fall into groups. */
export function insideView(survey: Survey, type: number): Pick<ClassView, 'cohesion' | 'clientGroups'> {
  return {
    cohesion: cohesionOf(survey.model, type),
    clientGroups: clientGroups(survey, type).map(group => ({ clients: group.clients.map(client => survey.model.types[client]!.id), members: group.members }))
  }
}

/** Effects that a collaborator reaches by itself, for the table of joints. */
export function effectsBehind(survey: Survey, collaborator: number): readonly string[] { return kindsIn(survey.reach.deciding(collaborator)) }

/** Effects of the calls of a library or of the runtime. */
export function effectsOfExternal(survey: Survey, references: readonly number[]): readonly string[] { return kindsIn(survey.reach.behind(references)) }

/** Verdicts of the types of each module, and of all below it. */
export function verdictsByModule(survey: Survey): { readonly own: ReadonlyMap<string, VerdictCounts>; readonly subtree: ReadonlyMap<string, VerdictCounts> } {
  const own = new Map<string, (Survey['verdicts'][number])[]>(), subtree = new Map<string, (Survey['verdicts'][number])[]>()
  const add = (lists: typeof own, module: string, verdict: Survey['verdicts'][number]) => { const list = lists.get(module); if (list) list.push(verdict); else lists.set(module, [verdict]) }
  for (const type of survey.model.types) {
    const verdict = survey.verdicts[type.index]!
    if (!verdict) continue
    add(own, type.module, verdict)
    for (let at = type.module; ; at = at.includes('/') ? at.slice(0, at.lastIndexOf('/')) : '.') { add(subtree, at, verdict); if (!at.includes('/')) break }
  }
  const counted = (lists: typeof own) => new Map([...lists].map(([module, list]) => [module, countVerdicts(list)]))
  return { own: counted(own), subtree: counted(subtree) }
}

/** Tests that use a member, by themselves. */
export function testsByMember(survey: Survey, type: number): Map<string, number> {
  const found = new Map<string, Set<number>>()
  for (const { from, references } of dependenciesOn(survey, type)) {
    if (!survey.model.types[from]!.test) continue
    for (const at of references) { const member = survey.model.references.member(at); const set = found.get(member) ?? new Set(); found.set(member, set.add(survey.model.types[from]!.file)) }
  }
  return new Map([...found].map(([member, set]) => [member, set.size]))
}
