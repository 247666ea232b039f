import type { BuildForTestsPlan, ComposeGraphPlan, ExtractClassPlan, ExtractInterfacePlan, ExtractPlainClassPlan, GroupArgumentsPlan, ImplementInterfacePlan, InjectionPoint, InjectPlan, IntroduceFacadePlan, LanguageWriter, MakeReplaceablePlan, MovableMember, MoveMemberPlan, MoveTypePlan, OutsideUses, PlainPart, PlanRefusal, RepeatedSequence, SplitInterfacePlan, StepOutcome, WrapLibraryPlan } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Refused } from '../../write/refused.js'
import type { JavaSession, JavaState } from '../java-session.js'
import type { BoundProgram } from '../bound-program.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { buildForJavaTests, repeatedJavaSetUps } from './build-for-tests.js'
import { composeJavaGraph } from './compose-graph.js'
import { canExtractJavaClass, extractJavaClass } from './extract-class.js'
import { extractJavaInterface } from './extract-interface.js'
import { extractPlainJavaClass, plainJavaParts } from './extract-plain-class.js'
import { groupableParameters, groupJavaArguments } from './group-arguments.js'
import { implementJavaInterface, methodsToImplement } from './implement-interface.js'
import { injectInJava } from './inject.js'
import { findJavaInjectionPoints } from './injection-points.js'
import { publicMethods } from './interface-members.js'
import { introduceJavaFacade, javaRepeatedSequences } from './introduce-facade.js'
import { makeJavaReplaceable, replaceableMethods } from './make-replaceable.js'
import { movableJavaMembers, moveJavaMember } from './move-member.js'
import { canMoveJavaType, moveJavaType, wouldOpenTooMuch } from './move-type.js'
import { dividedMethods, splitJavaInterface } from './split-interface.js'
import { javaOutsideUses, wrapJavaLibrary } from './wrap-library.js'

/** Writes planned steps in Java, each on the result of the one before. */
export class JavaWriter implements LanguageWriter {
  private state: JavaState

  constructor(private readonly language: JavaSession, start: JavaState) { this.state = start }

  /** The state that the steps so far lead to. */
  get current(): JavaState { return this.state }

  private get context(): JavaWriteContext { return { language: this.language, state: this.state, bound: this.bound } }
  private get bound(): BoundProgram { return this.language.bound(this.state) }

  private take(type: string, plan: (symbol: ClassSymbol) => JavaWritten | PlanRefusal): StepOutcome {
    const symbol = this.bound.classById(type)
    if (!symbol) return planRefused('no-class', `${type} is not a class that can be changed here.`)
    try {
      const outcome = plan(symbol)
      if ('refused' in outcome) return outcome
      this.state = outcome.after
      return outcome.step
    } catch (error) {
      if (error instanceof Refused) return planRefused(error.reason, /[.!]$/.test(error.message) ? error.message : `${error.message}.`)
      throw error
    }
  }

  interfaceMembers(type: string): readonly string[] {
    const symbol = this.bound.classById(type)
    return symbol ? [...new Set(publicMethods(symbol, this.bound).map(({ method }) => method.name))] : []
  }

  extractInterface(plan: ExtractInterfacePlan): StepOutcome {
    return this.take(plan.type, symbol => extractJavaInterface(plan, symbol, this.context))
  }

  injectionPoints(type: string): readonly InjectionPoint[] {
    const symbol = this.bound.classById(type)
    return symbol ? findJavaInjectionPoints(symbol, this.context).map(point => point.told) : []
  }

  inject(plan: InjectPlan): StepOutcome {
    return this.take(plan.type, symbol => injectInJava(plan, symbol, this.context))
  }

  outsideUses(type: string): readonly OutsideUses[] {
    const symbol = this.bound.classById(type)
    return symbol ? javaOutsideUses(symbol, this.context) : []
  }

  wrapLibrary(plan: WrapLibraryPlan): StepOutcome { return this.take(plan.type, symbol => wrapJavaLibrary(plan, symbol, this.context)) }

  dividedMembers(type: string): readonly string[] {
    const symbol = this.bound.classById(type)
    return symbol ? dividedMethods(symbol, this.bound) : []
  }

  splitInterface(plan: SplitInterfacePlan): StepOutcome { return this.take(plan.type, symbol => splitJavaInterface(plan, symbol, this.context)) }

  membersToImplement(type: string): readonly string[] {
    const symbol = this.bound.classById(type)
    return symbol ? methodsToImplement(symbol, this.bound) : []
  }

  implementInterface(plan: ImplementInterfacePlan): StepOutcome { return this.take(plan.type, symbol => implementJavaInterface(plan, symbol, this.context)) }

  canExtractClass(type: string, members: readonly string[]): boolean {
    const symbol = this.bound.classById(type)
    return symbol !== undefined && canExtractJavaClass(symbol, members, this.bound)
  }

  extractClass(plan: ExtractClassPlan): StepOutcome { return this.take(plan.type, symbol => extractJavaClass(plan, symbol, this.context)) }

  groupableParameters(type: string): readonly string[] {
    const symbol = this.bound.classById(type)
    return symbol ? groupableParameters(symbol, this.bound) : []
  }

  groupArguments(plan: GroupArgumentsPlan): StepOutcome { return this.take(plan.type, symbol => groupJavaArguments(plan, symbol, this.context)) }

  replaceableMethods(type: string): readonly string[] {
    const symbol = this.bound.classById(type)
    return symbol ? replaceableMethods(symbol, this.bound) : []
  }

  makeReplaceable(plan: MakeReplaceablePlan): StepOutcome { return this.take(plan.type, symbol => makeJavaReplaceable(plan, symbol, this.context)) }

  canMove(type: string, module: string): boolean {
    const symbol = this.bound.classById(type)
    return symbol !== undefined && canMoveJavaType(symbol, this.bound) && !wouldOpenTooMuch(symbol, module, this.context)
  }

  moveType(plan: MoveTypePlan): StepOutcome { return this.take(plan.type, symbol => moveJavaType(plan, symbol, this.context)) }

  repeatedSequences(type: string): readonly RepeatedSequence[] { return this.bound.classById(type) ? javaRepeatedSequences(type, this.context) : [] }

  repeatedSetUps(type: string): readonly RepeatedSequence[] { return this.bound.classById(type) ? repeatedJavaSetUps(type, this.context) : [] }

  buildForTests(plan: BuildForTestsPlan): StepOutcome { return this.take(plan.type, () => buildForJavaTests(plan, this.context)) }

  plainParts(type: string): readonly PlainPart[] {
    const symbol = this.bound.classById(type)
    return symbol ? plainJavaParts(symbol, this.context) : []
  }

  extractPlainClass(plan: ExtractPlainClassPlan): StepOutcome { return this.take(plan.type, symbol => extractPlainJavaClass(plan, symbol, this.context)) }

  introduceFacade(plan: IntroduceFacadePlan): StepOutcome { return this.take(plan.type, () => introduceJavaFacade(plan, this.context)) }

  movableMembers(type: string): readonly MovableMember[] {
    const symbol = this.bound.classById(type)
    return symbol ? movableJavaMembers(symbol, this.bound) : []
  }

  moveMember(plan: MoveMemberPlan): StepOutcome { return this.take(plan.type, symbol => moveJavaMember(plan, symbol, this.context)) }

  composeGraph(plan: ComposeGraphPlan): StepOutcome { return this.take(plan.type, symbol => composeJavaGraph(plan, symbol, this.context)) }
}
