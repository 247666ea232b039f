import ts from 'typescript'
import type { InjectPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import { checkedStep, refusalOf } from './checked-step.js'
import { addParameter } from './constructor-parameter.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor } from './file-editor.js'
import { injectIntoFunction } from './function-parameter.js'
import type { FoundPoint } from './injection-points.js'
import { collaboratorOf, creationSites, findInjectionPoints } from './injection-points.js'
import { replaceCreation, replaceFetch, replaceInstance } from './provision.js'
import { Refused } from '../../write/refused.js'

/** Plans and checks the injection at a point of a class, or of a file's functions. */
export function inject(plan: InjectPlan, node: ts.ClassLikeDeclaration | ts.SourceFile, context: WriteContext): Written | PlanRefusal {
  const { snapshot } = context
  const point = findInjectionPoints(node, snapshot).find(one => one.told.key === plan.point)
  if (!point) return planRefused('no-point', `${ts.isSourceFile(node) ? snapshot.pathOf(node)! : node.name?.text ?? 'The class'} does not build or fetch ${plan.point} any more.`)
  if (/\.[cm]?jsx?$/.test(node.getSourceFile().fileName)) return planRefused('javascript', 'The file is JavaScript; what it is handed could not be checked.')
  const tryTypes = (withDefault: boolean): Written | PlanRefusal => {
    let last: PlanRefusal | undefined
    for (const as of typesToTry(plan, point, context)) {
      const outcome = tryInject({ ...plan, withDefault }, node, point, as, context)
      if (!('refused' in outcome)) return outcome
      last = outcome
      if (outcome.reason !== 'does-not-compile') break
    }
    return last!
  }
  const outcome = tryTypes(plan.withDefault)
  if (!('refused' in outcome) || !NEEDS_DEFAULT.has(outcome.reason) || plan.withDefault) return outcome
  // Where not every creation site can be changed, a default keeps those that cannot.
  const kept = tryTypes(true)
  if ('refused' in kept) return outcome
  return { ...kept, step: { ...kept.step, notes: [`The parameter keeps a default: ${outcome.message}`, ...kept.step.notes] } }
}

/** Refusals about creation sites, which a default makes needless. */
const NEEDS_DEFAULT = new Set(['class-as-value', 'spread', 'arguments', 'anonymous'])

/** The declared types to try: what was chosen; else interfaces of the project that the class implements; else the class. */
function typesToTry(plan: InjectPlan, point: FoundPoint, { snapshot }: WriteContext): (string | null)[] {
  if (plan.as !== null) return [plan.as]
  const promised = point.replaceable ?? point.group?.promised
  if (promised) return [snapshot.declarations.ownerOf(promised)!.type]
  const holder = collaboratorClass(point, { snapshot })
  if (!holder) return [null]
  const found: string[] = []
  for (const clause of holder.heritageClauses ?? []) {
    if (clause.token !== ts.SyntaxKind.ImplementsKeyword) continue
    for (const heritage of clause.types) {
      const declaration = snapshot.checker.getTypeAtLocation(heritage).symbol?.declarations?.[0]
      const owner = declaration && snapshot.declarations.ownerOf(declaration)
      if (owner && !heritage.typeArguments) found.push(owner.type)
    }
  }
  return [...found.reverse(), null]
}

function collaboratorClass(point: FoundPoint, { snapshot }: { snapshot: WriteContext['snapshot'] }): ts.ClassLikeDeclaration | undefined {
  const first = point.nodes[0]!
  if (ts.isNewExpression(first)) return collaboratorOf(first, snapshot)?.node
  return snapshot.checker.getTypeAtLocation(first).symbol?.declarations?.find(ts.isClassLike)
}

/** Ids of the class that an object at hand is of, and of those that it extends. */
function classesOf(point: FoundPoint, { snapshot }: WriteContext): string[] {
  const found: string[] = []
  for (let at = collaboratorClass(point, { snapshot }); at; at = baseOf(at, snapshot.checker)) {
    const owner = snapshot.declarations.ownerOf(at)
    if (!owner || found.includes(owner.type)) break
    found.push(owner.type)
  }
  return found
}

function baseOf(node: ts.ClassLikeDeclaration, checker: ts.TypeChecker): ts.ClassLikeDeclaration | undefined {
  const base = node.heritageClauses?.find(one => one.token === ts.SyntaxKind.ExtendsKeyword)?.types[0]
  return base && checker.getTypeAtLocation(base).symbol?.declarations?.find(ts.isClassLike)
}

function tryInject(plan: InjectPlan, node: ts.ClassLikeDeclaration | ts.SourceFile, point: FoundPoint, as: string | null, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const editor = new ProjectEditor(snapshot, root)
  const path = snapshot.pathOf(ts.isSourceFile(node) ? node : node.getSourceFile())!
  const notes: string[] = []
  let name: string
  try {
    const own = editor.editor(path)
    if (point.target) name = injectIntoFunction(plan, point, point.target, as, own, editor, context)
    else {
      const owner = node as ts.ClassLikeDeclaration
      refuseWhatAFrameworkBuilds(owner)
      const provision = point.fetched ? replaceFetch(plan, owner, point, as, own, editor, context)
        : point.told.kind === 'instance' ? replaceInstance(plan, owner, point, as, own, editor, context)
        : replaceCreation(plan, owner, point, as, own, editor, context)
      const sites = plan.withDefault ? [] : creationSites(owner, snapshot)
      if (provision.shared) notes.push(`${provision.name}, which it is handed already, builds it here too.`)
      else addParameter(owner, provision, own, editor, context, plan.withDefault, sites, plan.levels, notes)
      name = provision.name
    }
  } catch (error) { return refusalOf(error) }
  return checkedStep(editor, context, {
    notes, planned: as === null ? [] : [{ types: new Set([point.told.collaborator, ...classesOf(point, context)]), to: as }],
    choices: { point: plan.point, name, as: as ?? 'narrowest', default: plan.withDefault || point.target ? 'yes' : 'no', levels: String(plan.levels) }
  })
}

function refuseWhatAFrameworkBuilds(node: ts.ClassLikeDeclaration): void {
  if (ts.canHaveDecorators(node) && ts.getDecorators(node)?.length) {
    throw new Refused('framework', 'Its decorators mean that a framework builds it, and the framework would not know the new parameter.')
  }
}
