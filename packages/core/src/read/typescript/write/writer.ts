import ts from 'typescript'
import type { PlanRefusal, WriterAt } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { Answers, Planners } from '../../write/writing-tables.js'
import { declaredLines } from '../../write/shown-statements.js'
import { writerOfTables } from '../../write/writing-tables.js'
import type { TypeNode } from '../declarations.js'
import type { Snapshot, TypeScriptSession } from '../session.js'
import type { WriteContext, Written } from './context.js'
import { buildForTests, repeatedSetUps } from './build-for-tests.js'
import { composeGraph } from './compose-graph.js'
import { extractClass } from './extract-class.js'
import { extractInterface } from './extract-interface.js'
import { canExtractClass } from './extraction.js'
import { extractPlainClass, plainParts, touchingPart } from './extract-plain-class.js'
import { groupableFunctions, groupFunctions } from './group-functions.js'
import { groupableParameters, groupArguments } from './group-arguments.js'
import { implementInterface, membersToImplement } from './implement-interface.js'
import { inject } from './inject.js'
import { introduceFacade, repeatedSequences, showableSequence } from './introduce-facade.js'
import { firstTestMembers, writeFirstTest } from './write-first-test.js'
import { findInjectionPoints } from './injection-points.js'
import { makeReplaceable, replaceableMethods } from './make-replaceable.js'
import { publicMembers } from './members.js'
import { movableMembers, moveMember } from './move-member.js'
import type { MovableDeclaration } from './movable-declaration.js'
import { movableMember, movableType } from './movable-declaration.js'
import { canMoveDeclaration, moveType } from './move-type.js'
import { replaceTypeSwitch, typeSwitches } from './replace-type-switch.js'
import { exportedFaces, retireFunctionExports } from './retire-function-exports.js'
import { retireStaticFace, staticFaces } from './retire-static-face.js'
import { sharedFields } from './shared-fields.js'
import { dividedMembers, splitInterface } from './split-interface.js'
import { outsideUses, wrapLibrary } from './wrap-library.js'

export type TypeScriptWriter = WriterAt<Snapshot>

/** Writes planned steps in TypeScript, each on the result of the one before. */
export function typeScriptWriter(session: TypeScriptSession, start: Snapshot): TypeScriptWriter {
  return writerOfTables<WriteContext, Snapshot>(start, snapshot => ({ session, snapshot, root: session.root }), ANSWERS, PLANNERS)
}

type Outcome = Written | PlanRefusal

/** The class of an id. */
function classOf(id: string, { snapshot, root }: WriteContext): ts.ClassLikeDeclaration | undefined {
  const node = declarationOf(id, snapshot, root)
  return node && ts.isClassLike(node) ? node : undefined
}

function interfaceOf(id: string, { snapshot, root }: WriteContext): ts.InterfaceDeclaration | undefined {
  const node = declarationOf(id, snapshot, root)
  return node && ts.isInterfaceDeclaration(node) ? node : undefined
}

/** The file whose functions a unit stands for. */
function unitOf(id: string, { snapshot, root }: WriteContext): ts.SourceFile | undefined {
  const file = id.endsWith('#') ? snapshot.program.getSourceFile(`${root}/${id.slice(0, -1)}`) : undefined
  return file && snapshot.pathOf(file) !== undefined ? file : undefined
}

/** A type of the project, or one member of what a unit stands for, that could stand in another file. */
function movingOf(id: string, member: string | null, context: WriteContext): MovableDeclaration | undefined {
  const file = member === null ? undefined : unitOf(id, context), node = member === null ? declarationOf(id, context.snapshot, context.root) : undefined
  return file ? movableMember(file, member!, context.snapshot) : node && movableType(node, context.snapshot)
}

/** An answer about a class, an interface, or any type. */
const aboutClass = <Answer>(answer: (node: ts.ClassLikeDeclaration, context: WriteContext, type: string) => Answer) => (context: WriteContext, type: string): Answer | undefined => {
  const node = classOf(type, context)
  return node && answer(node, context, type)
}
const aboutInterface = <Answer>(answer: (node: ts.InterfaceDeclaration, context: WriteContext) => Answer) => (context: WriteContext, type: string): Answer | undefined => {
  const node = interfaceOf(type, context)
  return node && answer(node, context)
}

/** A plan for a class, or for an interface, that is refused where there is none. */
const forClass = <Plan extends { readonly type: string }>(planner: (plan: Plan, node: ts.ClassLikeDeclaration, context: WriteContext) => Outcome) => (plan: Plan, context: WriteContext): Outcome => {
  const node = classOf(plan.type, context)
  return node ? planner(plan, node, context) : planRefused('no-class', `${plan.type} is not a class of the project.`)
}
const forInterface = <Plan extends { readonly type: string }>(planner: (plan: Plan, node: ts.InterfaceDeclaration, context: WriteContext) => Outcome) => (plan: Plan, context: WriteContext): Outcome => {
  const node = interfaceOf(plan.type, context)
  return node ? planner(plan, node, context) : planRefused('no-class', `${plan.type} is not an interface of the project.`)
}

const ANSWERS: Answers<WriteContext> = {
  interfaceMembers: aboutClass((node, { snapshot }) => publicMembers(node, snapshot).map(member => member.name)),
  injectionPoints(context, type) {
    const node = classOf(type, context) ?? unitOf(type, context)
    return node && findInjectionPoints(node, context.snapshot).map(point => point.told)
  },
  outsideUses(context, type) {
    const node = classOf(type, context) ?? unitOf(type, context)
    return node && outsideUses(type, node, context.snapshot)
  },
  dividedMembers: aboutInterface(dividedMembers),
  replaceableMethods(context, type) {
    const node = classOf(type, context), unit = node ? undefined : unitOf(type, context)
    return node ? replaceableMethods(node) : unit && groupableFunctions(unit, context.snapshot)
  },
  membersToImplement: aboutInterface((node, { snapshot }) => membersToImplement(node, snapshot)),
  canExtractClass: (context, type, members) => aboutClass(node => canExtractClass(node, members, type, context.snapshot))(context, type),
  sharableFields: aboutClass((node, { snapshot }) => (ts.isClassDeclaration(node) ? [...sharedFields(node, snapshot).keys()] : [])),
  groupableParameters: aboutClass(groupableParameters),
  canMove(context, type, module, member) {
    const moving = movingOf(type, member ?? null, context)
    return moving !== undefined && canMoveDeclaration(moving, module, context.snapshot, context.root)
  },
  movableMembers(context, type) {
    const node = classOf(type, context) ?? unitOf(type, context)
    return node && movableMembers(node, context.snapshot)
  },
  repeatedSequences: ({ snapshot, root }, type) => declarationOf(type, snapshot, root) && repeatedSequences(type, snapshot),
  showableSequence: aboutClass((node, { snapshot }) => (ts.isClassDeclaration(node) ? showableSequence(node, snapshot) : null)),
  declaredLines: aboutClass(node => declaredLines(node.getSourceFile().text, node.getStart(), node.end)),
  repeatedSetUps: ({ snapshot, root }, type) => declarationOf(type, snapshot, root) && repeatedSetUps(type, snapshot),
  plainParts: aboutClass((node, { snapshot }) => plainParts(node, snapshot)),
  touchingPart: (context, type, member, touching) => aboutClass(node => touchingPart(node, member, touching, context.snapshot))(context, type),
  typeSwitches(context, type) {
    const node = classOf(type, context) ?? unitOf(type, context)
    return node && typeSwitches(node, context.snapshot)
  },
  staticFaces(context, type) {
    const node = classOf(type, context), unit = node ? undefined : unitOf(type, context)
    return node ? staticFaces(node) : unit && exportedFaces(unit, context.snapshot, context.root)
  },
  testableMembers: aboutClass(firstTestMembers),
  isGeneric: aboutClass(node => node.typeParameters !== undefined)
}

const PLANNERS: Planners<WriteContext, Snapshot> = {
  extractInterface: forClass((plan, node, context) => {
    const others = (plan.others ?? []).map(id => classOf(id, context))
    return others.includes(undefined) ? planRefused('no-class', 'One of the other classes is not there any more.') : extractInterface(plan, node, context, others as ts.ClassLikeDeclaration[])
  }),
  inject(plan, context) {
    const node = classOf(plan.type, context) ?? unitOf(plan.type, context)
    return node ? inject(plan, node, context) : planRefused('no-class', `${plan.type} is neither a class nor a file of the project.`)
  },
  wrapLibrary(plan, context) {
    const node = classOf(plan.type, context) ?? unitOf(plan.type, context)
    return node ? wrapLibrary(plan, node, context) : planRefused('no-class', `${plan.type} is neither a class nor a file of the project.`)
  },
  splitInterface: forInterface(splitInterface),
  makeReplaceable(plan, context) {
    const unit = unitOf(plan.type, context)
    return unit ? groupFunctions(plan, unit, context) : forClass(makeReplaceable)(plan, context)
  },
  implementInterface: forInterface(implementInterface),
  extractClass: forClass(extractClass),
  groupArguments: forClass(groupArguments),
  moveType(plan, context) {
    const isThere = plan.member === null ? declarationOf(plan.type, context.snapshot, context.root) : unitOf(plan.type, context)
    return isThere ? moveType(plan, movingOf(plan.type, plan.member, context), context) : planRefused('no-class', `${plan.type} is neither a type nor a file of the project.`)
  },
  composeGraph: forClass((plan, node, context) => composeGraph(plan, node, context, id => classOf(id, context))),
  moveMember(plan, context) {
    const node = classOf(plan.type, context) ?? unitOf(plan.type, context)
    return node ? moveMember(plan, node, context) : planRefused('no-class', `${plan.type} is neither a class nor a file of the project.`)
  },
  introduceFacade(plan, context) {
    const node = classOf(plan.type, context)
    return introduceFacade(plan, node && ts.isClassDeclaration(node) ? node : undefined, context)
  },
  buildForTests,
  extractPlainClass: forClass(extractPlainClass),
  replaceTypeSwitch(plan, context) {
    const node = classOf(plan.type, context) ?? unitOf(plan.type, context)
    return node ? replaceTypeSwitch(plan, node, context) : planRefused('no-class', `${plan.type} is neither a class nor a file of the project.`)
  },
  retireStaticFace(plan, context) {
    const unit = unitOf(plan.type, context)
    return unit ? retireFunctionExports(plan, unit, context) : forClass(retireStaticFace)(plan, context)
  },
  writeFirstTest: forClass(writeFirstTest)
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
