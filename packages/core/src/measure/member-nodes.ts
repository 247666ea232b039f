import type { CodeModel, ModelType } from '../model/code-model.js'
import type { MemberFacts } from '../model/facts.js'

/** The node of a type for what runs when it is loaded, and for the making of one of its objects. */
export const LOADING = '', MAKING = 'constructor'

/** The nodes of a call graph: of each type its loading, the making of its objects, and its members; overloads are one. */
export interface MemberNodes {
  readonly nodeType: Int32Array
  readonly nodeName: readonly string[]
  /** Nodes of a type, from the first to the one before the next type's first. */
  readonly firstNode: Int32Array
  /** By type: the node of each name. */
  readonly names: readonly ReadonlyMap<string, number>[]
  /** By type: the members of each name. */
  readonly members: readonly ReadonlyMap<string, readonly MemberFacts[]>[]
}

/** O(members). */
export function memberNodesOf(model: CodeModel): MemberNodes {
  const nodeType: number[] = [], nodeName: string[] = []
  const firstNode = new Int32Array(model.types.length + 1)
  const allNames: Map<string, number>[] = [], allMembers: Map<string, MemberFacts[]>[] = []
  for (const type of model.types) {
    firstNode[type.index] = nodeType.length
    const names = new Map<string, number>(), members = new Map<string, MemberFacts[]>()
    const add = (name: string) => {
      if (names.has(name)) return
      names.set(name, nodeType.length)
      nodeType.push(type.index)
      nodeName.push(name)
    }
    add(LOADING)
    add(MAKING)
    for (const member of type.members) {
      add(member.name)
      const list = members.get(member.name)
      if (list) list.push(member)
      else members.set(member.name, [member])
    }
    allNames.push(names)
    allMembers.push(members)
  }
  firstNode[model.types.length] = nodeType.length
  return { nodeType: Int32Array.from(nodeType), nodeName, firstNode, names: allNames, members: allMembers }
}

/** True for what only states that there is such a member: abstract ones, and members of interfaces. */
export function isWithoutBody(member: MemberFacts, type: ModelType): boolean {
  if (member.abstract) return true
  return (type.kind === 'interface' || type.kind === 'alias') && !member.hasBody && !member.static
}
