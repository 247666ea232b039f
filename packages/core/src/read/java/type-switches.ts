import type { TypeSwitchFacts } from '../../model/facts.js'
import { ClassSymbol, Flags } from '../binding/symbols.js'
import type { Node } from '../syntax/flat-tree.js'
import { NONE } from '../syntax/flat-tree.js'
import { javaConditionChain } from './condition-chain.js'
import type { JavaFile } from './scope.js'
import { Field, Kind } from './syntax.js'

/** Fewer cases than this are a plain condition. */
const FEWEST_CASES = 3

type Found = Pick<TypeSwitchFacts, 'over' | 'cases'>

/** What a `switch` or a chain of `if` chooses by, where that is what kind of thing it has before it: an enum, a member's few texts, or a class. */
export function javaTypeSwitch(node: Node, file: JavaFile): Found | undefined {
  const found = file.tree.kind(node) === Kind.IfStatement ? ofChain(node, file) : ofSwitch(node, file)
  return found && new Set(found.cases).size >= FEWEST_CASES ? found : undefined
}

function ofSwitch(node: Node, file: JavaFile): Found | undefined {
  const { tree } = file
  const body = tree.child(node, Field.Body)
  if (body === NONE) return undefined
  const cases: string[] = []
  let over: string | undefined
  for (const group of tree.children(body)) {
    for (const label of tree.children(group)) {
      if (tree.kind(label) !== Kind.SwitchLabel) continue
      for (const one of tree.children(label)) {
        const kind = tree.kind(one)
        if (kind === Kind.Guard) continue
        if (kind === Kind.Pattern || kind === Kind.TypePattern || kind === Kind.RecordPattern) over ??= ''
        else if (kind === Kind.StringLiteral) over ??= subjectOf(tree.child(node, Field.Condition), file)
        else if (kind === Kind.Identifier || kind === Kind.FieldAccess) over ??= enumOf(kind === Kind.Identifier ? one : tree.child(one, Field.Field), file)
        else return undefined
        cases.push(tree.textOf(one).replace(/^"|"$/g, ''))
      }
    }
  }
  return over === undefined ? undefined : { over, cases }
}

/** The enum that a name is a constant of. */
function enumOf(name: Node, file: JavaFile): string | undefined {
  const meaning = file.meaning(name)
  return meaning && !(meaning instanceof ClassSymbol) && meaning.kind === 'field' && meaning.owner.flags & Flags.Enum && meaning.owner.source ? meaning.owner.id : undefined
}

/** The project's member whose value is looked at. */
function subjectOf(condition: Node, file: JavaFile): string | undefined {
  const { tree } = file
  let at = condition
  while (tree.kind(at) === Kind.ParenthesizedExpression) at = tree.first(at)
  const name = tree.kind(at) === Kind.MethodInvocation ? tree.child(at, Field.Name) : tree.kind(at) === Kind.FieldAccess ? tree.child(at, Field.Field) : at
  const meaning = tree.kind(name) === Kind.Identifier ? file.meaning(name) : undefined
  return meaning && !(meaning instanceof ClassSymbol) && meaning.kind !== 'local' && meaning.owner.source ? `${meaning.owner.id}.${meaning.name}` : undefined
}

function ofChain(first: Node, file: JavaFile): Found | undefined {
  const { tree } = file, chain = javaConditionChain(first, file)
  if (!chain) return undefined
  const labels = chain.branches.flatMap(one => one.labels)
  if (chain.by === 'type') return { over: '', cases: labels.map(label => tree.textOf(label).split(/\s/)[0]!) }
  const overs = new Set(labels.map(label => (tree.kind(label) === Kind.StringLiteral ? subjectOf(chain.subject, file) : enumOf(tree.kind(label) === Kind.FieldAccess ? tree.child(label, Field.Field) : label, file))))
  const [over] = overs
  return overs.size === 1 && over !== undefined ? { over, cases: labels.map(label => (tree.kind(label) === Kind.StringLiteral ? tree.textOf(label).slice(1, -1) : tree.textOf(label).replace(/^.*\./, ''))) } : undefined
}
