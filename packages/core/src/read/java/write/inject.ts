import type { InjectPlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import { checkedJavaStep } from './checked-step.js'
import { handToConstructor } from './constructor-parameter.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import type { PlannedRebinding } from './flaws.js'
import type { JavaPoint } from './injection-points.js'
import { findJavaInjectionPoints } from './injection-points.js'
import { JavaEditor } from './java-editor.js'
import { placeOf } from './place.js'
import { takeCreation, takeFetch, takeInstance } from './provision.js'
import { handToStaticMethod } from './static-method.js'

/** Refusals about places that run the constructor, which a form without the parameter makes needless. */
const NEEDS_DEFAULT = new Set(['class-as-value', 'framework', 'not-visible', 'throws', 'overlap'])

/** Plans and checks the injection at a point of a class. */
export function injectInJava(plan: InjectPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const point = findJavaInjectionPoints(symbol, context).find(one => one.told.key === plan.point)
  if (!point) return planRefused('no-point', `${symbol.name} does not build or fetch ${plan.point} any more.`)
  const attempt = (withDefault: boolean): JavaWritten | PlanRefusal => {
    let last: PlanRefusal | undefined
    for (const as of typesToTry(plan, point, context)) {
      const outcome = tryInject({ ...plan, withDefault }, symbol, point, as, context)
      if (!('refused' in outcome)) return outcome
      last = outcome
      if (outcome.reason !== 'does-not-compile') break
    }
    return last!
  }
  const outcome = attempt(plan.withDefault)
  if (!('refused' in outcome) || !NEEDS_DEFAULT.has(outcome.reason) || plan.withDefault || point.method !== NONE) return outcome
  const kept = attempt(true)
  if ('refused' in kept) return outcome
  return { ...kept, step: { ...kept.step, notes: [`The constructor keeps its present form beside the new one: ${outcome.message}`, ...kept.step.notes] } }
}

/** The declared types to try: what was chosen; else interfaces of the project that the class implements, the last first; else the class. */
function typesToTry(plan: InjectPlan, point: JavaPoint, { bound }: JavaWriteContext): (ClassSymbol | null)[] {
  if (plan.as !== null) return [bound.classById(plan.as) ?? null]
  const interfaces = point.collaborator.interfaces.filter(one => one.symbol.source && one.args.length === 0 && one.symbol.typeParameters.length === 0).map(one => one.symbol)
  return [...(point.collaborator.isInterface ? [] : interfaces.reverse()), null]
}

function tryInject(plan: InjectPlan, symbol: ClassSymbol, point: JavaPoint, as: ClassSymbol | null, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound } = context
  const editor = new JavaEditor(bound)
  const notes: string[] = []
  let name: string
  try {
    const own = editor.file(point.file.path)
    const { body } = bound.program.declarations.get(symbol)!
    const places = point.nodes.map(node => placeOf(point.file.tree, node, body))
    const place = places.find(one => one.kind === 'field') ?? places.find(one => one.kind === 'method') ?? places[0]!
    const taking = { plan, point, owner: symbol, place, as, own, bound, editor, context }
    const provision = point.fetched ? takeFetch(taking) : point.told.kind === 'instance' ? takeInstance(taking) : takeCreation(taking)
    name = provision.name
    if (provision.shared) notes.push(`${name}, which it is handed already, builds it here too.`)
    else if (point.method !== NONE) handToStaticMethod(symbol, point.file, point.method, provision, editor, context)
    else handToConstructor(symbol, point.file, place.kind === 'constructor' && point.told.kind === 'creation' ? place.member : NONE, plan.levels, { provision, editor, context, withDefault: plan.withDefault, notes })
  } catch (error) {
    if (error instanceof Refused) return planRefused(error.reason, `${error.message}.`)
    throw error
  }
  const rebinding: PlannedRebinding[] = [{ types: new Set([symbol.id]), to: '', field: name }]
  if (point.giver) rebinding.push({ types: new Set([point.giver.owner.id]), to: point.collaborator.id })
  if (as) rebinding.push({ types: new Set([...bound.program.hierarchy.ancestorsOf(point.collaborator)].map(one => one.id)), to: as.id })
  return checkedJavaStep(editor, context, {
    notes, planned: rebinding,
    choices: { point: plan.point, name, as: as?.id ?? 'narrowest', default: plan.withDefault || point.method !== NONE ? 'yes' : 'no', levels: String(plan.levels) }
  })
}
