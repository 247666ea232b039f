import type { PlanRefusal, WriterAt } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Refused } from '../../write/refused.js'
import { declaredLines } from '../../write/shown-statements.js'
import type { Answers, Planners } from '../../write/writing-tables.js'
import { writerOfTables } from '../../write/writing-tables.js'
import type { JavaSession, JavaState } from '../java-session.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { buildForJavaTests, repeatedJavaSetUps } from './build-for-tests.js'
import { composeJavaGraph } from './compose-graph.js'
import { extractJavaClass } from './extract-class.js'
import { canExtractJavaClass } from './extraction.js'
import { sharedJavaFields } from './shared-fields.js'
import { extractJavaInterface } from './extract-interface.js'
import { extractPlainJavaClass, plainJavaParts, touchingJavaPart } from './extract-plain-class.js'
import { firstJavaTestMembers, writeFirstJavaTest } from './write-first-test.js'
import { groupableParameters, groupJavaArguments } from './group-arguments.js'
import { implementJavaInterface, methodsToImplement } from './implement-interface.js'
import { injectInJava } from './inject.js'
import { findJavaInjectionPoints } from './injection-points.js'
import { publicMethods } from './interface-members.js'
import { introduceJavaFacade, javaRepeatedSequences, showableJavaSequence } from './introduce-facade.js'
import { makeJavaReplaceable, replaceableMethods } from './make-replaceable.js'
import { movableJavaMembers, moveJavaMember } from './move-member.js'
import { canMoveJavaType, moveJavaType, wouldOpenTooMuch } from './move-type.js'
import { javaTypeSwitches, replaceJavaTypeSwitch } from './replace-type-switch.js'
import { javaStaticFaces, retireJavaStaticFace } from './retire-static-face.js'
import { dividedMethods, splitJavaInterface } from './split-interface.js'
import { javaOutsideUses, wrapJavaLibrary } from './wrap-library.js'

export type JavaWriter = WriterAt<JavaState>

/** Writes planned steps in Java, each on the result of the one before. */
export function javaWriter(language: JavaSession, start: JavaState): JavaWriter {
  return writerOfTables<JavaWriteContext, JavaState>(start, state => ({ language, state, bound: language.bound(state) }), ANSWERS, PLANNERS)
}

/** An answer about a class or interface of the project. */
const about = <Answer>(answer: (symbol: ClassSymbol, context: JavaWriteContext) => Answer) => (context: JavaWriteContext, type: string): Answer | undefined => {
  const symbol = context.bound.classById(type)
  return symbol && answer(symbol, context)
}

/** A plan for a class or interface; what is thrown inside as `Refused` becomes a refusal here. */
const planned = <Plan extends { readonly type: string }>(planner: (plan: Plan, symbol: ClassSymbol, context: JavaWriteContext) => JavaWritten | PlanRefusal) => (plan: Plan, context: JavaWriteContext): JavaWritten | PlanRefusal => {
  const symbol = context.bound.classById(plan.type)
  if (!symbol) return planRefused('no-class', `${plan.type} is not a class that can be changed here.`)
  try {
    return planner(plan, symbol, context)
  } catch (error) {
    if (error instanceof Refused) return planRefused(error.reason, /[.!]$/.test(error.message) ? error.message : `${error.message}.`)
    throw error
  }
}

const ANSWERS: Answers<JavaWriteContext> = {
  interfaceMembers: about((symbol, { bound }) => [...new Set(publicMethods(symbol, bound).map(({ method }) => method.name))]),
  injectionPoints: about((symbol, context) => findJavaInjectionPoints(symbol, context).map(point => point.told)),
  outsideUses: about(javaOutsideUses),
  dividedMembers: about((symbol, { bound }) => dividedMethods(symbol, bound)),
  replaceableMethods: about((symbol, { bound }) => replaceableMethods(symbol, bound)),
  membersToImplement: about((symbol, { bound }) => methodsToImplement(symbol, bound)),
  canExtractClass: (context, type, members) => about((symbol, { bound }) => canExtractJavaClass(symbol, members, bound))(context, type),
  sharableFields: about((symbol, { bound }) => {
    const declared = bound.program.declarations.get(symbol), file = declared && bound.file(declared.file.path)?.java
    return file ? [...sharedJavaFields(symbol, file, bound).keys()] : []
  }),
  groupableParameters: about((symbol, { bound }) => groupableParameters(symbol, bound)),
  canMove: (context, type, module) => about((symbol, { bound }) => canMoveJavaType(symbol, bound) && !wouldOpenTooMuch(symbol, module, context))(context, type),
  movableMembers: about((symbol, { bound }) => movableJavaMembers(symbol, bound)),
  repeatedSequences: (context, type) => about(() => javaRepeatedSequences(type, context))(context, type),
  showableSequence: about(showableJavaSequence),
  declaredLines: about((symbol, { bound }) => {
    const declared = bound.program.declarations.get(symbol), tree = declared && bound.file(declared.file.path)?.java.tree
    return declared && tree ? declaredLines(tree.text, tree.start(declared.node), tree.end(declared.node)) : null
  }),
  repeatedSetUps: (context, type) => about(() => repeatedJavaSetUps(type, context))(context, type),
  plainParts: about(plainJavaParts),
  touchingPart: (context, type, member, touching) => about(symbol => touchingJavaPart(symbol, member, touching, context))(context, type),
  typeSwitches: about(javaTypeSwitches),
  staticFaces: about(javaStaticFaces),
  testableMembers: about(firstJavaTestMembers),
  isGeneric: about(symbol => symbol.typeParameters.length > 0 || (symbol.outer?.typeParameters.length ?? 0) > 0)
}

const PLANNERS: Planners<JavaWriteContext, JavaState> = {
  extractInterface: planned(extractJavaInterface),
  inject: planned(injectInJava),
  wrapLibrary: planned(wrapJavaLibrary),
  splitInterface: planned(splitJavaInterface),
  makeReplaceable: planned(makeJavaReplaceable),
  implementInterface: planned(implementJavaInterface),
  extractClass: planned(extractJavaClass),
  groupArguments: planned(groupJavaArguments),
  moveType: planned(moveJavaType),
  composeGraph: planned(composeJavaGraph),
  moveMember: planned(moveJavaMember),
  introduceFacade: planned(introduceJavaFacade),
  buildForTests: planned((plan, _, context) => buildForJavaTests(plan, context)),
  extractPlainClass: planned(extractPlainJavaClass),
  replaceTypeSwitch: planned(replaceJavaTypeSwitch),
  retireStaticFace: planned(retireJavaStaticFace),
  writeFirstTest: planned(writeFirstJavaTest)
}
