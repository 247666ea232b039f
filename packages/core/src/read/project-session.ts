import type { Plans, Questions, StepOutcome, WriterAt } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import { compareText } from '../model/order.js'
import type { FileSource } from './file-source.js'
import type { CodeState, CompilerInput, LanguageSession, ProjectFacts, ReadProgress } from './language.js'
import { writerOf } from './write/writing-tables.js'

/** One state of a project in all its languages. */
export interface ProjectState extends CodeState {
  /** The state in each language, in the order of the session's languages. */
  readonly parts: readonly CodeState[]
}

/** Reads a project in every language that it is written in, as one. A type belongs to the language whose file declares it. */
export class ProjectSession implements LanguageSession<ProjectState> {
  constructor(readonly root: string, private readonly languages: readonly LanguageSession[]) {}

  read(source: FileSource, before?: ProjectState, progress?: ReadProgress, stop?: () => void): ProjectState {
    return stateOf(this.languages.map((language, index) => language.read(source, before?.parts[index], progress, stop)))
  }

  edit(before: ProjectState, texts: ReadonlyMap<string, string | null>): ProjectState {
    return stateOf(this.languages.map((language, index) => language.edit(before.parts[index]!, texts)))
  }

  writer(at: ProjectState): WriterAt<ProjectState> {
    return projectWriter(this.languages.map((language, index) => language.writer(at.parts[index]!)))
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
function projectWriter(writers: readonly WriterAt<CodeState>[]): WriterAt<ProjectState> {
  const of = (type: string): WriterAt<CodeState> | undefined => writers.find(writer => writer.current.facts.files.some(file => file.types.some(one => one.id === type)))
  const writer = writerOf(
    (question, asked) => (of(asked[0])?.[question] as ((...all: typeof asked) => ReturnType<Questions[typeof question]>) | undefined)?.(...asked),
    (kind, plan) => (of(plan.type)?.[kind] as ((plan: Plans[typeof kind]) => StepOutcome) | undefined)?.(plan) ?? planRefused('no-class', `${plan.type} is not a type of the project.`)
  )
  return Object.defineProperties(writer, {
    current: { get: () => stateOf(writers.map(one => one.current)) },
    sketch: { get: () => projectWriter(writers.map(one => one.sketch)) }
  }) as unknown as WriterAt<ProjectState>
}
