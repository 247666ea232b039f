import type { Cycle, DependencyGraph } from './measure/cycles.js'
import { cyclesOf, fileGraph, moduleGraphs, typeGraph } from './measure/cycles.js'
import type { Dependency } from './measure/dependencies.js'
import { dependenciesOf, fansOf } from './measure/dependencies.js'
import type { Joint } from './measure/joints.js'
import { jointsOf } from './measure/joints.js'
import type { SolveCuts } from './measure/remembered-cuts.js'
import type { ModuleMeasures } from './measure/modules.js'
import { measureModules } from './measure/modules.js'
import { Reach } from './measure/reach.js'
import type { Verdict } from './measure/verdict.js'
import { verdictOf } from './measure/verdict.js'
import type { CodeModel } from './model/code-model.js'
import { folderRule, linkModel } from './model/link.js'
import { compareText } from './model/order.js'
import { sameButForPlaces } from './model/same-structure.js'
import { catalogueOf } from './effect/shipped.js'
import type { ProjectFacts } from './read/language.js'
import type { ProjectSettings } from './read/settings.js'

/** One measurement of a project: its model and all that is measured from it. */
export interface Survey {
  readonly model: CodeModel
  readonly dependencies: readonly Dependency[]
  readonly fanIn: Int32Array
  readonly fanOut: Int32Array
  /** Joints of each type, by its index. */
  readonly joints: readonly (readonly Joint[])[]
  /** What each type reaches. */
  readonly reach: Reach
  /** How far each type can be tested by itself, by its index; null for test code and types without logic. */
  readonly verdicts: readonly (Verdict | null)[]
  readonly kind: 'application' | 'library'
  readonly modules: readonly ModuleMeasures[]
  readonly moduleGraphs: readonly DependencyGraph[]
  readonly moduleCycles: readonly Cycle[]
  readonly fileCycles: readonly Cycle[]
  readonly typeCycles: readonly Cycle[]
  readonly unreadFiles: readonly string[]
  readonly notInstalled: readonly string[]
}

/** The module rule of a project: folders, or the roots that its settings name. */
export function moduleRuleOf(roots: readonly string[]): (path: string) => string {
  const longestFirst = [...roots].sort((a, b) => b.length - a.length)
  return path => longestFirst.find(root => path.startsWith(`${root}/`)) ?? folderRule(path)
}

/** The settings that measuring looks at. */
export type MeasureSettings = Partial<Pick<ProjectSettings, 'moduleRoots' | 'effects' | 'kind'>>

/** An earlier measurement under the same settings, and the facts that it was made from. */
export interface EarlierSurvey { readonly survey: Survey; readonly facts: ProjectFacts }

/**
 * Measures what was read. Pure: the same facts give the same survey. `solve`: finds the best cuts, by default one by one. Of an
 * `earlier` survey is kept what cannot have changed.
 */
export function measureProject(facts: ProjectFacts, settings: MeasureSettings = {}, solve?: SolveCuts, earlier?: EarlierSurvey): Survey {
  const { moduleRoots = [], effects = [], kind = 'application' } = settings
  const moduleOf = moduleRuleOf(moduleRoots)
  const linked = linkModel(facts.files, moduleOf, earlier?.survey.model.references.names)
  const model: CodeModel = {
    ...linked, problems: [...facts.problems, ...linked.problems].sort((a, b) => compareText(a.file, b.file) || a.line - b.line)
  }
  if (earlier && sameButForPlaces(earlier.facts.files, facts.files)) return movedSurvey(earlier.survey, model, facts)
  const dependencies = dependenciesOf(model)
  const graphs = moduleGraphs(model, dependencies)
  // Cuts may be found elsewhere meanwhile; they are waited for when they are asked for.
  const finishCycles = cyclesOf([...graphs, fileGraph(model, dependencies), typeGraph(model, dependencies)], solve)
  const joints = jointsOf(model)
  const changedFiles = earlier && changedFilesOf(model, earlier.facts, facts)
  const reach = Reach.of(model, language => catalogueOf(language, effects), changedFiles && { reach: earlier.survey.reach, changedFiles })
  let found: Cycle[][] | undefined
  return withCycles(() => (found ??= finishCycles()), {
    model, dependencies, ...fansOf(model, dependencies), joints, reach, kind,
    verdicts: model.types.map(type => verdictOf(model, joints, reach, type.index)),
    modules: measureModules(model, dependencies), moduleGraphs: graphs,
    unreadFiles: facts.unread, notInstalled: facts.notInstalled
  })
}

/** Numbers of the files whose facts are others than before; undefined where there were other files. */
function changedFilesOf({ files }: CodeModel, before: ProjectFacts, now: ProjectFacts): number[] | undefined {
  if (before.files.length !== now.files.length) return undefined
  const old = new Map(before.files.map(file => [file.path, file])), current = new Map(now.files.map(file => [file.path, file]))
  if (files.some(({ path }) => !old.has(path))) return undefined
  return files.flatMap(({ path }, index) => (old.get(path) === current.get(path) ? [] : [index]))
}

/** Of each graph of modules, then of files and of types; found when first asked for. */
type FindCycles = () => readonly (readonly Cycle[])[]

const cyclesOfSurvey = new WeakMap<Survey, FindCycles>()

function withCycles(cycles: FindCycles, rest: Omit<Survey, 'moduleCycles' | 'fileCycles' | 'typeCycles'>): Survey {
  const survey: Survey = {
    ...rest, get moduleCycles() { return cycles().slice(0, -2).flat() }, get fileCycles() { return cycles().at(-2)! }, get typeCycles() { return cycles().at(-1)! }
  }
  cyclesOfSurvey.set(survey, cycles)
  return survey
}

/** The same survey of code that has only moved: types, members and references have the same numbers, and stand elsewhere. */
function movedSurvey(before: Survey, model: CodeModel, { unread, notInstalled }: ProjectFacts): Survey {
  const { dependencies, fanIn, fanOut, joints, reach, kind, verdicts, moduleGraphs: graphs } = before
  // Not by way of the survey before: it and its model would be held, and those before it, for every save.
  return withCycles(cyclesOfSurvey.get(before)!, {
    model, dependencies, fanIn, fanOut, joints, reach, kind, verdicts, modules: measureModules(model, dependencies), moduleGraphs: graphs, unreadFiles: unread, notInstalled
  })
}

const byEnds = new WeakMap<Survey, { from: Dependency[][]; to: Dependency[][] }>()

function endsOf(survey: Survey): { from: Dependency[][]; to: Dependency[][] } {
  let ends = byEnds.get(survey)
  if (!ends) {
    ends = { from: survey.model.types.map(() => []), to: survey.model.types.map(() => []) }
    for (const dependency of survey.dependencies) { ends.from[dependency.from]!.push(dependency); ends.to[dependency.to]!.push(dependency) }
    byEnds.set(survey, ends)
  }
  return ends
}

/** The dependencies on a type, found for all types at once. */
export function dependenciesOn(survey: Survey, type: number): readonly Dependency[] { return endsOf(survey).to[type] ?? [] }

/** The dependencies of a type, found for all types at once. */
export function dependenciesFrom(survey: Survey, type: number): readonly Dependency[] { return endsOf(survey).from[type] ?? [] }
