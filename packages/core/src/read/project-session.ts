import type { Plans, Questions, StepOutcome, WriterAt } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import { compareText } from '../model/order.js'
import { closedFolderOf } from '../edit/closed-folders.js'
import { excludedPart } from './discover.js'
import type { FileSource } from './file-source.js'
import type { CodeState, CompilerInput, LanguageSession, ProjectFacts, ReadProgress } from './language.js'
import type { ProjectSettings } from './settings.js'
import { writerOf } from './write/writing-tables.js'

/** One state of a project in all its languages. */
export interface ProjectState extends CodeState {
  /** The state in each language, in the order of the session's languages. */
  readonly parts: readonly CodeState[]
}

/** Reads a project in every language that it is written in, as one. A type belongs to the language whose file declares it. */
export class ProjectSession implements LanguageSession<ProjectState> {
  private source: FileSource | undefined

  /** With `settings`, a plan that puts a new file where the project's exclusions would hide it is refused. */
  constructor(readonly root: string, private readonly languages: readonly LanguageSession[], private readonly settings?: ProjectSettings) {}

  read(source: FileSource, before?: ProjectState, progress?: ReadProgress, stop?: () => void): ProjectState {
    this.source = source
    return stateOf(this.languages.map((language, index) => language.read(source, before?.parts[index], progress, stop)))
  }

  edit(before: ProjectState, texts: ReadonlyMap<string, string | null>): ProjectState {
    return stateOf(this.languages.map((language, index) => language.edit(before.parts[index]!, texts)))
  }

  writer(at: ProjectState): WriterAt<ProjectState> {
    return projectWriter(this.languages.map((language, index) => language.writer(at.parts[index]!)), outcome => this.inReach(outcome))
  }

  /** Refuses a step that would write where nothing is written to, or put a new file where no survey would see it. */
  private inReach(outcome: StepOutcome): StepOutcome {
    if (outcome.refused) return outcome
    for (const { path, before } of outcome.changes) {
      const closed = closedFolderOf(path)
      if (closed !== undefined) return planRefused('closed-folder', `${path} would lie in ${closed}, which Hollowmoor never writes to; choose another place.`)
      const excluded = before === null && this.settings && this.source ? excludedPart(this.source, this.root, this.settings, path) : undefined
      if (excluded !== undefined) return planRefused('excluded', `${path} would lie in ${excluded}, which this project excludes; choose another place, or change the exclusions.`)
    }
    return outcome
  }

  newProblems(before: ProjectState, after: ProjectState, changed: readonly string[]): string[] {
    return this.languages.flatMap((language, index) => language.newProblems(before.parts[index]!, after.parts[index]!, changed))
  }

  compilerInputs(at: ProjectState): CompilerInput[] {
    return this.languages.flatMap((language, index) => language.compilerInputs(at.parts[index]!))
  }
}

function stateOf(parts: readonly CodeState[]): ProjectState {
  let facts: ProjectFacts | undefined
  return {
    parts, sources: parts.flatMap(part => part.sources).sort(compareText),
    textOf: path => { for (const part of parts) { const text = part.textOf(path); if (text !== undefined) return text } return undefined },
    get facts() { return facts ??= merged(parts.map(part => part.facts)) }
  }
}

function merged(all: readonly ProjectFacts[]): ProjectFacts {
  const unique = (lists: readonly (readonly string[])[]) => [...new Set(lists.flat())].sort(compareText)
  return {
    files: all.flatMap(facts => facts.files).sort((a, b) => compareText(a.path, b.path)),
    unread: unique(all.map(facts => facts.unread)), notInstalled: unique(all.map(facts => facts.notInstalled)), excluded: unique(all.map(facts => facts.excluded)),
    problems: all.flatMap(facts => facts.problems).sort((a, b) => compareText(a.file, b.file) || a.line - b.line)
  }
}

/** Hands each question and plan to the writer of the language that declares the type. */
function projectWriter(writers: readonly WriterAt<CodeState>[], checked: (outcome: StepOutcome) => StepOutcome): WriterAt<ProjectState> {
  const of = (type: string): WriterAt<CodeState> | undefined => writers.find(writer => writer.current.facts.files.some(file => file.types.some(one => one.id === type)))
  const writer = writerOf(
    (question, asked) => (of(asked[0])?.[question] as ((...all: typeof asked) => ReturnType<Questions[typeof question]>) | undefined)?.(...asked),
    (kind, plan) => {
      const write = of(plan.type)?.[kind] as ((plan: Plans[typeof kind]) => StepOutcome) | undefined
      return write ? checked(write(plan)) : planRefused('no-class', `${plan.type} is not a type of the project.`)
    }
  )
  return Object.defineProperties(writer, {
    current: { get: () => stateOf(writers.map(one => one.current)) },
    sketch: { get: () => projectWriter(writers.map(one => one.sketch), checked) }
  }) as unknown as WriterAt<ProjectState>
}
