import type { JointView, TypeRow } from '@hollowmoor/contract/views'

/** Steps that plug a collaborator: an interface for it where it is a class that is built inside, then handing it in. What is fetched has its type already. */
export function plugSteps(joint: Pick<JointView, 'type' | 'remedies'>, types: readonly TypeRow[]): string[] {
  const isBuilt = joint.remedies.some(remedy => remedy.id.includes(`:${joint.type}@`))
  const needsInterface = isBuilt && types.find(row => row.id === joint.type)?.kind === 'class'
  return [...(needsInterface ? [`extract-interface:${joint.type}`] : []), ...joint.remedies.map(remedy => remedy.id)]
}
