import type { BuildForTestsPlan, ComposeGraphPlan, ExtractClassPlan, ExtractInterfacePlan, ExtractPlainClassPlan, GroupArgumentsPlan, ImplementInterfacePlan, InjectionPoint, InjectPlan, IntroduceFacadePlan, LanguageWriter, MakeReplaceablePlan, MovableMember, MoveMemberPlan, MoveTypePlan, OutsideUses, PlainPart, RepeatedSequence, SplitInterfacePlan, StepOutcome, WrapLibraryPlan } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import { compareText } from '../model/order.js'
import type { FileSource } from './file-source.js'
import type { CodeState, CompilerInput, LanguageSession, ProjectFacts, ReadProgress } from './language.js'

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

  writer(at: ProjectState): LanguageWriter & { readonly current: ProjectState } {
    return new ProjectWriter(this.languages.map((language, index) => language.writer(at.parts[index]!)))
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

/** Hands each plan to the writer of the language that declares the type. */
class ProjectWriter implements LanguageWriter {
  constructor(private readonly writers: readonly (LanguageWriter & { readonly current: CodeState })[]) {}

  get current(): ProjectState { return stateOf(this.writers.map(writer => writer.current)) }

  private of(type: string): LanguageWriter | undefined {
    return this.writers.find(writer => writer.current.facts.files.some(file => file.types.some(one => one.id === type)))
  }

  private readonly unknown = (type: string) => planRefused('no-class', `${type} is not a type of the project.`)

  interfaceMembers(type: string): readonly string[] { return this.of(type)?.interfaceMembers(type) ?? [] }
  extractInterface(plan: ExtractInterfacePlan): StepOutcome { return this.of(plan.type)?.extractInterface(plan) ?? this.unknown(plan.type) }
  injectionPoints(type: string): readonly InjectionPoint[] { return this.of(type)?.injectionPoints(type) ?? [] }
  inject(plan: InjectPlan): StepOutcome { return this.of(plan.type)?.inject(plan) ?? this.unknown(plan.type) }
  outsideUses(type: string): readonly OutsideUses[] { return this.of(type)?.outsideUses(type) ?? [] }
  wrapLibrary(plan: WrapLibraryPlan): StepOutcome { return this.of(plan.type)?.wrapLibrary(plan) ?? this.unknown(plan.type) }
  dividedMembers(type: string): readonly string[] { return this.of(type)?.dividedMembers(type) ?? [] }
  splitInterface(plan: SplitInterfacePlan): StepOutcome { return this.of(plan.type)?.splitInterface(plan) ?? this.unknown(plan.type) }
  replaceableMethods(type: string): readonly string[] { return this.of(type)?.replaceableMethods(type) ?? [] }
  makeReplaceable(plan: MakeReplaceablePlan): StepOutcome { return this.of(plan.type)?.makeReplaceable(plan) ?? this.unknown(plan.type) }
  membersToImplement(type: string): readonly string[] { return this.of(type)?.membersToImplement(type) ?? [] }
  implementInterface(plan: ImplementInterfacePlan): StepOutcome { return this.of(plan.type)?.implementInterface(plan) ?? this.unknown(plan.type) }
  canExtractClass(type: string, members: readonly string[]): boolean { return this.of(type)?.canExtractClass(type, members) ?? false }
  extractClass(plan: ExtractClassPlan): StepOutcome { return this.of(plan.type)?.extractClass(plan) ?? this.unknown(plan.type) }
  groupableParameters(type: string): readonly string[] { return this.of(type)?.groupableParameters(type) ?? [] }
  groupArguments(plan: GroupArgumentsPlan): StepOutcome { return this.of(plan.type)?.groupArguments(plan) ?? this.unknown(plan.type) }
  canMove(type: string, module: string): boolean { return this.of(type)?.canMove(type, module) ?? false }
  moveType(plan: MoveTypePlan): StepOutcome { return this.of(plan.type)?.moveType(plan) ?? this.unknown(plan.type) }
  movableMembers(type: string): readonly MovableMember[] { return this.of(type)?.movableMembers(type) ?? [] }
  moveMember(plan: MoveMemberPlan): StepOutcome { return this.of(plan.type)?.moveMember(plan) ?? this.unknown(plan.type) }
  repeatedSetUps(type: string): readonly RepeatedSequence[] { return this.of(type)?.repeatedSetUps(type) ?? [] }
  buildForTests(plan: BuildForTestsPlan): StepOutcome { return this.of(plan.type)?.buildForTests(plan) ?? this.unknown(plan.type) }
  plainParts(type: string): readonly PlainPart[] { return this.of(type)?.plainParts(type) ?? [] }
  extractPlainClass(plan: ExtractPlainClassPlan): StepOutcome { return this.of(plan.type)?.extractPlainClass(plan) ?? this.unknown(plan.type) }
  repeatedSequences(type: string): readonly RepeatedSequence[] { return this.of(type)?.repeatedSequences(type) ?? [] }
  introduceFacade(plan: IntroduceFacadePlan): StepOutcome { return this.of(plan.type)?.introduceFacade(plan) ?? this.unknown(plan.type) }
  composeGraph(plan: ComposeGraphPlan): StepOutcome { return this.of(plan.type)?.composeGraph(plan) ?? this.unknown(plan.type) }
}
