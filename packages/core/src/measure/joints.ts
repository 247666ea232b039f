import type { CodeModel } from '../model/code-model.js'
import type { Held, JointKind, JointReason } from '../model/held.js'
import { INERT, RANK, worse } from '../model/held.js'
import { compareText } from '../model/order.js'

export type { JointKind, JointReason } from '../model/held.js'
export { JOINT_KINDS } from '../model/held.js'

export interface Joint {
  /** Index of the collaborator, or -1 for an external. */
  readonly to: number
  /** Name of the external, or ''. */
  readonly external: string
  readonly kind: JointKind
  readonly reason: JointReason
  /** Indices of the references that use its behaviour, in order of place. */
  readonly references: readonly number[]
}

/**
 * The joints of every type, one for each collaborator whose behaviour it uses (definitions.md). The worst of several
 * origins wins; what a field holds is the worst of what is ever put into it. O(references + origins).
 */
export function jointsOf(model: CodeModel): Joint[][] {
  const found: Map<number | string, { to: number; external: string; held: Held; references: number[] }>[] = model.types.map(() => new Map())
  const { references } = model
  for (let index = 0; index < references.length; index++) {
    const use = references.use(index)
    if (!use) continue
    const from = references.from(index)
    let to = references.to(index)
    if (use.receiver !== null && to >= 0) to = model.typeIndex.get(use.receiver) ?? to
    if (to === from) continue
    // Globals of the runtime are told apart by name; packages are one collaborator each.
    const named = to < 0 ? references.external(index) : ''
    const external = collaboratorName(named, references.member(index))
    if (to < 0 && use.inertTarget) continue
    const held: Held = (to >= 0 && model.types[to]!.inert) || use.inertTarget ? INERT : references.held(index)
    const key = to >= 0 ? to : external
    const entry = found[from]!.get(key)
    if (entry) { entry.held = worse(entry.held, held); entry.references.push(index) }
    else found[from]!.set(key, { to, external: to >= 0 ? '' : external, held, references: [index] })
  }
  return found.map(map => [...map.values()]
    .map(({ to, external, held, references: list }) => ({ to, external, kind: held.kind, reason: held.reason, references: list }))
    .sort((a, b) => RANK[a.kind] - RANK[b.kind] || compareText(nameOf(model, a), nameOf(model, b))))
}

/** The name under which an external is told as a collaborator. */
export function collaboratorName(external: string, member: string): string {
  if (external === 'node:process') return 'process'
  return external === 'runtime' ? member.split('.')[0]!.replace(/\(\)$/, '') : external
}

function nameOf(model: CodeModel, joint: { to: number; external: string }): string {
  return joint.to >= 0 ? model.types[joint.to]!.id : joint.external
}
