import ts from 'typescript'
import type { BuildForTestsPlan, ComposeGraphPlan, ExtractClassPlan, ExtractInterfacePlan, ExtractPlainClassPlan, GroupArgumentsPlan, ImplementInterfacePlan, InjectionPoint, InjectPlan, IntroduceFacadePlan, LanguageWriter, MakeReplaceablePlan, MovableMember, MoveMemberPlan, MoveTypePlan, OutsideUses, PlainPart, PlanRefusal, RepeatedSequence, SplitInterfacePlan, StepOutcome, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { TypeNode } from '../declarations.js'
import type { Snapshot, TypeScriptSession } from '../session.js'
import type { WriteContext, Written } from './context.js'
import { buildForTests, repeatedSetUps } from './build-for-tests.js'
import { composeGraph } from './compose-graph.js'
import { canExtractClass, extractClass } from './extract-class.js'
import { extractInterface } from './extract-interface.js'
import { extractPlainClass, plainParts } from './extract-plain-class.js'
import { groupableParameters, groupArguments } from './group-arguments.js'
import { implementInterface, membersToImplement } from './implement-interface.js'
import { inject } from './inject.js'
import { introduceFacade, repeatedSequences } from './introduce-facade.js'
import { findInjectionPoints } from './injection-points.js'
import { makeReplaceable, replaceableMethods } from './make-replaceable.js'
import { publicMembers } from './members.js'
import { movableMembers, moveMember } from './move-member.js'
import { canMoveType, moveType } from './move-type.js'
import { dividedMembers, splitInterface } from './split-interface.js'
import { outsideUses, wrapLibrary } from './wrap-library.js'

/** Writes planned steps in TypeScript, each on the result of the one before. */
export class TypeScriptWriter implements LanguageWriter {
  private state: Snapshot

  constructor(private readonly session: TypeScriptSession, start: Snapshot) {
    this.state = start
  }

  /** The state that the steps so far lead to. */
  get current(): Snapshot { return this.state }
  get snapshot(): Snapshot { return this.state }

  private get context(): WriteContext {
    return { session: this.session, snapshot: this.state, root: this.session.root }
  }

  private classOf(id: string): ts.ClassLikeDeclaration | undefined {
    const node = declarationOf(id, this.state, this.session.root)
    return node && ts.isClassLike(node) ? node : undefined
  }

  /** The file whose functions a unit stands for. */
  private unitOf(id: string): ts.SourceFile | undefined {
    const file = id.endsWith('#') ? this.state.program.getSourceFile(`${this.session.root}/${id.slice(0, -1)}`) : undefined
    return file && this.state.pathOf(file) !== undefined ? file : undefined
  }

  private take(outcome: Written | PlanRefusal): StepOutcome {
    if ('refused' in outcome) return outcome
    this.state = outcome.after
    return outcome.step
  }

  interfaceMembers(type: string): readonly string[] {
    const node = this.classOf(type)
    return node ? publicMembers(node, this.state).map(member => member.name) : []
  }

  extractInterface(plan: ExtractInterfacePlan): StepOutcome {
    const node = this.classOf(plan.type)
    const others = (plan.others ?? []).map(id => this.classOf(id))
    if (others.includes(undefined)) return planRefused('no-class', 'One of the other classes is not there any more.')
    return node ? this.take(extractInterface(plan, node, this.context, others as ts.ClassLikeDeclaration[])) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  injectionPoints(type: string): readonly InjectionPoint[] {
    const node = this.classOf(type) ?? this.unitOf(type)
    return node ? findInjectionPoints(type, node, this.state).map(point => point.told) : []
  }

  inject(plan: InjectPlan): StepOutcome {
    const node = this.classOf(plan.type) ?? this.unitOf(plan.type)
    return node ? this.take(inject(plan, node, this.context)) : planRefused('no-class', `${plan.type} is neither a class nor a file of the project.`)
  }

  outsideUses(type: string): readonly OutsideUses[] {
    const node = this.classOf(type)
    return node ? outsideUses(type, node, this.state) : []
  }

  wrapLibrary(plan: WrapLibraryPlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(wrapLibrary(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  private interfaceOf(id: string): ts.InterfaceDeclaration | undefined {
    const node = declarationOf(id, this.state, this.session.root)
    return node && ts.isInterfaceDeclaration(node) ? node : undefined
  }

  dividedMembers(type: string): readonly string[] {
    const node = this.interfaceOf(type)
    return node ? dividedMembers(node) : []
  }

  splitInterface(plan: SplitInterfacePlan): StepOutcome {
    const node = this.interfaceOf(plan.type)
    return node ? this.take(splitInterface(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not an interface of the project.`)
  }

  membersToImplement(type: string): readonly string[] {
    const node = this.interfaceOf(type)
    return node ? membersToImplement(node, this.state) : []
  }

  implementInterface(plan: ImplementInterfacePlan): StepOutcome {
    const node = this.interfaceOf(plan.type)
    return node ? this.take(implementInterface(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not an interface of the project.`)
  }

  canExtractClass(type: string, members: readonly string[]): boolean {
    const node = this.classOf(type)
    return node !== undefined && canExtractClass(node, members, type, this.state)
  }

  extractClass(plan: ExtractClassPlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(extractClass(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  groupableParameters(type: string): readonly string[] {
    const node = this.classOf(type)
    return node ? groupableParameters(node) : []
  }

  groupArguments(plan: GroupArgumentsPlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(groupArguments(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  replaceableMethods(type: string): readonly string[] {
    const node = this.classOf(type)
    return node ? replaceableMethods(node) : []
  }

  makeReplaceable(plan: MakeReplaceablePlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(makeReplaceable(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  canMove(type: string, _module: string): boolean {
    const node = declarationOf(type, this.state, this.session.root)
    return node !== undefined && canMoveType(node, this.state)
  }

  moveType(plan: MoveTypePlan): StepOutcome {
    const node = declarationOf(plan.type, this.state, this.session.root)
    return node ? this.take(moveType(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a type of the project.`)
  }

  movableMembers(type: string): readonly MovableMember[] {
    const node = this.classOf(type)
    return node ? movableMembers(node, this.state) : []
  }

  moveMember(plan: MoveMemberPlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(moveMember(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  repeatedSequences(type: string): readonly RepeatedSequence[] {
    return declarationOf(type, this.state, this.session.root) ? repeatedSequences(type, this.state) : []
  }

  introduceFacade(plan: IntroduceFacadePlan): StepOutcome {
    return this.take(introduceFacade(plan, this.context))
  }

  repeatedSetUps(type: string): readonly RepeatedSequence[] {
    return declarationOf(type, this.state, this.session.root) ? repeatedSetUps(type, this.state) : []
  }

  buildForTests(plan: BuildForTestsPlan): StepOutcome {
    return this.take(buildForTests(plan, this.context))
  }

  plainParts(type: string): readonly PlainPart[] {
    const node = this.classOf(type)
    return node ? plainParts(node, this.state) : []
  }

  extractPlainClass(plan: ExtractPlainClassPlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(extractPlainClass(plan, node, this.context)) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }

  composeGraph(plan: ComposeGraphPlan): StepOutcome {
    const node = this.classOf(plan.type)
    return node ? this.take(composeGraph(plan, node, this.context, id => this.classOf(id))) : planRefused('no-class', `${plan.type} is not a class of the project.`)
  }
}

/** The declaration of a type by its id. */
export function declarationOf(id: string, snapshot: Snapshot, root: string): TypeNode | undefined {
  const file = snapshot.program.getSourceFile(`${root}/${id.slice(0, id.indexOf('#'))}`)
  if (!file || snapshot.pathOf(file) === undefined) return undefined
  for (const [node, declared] of snapshot.declarations.declaredIn(file)) {
    if (declared.id === id && (ts.isClassLike(node) || ![...snapshot.declarations.declaredIn(file)].some(([other, also]) => also.id === id && ts.isClassLike(other)))) return node as TypeNode
  }
  return undefined
}
