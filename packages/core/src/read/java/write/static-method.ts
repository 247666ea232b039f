import type { ClassSymbol } from '../../binding/symbols.js'
import { MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import type { JavaWriteContext } from './context.js'
import { declareMembers, insertInList } from './constructor-parameter.js'
import { parameterNodes } from './interface-members.js'
import type { JavaEditor } from './java-editor.js'
import type { Provision } from './provision.js'

/** Annotations that tell readers and tools something and call nothing. */
const HARMLESS = /^@([\w.]+\.)?(Deprecated|SuppressWarnings|SafeVarargs|Nullable|Non[Nn]ull|NotNull|CheckForNull|CheckReturnValue|VisibleForTesting|Contract|GuardedBy|SuppressFBWarnings|Generated)\b/

/** Gives a static method a form with the parameter; the present form calls that with what is built today, so that callers stay as they are. */
export function handToStaticMethod(owner: ClassSymbol, file: JavaFile, node: Node, provision: Provision, editor: JavaEditor, context: JavaWriteContext): void {
  const { tree } = file
  const symbol = context.bound.program.methodAt(file, node)
  if (!symbol) throw new Refused('no-point', 'The method is not found any more')
  const own = editor.file(file.path)
  refuseReferences(symbol, context)
  const modifiers = tree.childOf(node, Kind.Modifiers)
  const written = modifiers === NONE ? [] : tree.children(modifiers)
  const strange = written.find(one => !HARMLESS.test(tree.textOf(one)))
  if (strange !== undefined) throw new Refused('framework', `${tree.textOf(strange)} may mean that something else calls ${symbol.name}, and would find two of them`)
  if (provision.thrown.length > 0) {
    const clause = tree.childOf(node, Kind.Throws)
    const said = clause === NONE ? [] : tree.children(clause).map(child => tree.textOf(child))
    if (!provision.thrown.every(name => said.includes(name))) throw new Refused('throws', `Making it can throw ${provision.thrown.join(', ')}, which ${symbol.name} does not say`)
  }
  declareMembers(file, context.bound.program.declarations.get(owner)!.body, own, provision)
  const parameters = parameterNodes(tree, node)
  const at = symbol.varargs ? parameters.length - 1 : parameters.length
  const names = parameters.map(one => tree.textOf(tree.kind(one) === Kind.SpreadParameter ? tree.child(tree.childOf(one, Kind.VariableDeclarator), Field.Name) : tree.child(one, Field.Name)))
  names.splice(at, 0, provision.provide(own, owner))
  const { lineEnd, indent } = own.style
  const margin = own.indentAt(tree.start(node))
  const head = tree.text.slice(tree.start(node), tree.start(tree.child(node, Field.Body))).trimEnd()
  const isVoid = tree.kind(tree.child(node, Field.Type)) === Kind.VoidType
  own.insert(tree.start(node), `${head} {${lineEnd}${margin}${indent}${isVoid ? '' : 'return '}${symbol.name}(${names.join(', ')});${lineEnd}${margin}}${lineEnd}${lineEnd}${margin}`)
  insertInList(tree.child(node, Field.Parameters), parameters, at, `${provision.typeIn(own)} ${provision.name}`, own)
}

/** With two forms a reference to the method by its name alone could mean either. */
function refuseReferences(symbol: MethodSymbol, { bound, state }: JavaWriteContext): void {
  for (const path of filesUsing(state, symbol.owner.id)) {
    const file = bound.file(path)?.java
    if (!file) continue
    for (let at = 0; at < file.tree.size * 5; at += 5) {
      if (file.tree.kind(at) !== Kind.MethodReference) continue
      const meaning = file.meaning(file.tree.children(at).at(-1)!)
      if (meaning instanceof MethodSymbol && meaning.owner === symbol.owner && meaning.name === symbol.name) throw new Refused('function-as-value', `${path} hands ${symbol.name} around as a function`)
    }
  }
}
