import type { InjectionPoint } from '../../../model/plan.js'
import { ClassSymbol, CONSTRUCTOR, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { modifiersOf } from '../declare.js'
import { isInertClass } from '../inert.js'
import type { JavaFile } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import type { JavaWriteContext } from './context.js'
import { instanceGiver } from './instance-giver.js'
import { placeOf } from './place.js'

/** A point with the code behind it. */
export interface JavaPoint {
  readonly told: InjectionPoint
  readonly file: JavaFile
  /** For a creation: the `new`. For an instance: every use of it in the class. */
  readonly nodes: readonly Node[]
  /** The static method that takes the parameter; NONE where a constructor does. */
  readonly method: Node
  /** For a class of statics: the method that gives the instance which they call. */
  readonly giver?: MethodSymbol
  /** For an object that a static method without arguments gives: the method. The nodes are its calls. */
  readonly fetched?: MethodSymbol
  /** What is made, or the class or interface that the instance is declared as. */
  readonly collaborator: ClassSymbol
}

/** The places where a class builds or fetches collaborators of the project itself, in source order. */
export function findJavaInjectionPoints(symbol: ClassSymbol, { bound }: JavaWriteContext): JavaPoint[] {
  const declared = bound.program.declarations.get(symbol)
  if (!declared || declared.body === NONE || symbol.flags & (Flags.Interface | Flags.Enum | Flags.Record | Flags.Local)) return []
  const file = bound.file(declared.file.path)?.java
  if (!file) return []
  const { tree } = file
  const points: JavaPoint[] = []
  const times = new Map<string, number>()
  const numbered = (base: string): string => {
    const count = (times.get(base) ?? 0) + 1
    times.set(base, count)
    return count === 1 ? base : `${base}~${count}`
  }
  const line = (node: Node): number => tree.text.slice(0, tree.start(node)).split('\n').length
  const instances = new Map<FieldSymbol | MethodSymbol, { nodes: Node[]; member: string }>()
  const fetches = new Map<MethodSymbol, { nodes: Node[]; member: string }>()
  for (const member of tree.children(declared.body)) {
    const kind = tree.kind(member)
    const isStatic = (modifiersOf(tree, member) & Flags.Static) !== 0
    if (kind !== Kind.FieldDeclaration && kind !== Kind.MethodDeclaration && kind !== Kind.ConstructorDeclaration) continue
    if (isStatic && kind !== Kind.MethodDeclaration) continue
    const memberName = kind === Kind.ConstructorDeclaration ? 'constructor' : kind === Kind.MethodDeclaration ? tree.textOf(tree.child(member, Field.Name))
      : tree.textOf(tree.child(tree.childOf(member, Kind.VariableDeclarator), Field.Name))
    // Where a program begins it has to be put together somehow.
    if (isStatic && memberName === 'main') continue
    const end = tree.after(member)
    for (let at = member; at < end; at += 5) {
      const made = tree.kind(at) === Kind.ObjectCreationExpression ? createdCollaborator(at, file, bound) : undefined
      if (made && made !== symbol) {
        const place = placeOf(tree, at, declared.body)
        // What is handed to `this(...)` can be handed in from outside already.
        if (place.inConstructorCall === 'this') continue
        points.push({
          file, nodes: [at], method: isStatic ? member : NONE, collaborator: made, told: {
            key: numbered(`${made.id}@${memberName}`), type: symbol.id, collaborator: made.id, label: made.name, kind: 'creation', into: isStatic ? 'function' : 'constructor',
            member: memberName, line: line(at), edits: 4, files: 2
          }
        })
      }
      const fetched = isStatic ? undefined : fetchedObject(at, file, symbol, bound)
      // Who calls `this(...)` is handed nothing: the constructor that it calls is.
      if (fetched && placeOf(tree, at, declared.body).inConstructorCall !== 'this') {
        const entry = fetches.get(fetched) ?? { nodes: [], member: memberName }
        entry.nodes.push(at)
        fetches.set(fetched, entry)
      }
      const field = isStatic ? undefined : sharedInstance(at, file, symbol, bound) ?? replaceableStatic(at, file, symbol)
      if (field && placeOf(tree, at, declared.body).inConstructorCall !== 'this') {
        const entry = instances.get(field) ?? { nodes: [], member: memberName }
        entry.nodes.push(at)
        instances.set(field, entry)
      }
    }
  }
  for (const [field, { nodes, member }] of instances) {
    const given = field instanceof FieldSymbol ? field.type : field.signature.result, type = given.tag === 'class' ? given.symbol : undefined
    points.push({
      file, nodes, method: NONE, collaborator: type!, ...(field instanceof MethodSymbol ? { giver: field } : {}), told: {
        key: field instanceof FieldSymbol ? `${field.owner.id}.${field.name}` : field.owner.id, type: symbol.id, collaborator: field.owner.id, label: field instanceof FieldSymbol ? `${field.owner.name}.${field.name}` : field.owner.name, kind: 'instance', into: 'constructor',
        member, line: line(nodes[0]!), edits: nodes.length + 3, files: 2
      }
    })
  }
  for (const [method, { nodes, member }] of fetches) {
    const { result } = method.signature
    if (result.tag !== 'class') continue
    points.push({
      file, nodes, method: NONE, collaborator: result.symbol, fetched: method, told: {
        key: `${method.owner.id}.${method.name}`, type: symbol.id, collaborator: result.symbol.id, label: `${method.owner.name}.${method.name}`, kind: 'instance', into: 'constructor', member, line: line(nodes[0]!), edits: nodes.length + 3, files: 2
      }
    })
  }
  return points
}

/** The project class that a `new` makes, where it is one that a test may want to replace: no record, no exception, nothing private. */
export function createdCollaborator(node: Node, file: JavaFile, bound: BoundProgram): ClassSymbol | undefined {
  const { tree } = file
  if (tree.childOf(node, Kind.ClassBody) !== NONE) return undefined
  const constructor = file.meaning(node)
  if (!(constructor instanceof MethodSymbol) || constructor.name !== CONSTRUCTOR) return undefined
  const made = constructor.owner
  if (!made.source || made.flags & (Flags.Local | Flags.Private) || isInertClass(made, bound.program)) return undefined
  // An inner class needs the object around it, so that no one else can make one.
  if (made.outer && !made.isStatic && !made.outer.isInterface) return undefined
  return made
}

/** The constant that a name means, where it holds an object of a class or interface of the project. */
function sharedInstance(node: Node, file: JavaFile, user: ClassSymbol, bound: BoundProgram): FieldSymbol | undefined {
  const { tree } = file
  const kind = tree.kind(node)
  const name = kind === Kind.FieldAccess ? tree.child(node, Field.Field) : kind === Kind.Identifier && tree.field(node) !== Field.Field && tree.field(node) !== Field.Name ? node : NONE
  if (name === NONE || tree.kind(name) !== Kind.Identifier) return undefined
  const field = file.meaning(name)
  if (!(field instanceof FieldSymbol) || !field.isStatic || !(field.flags & Flags.Final) || field.flags & (Flags.Enum | Flags.Private)) return undefined
  if (!field.owner.source || field.owner.outermost === user.outermost || bound.program.hierarchy.inherits(user, field.owner)) return undefined
  const type = field.type
  if (type.tag !== 'class' || !type.symbol.source || isInertClass(type.symbol, bound.program)) return undefined
  return field
}

/** The static method without arguments that a call runs to get an object of the project. */
function fetchedObject(node: Node, file: JavaFile, user: ClassSymbol, bound: BoundProgram): MethodSymbol | undefined {
  const { tree } = file
  if (tree.kind(node) !== Kind.MethodInvocation || tree.first(tree.child(node, Field.Arguments)) !== NONE) return undefined
  const object = tree.child(node, Field.Object)
  if (object === NONE || tree.kind(object) !== Kind.Identifier || !(file.meaning(object) instanceof ClassSymbol)) return undefined
  const method = file.meaning(tree.child(node, Field.Name))
  if (!(method instanceof MethodSymbol) || !method.isStatic || method.arity > 0 || method.flags & Flags.Private || method.signature.typeParameters.length > 0) return undefined
  const { owner, signature: { result } } = method
  if (!owner.source || owner.outermost === user.outermost || result.tag !== 'class' || !result.symbol.source || isInertClass(result.symbol, bound.program) || instanceGiver(owner) === method) return undefined
  const declared = bound.program.declarations.get(owner)
  const at = declared && declared.file.tree.children(declared.body).find(one => bound.program.methodAt(declared.file, one) === method)
  if (!declared || at === undefined) return undefined
  // Exceptions could not pass through a Supplier; and a method that makes a new one is a constructor by another name.
  const { tree: there } = declared.file
  return there.childOf(at, Kind.Throws) !== NONE || makesNew(there, there.child(at, Field.Body)) ? undefined : method
}

function makesNew(tree: JavaFile['tree'], body: Node): boolean {
  const statements = body === NONE ? [] : tree.children(body)
  return statements.length === 1 && tree.kind(statements[0]!) === Kind.ReturnStatement && tree.kind(tree.first(statements[0]!)) === Kind.ObjectCreationExpression
}

/** For the class before a static call: the method that gives the instance which it calls, where that promises the called method. */
function replaceableStatic(node: Node, file: JavaFile, user: ClassSymbol): MethodSymbol | undefined {
  const { tree } = file
  const call = parentOf(tree, node)
  if (tree.kind(node) !== Kind.Identifier || call < 0 || tree.kind(call) !== Kind.MethodInvocation || tree.child(call, Field.Object) !== node) return undefined
  const owner = file.meaning(node)
  if (!(owner instanceof ClassSymbol) || !owner.source || owner.outermost === user.outermost) return undefined
  const giver = instanceGiver(owner)
  const given = giver?.signature.result
  return given?.tag === 'class' && given.symbol.own(tree.textOf(tree.child(call, Field.Name))).length > 0 ? giver : undefined
}
