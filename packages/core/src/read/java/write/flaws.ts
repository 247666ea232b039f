import type { TextEdit } from '../../../edit/text-edit.js'
import { offsetMapper } from '../../../edit/text-edit.js'
import { holdsUnknown } from '../../binding/inference.js'
import { ClassSymbol, CONSTRUCTOR, MethodSymbol } from '../../binding/symbols.js'
import type { MemberSymbol } from '../../binding/symbols.js'
import { argumentsOf, describe, erasure, substitute, thisType } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NODE_WIDTH, NONE } from '../../syntax/flat-tree.js'
import { listIn } from '../../../graph/lists.js'
import type { Bound, JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'
import type { BoundFile, BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { capturedNames } from './captured-names.js'
import { withoutEnclosingObject } from './enclosing-objects.js'
import { otherArguments } from './other-arguments.js'
import { unimplemented } from './unimplemented.js'
import { unseenNames } from './unseen-names.js'

/** Something that a changed state says wrong, or otherwise than before. */
export interface Flaw {
  readonly path: string
  readonly node: Node
  readonly message: string
}

/** What a plan allows to bind otherwise than before: from a member of one of `types` to one of `to`. */
export interface PlannedRebinding {
  readonly types: ReadonlySet<string>
  readonly to: string
  /** Whether what stands inside one of the types is now inside `to`, unnamed classes among it. */
  readonly inside?: boolean
  /** Or a field that constructors see as a parameter of the same name and value. */
  readonly field?: string
}

export function describeFlaw({ path, node, message }: Flaw, after: BoundProgram): string {
  const tree = after.trees.get(path)
  const line = tree ? tree.text.slice(0, tree.start(node)).split('\n').length : 1
  return `${path}:${line}: ${message}`
}

/**
 * What is wrong in a changed state and was not before: names without meaning, values where another type is wanted, methods
 * that no longer override what they did, and names that mean something else now. `edits`: by path, what was changed. `moved`:
 * where a file under a new path was before; its edits are told by the old one. Of a file that was changed and is
 * not in `edits`, what was wrong before is known by its words.
 */
export function newFlaws(
  before: BoundProgram, after: BoundProgram, paths: Iterable<string>, edits: ReadonlyMap<string, readonly TextEdit[]>, planned: readonly PlannedRebinding[] = [],
  moved: ReadonlyMap<string, string> = new Map()
): Flaw[] {
  const flaws: Flaw[] = []
  for (const path of paths) {
    const now = after.file(path)
    if (!now) { if (after.trees.has(path)) flaws.push({ path, node: 0, message: 'nests deeper than can be followed' }); continue }
    const oldPath = moved.get(path) ?? path
    const old = before.file(oldPath)
    const oldTree = old?.java.tree, tree = now.java.tree
    const mapped = edits.has(oldPath) ? offsetMapper(edits.get(oldPath)!) : oldTree?.text === tree.text ? (start: number, end: number) => ({ start, end }) : () => null
    const known = new Set<string>()
    const placeOf = (at: { start: number; end: number } | null): string => at ? `${at.start}-${at.end}` : ''
    if (old) for (const node of wrongPlaces(old)) known.add(placeOf(mapped(oldTree!.start(node), oldTree!.end(node))))
    // A name that had no meaning before may be said once more.
    const meaningless = new Set(old ? [...old.java.unbound.keys()].map(node => oldTree!.textOf(node)) : [])
    // Where it is not told what was changed, the same words were wrong before.
    const words = new Map<string, number>()
    const isTold = edits.has(oldPath) || oldTree?.text === tree.text
    if (old && !isTold) for (const node of new Set(wrongPlaces(old))) words.set(oldTree!.textOf(node), (words.get(oldTree!.textOf(node)) ?? 0) + 1)
    const isNew = (node: Node) => {
      if (isTold) return !known.has(placeOf({ start: tree.start(node), end: tree.end(node) }))
      const left = words.get(tree.textOf(node)) ?? 0
      words.set(tree.textOf(node), left - 1)
      return left <= 0
    }
    if (old) flaws.push(...capturedNames(old, before, after, at => nodeAt(now.java, oldTree!.kind(at), mapped(oldTree!.start(at), oldTree!.end(at))), at => now.java.meaning(at)).map(one => ({ path, ...one })))
    for (let at = 0; at < tree.size * 5; at += 5) if (tree.kind(at) === Kind.Error && !oldTree?.contains(0, Kind.Error)) flaws.push({ path, node: at, message: 'it cannot be parsed' })
    for (const [node, reason] of now.java.unbound) if (isNew(node) && !meaningless.has(tree.textOf(node)) && !isOfUnknownLibrary(tree.textOf(node), now, before)) flaws.push({ path, node, message: `${tree.textOf(node).slice(0, 60)}: ${reason}` })
    for (const [node, { given, wanted }] of now.findings.mismatches) if (isNew(node)) flaws.push({ path, node, message: `${describe(given)} stands where ${describe(wanted)} is wanted` })
    for (const [node, { given, wanted }] of now.findings.outside) if (isNew(node)) flaws.push({ path, node, message: `${describe(given)} is not within the bound ${describe(wanted)}` })
    for (const node of now.findings.ambiguous) if (isNew(node)) flaws.push({ path, node, message: `${tree.textOf(node).slice(0, 60)}: several would do as well` })
    for (const node of now.java.repeated) if (isNew(node)) flaws.push({ path, node, message: `${tree.textOf(node).slice(0, 60)}: there is one of its name already` })
    const wrongBefore = new Set(old ? wrongArguments(old).map(node => oldTree!.textOf(node)) : [])
    for (const node of wrongArguments(now)) if (!wrongBefore.has(tree.textOf(node))) flaws.push({ path, node, message: `${tree.textOf(node).slice(0, 60)}: it takes another number of type arguments` })
    const missingBefore = new Set(old ? withoutEnclosingObject(old, before).map(node => oldTree!.textOf(node)) : [])
    for (const node of withoutEnclosingObject(now, after)) if (!missingBefore.has(tree.textOf(node))) flaws.push({ path, node, message: `${tree.textOf(node).slice(0, 60)}: it needs an object of the class around` })
    const unseenBefore = new Set(old ? unseenNames(old).map(node => oldTree!.textOf(node)) : [])
    for (const node of unseenNames(now)) if (!unseenBefore.has(tree.textOf(node))) flaws.push({ path, node, message: `${tree.textOf(node).slice(0, 60)}: it cannot be seen there` })
    const outsideBefore = new Set(old ? [...argumentsOutside(old, before)].map(([node, reason]) => `${oldTree!.textOf(node)} ${reason}`) : [])
    for (const [node, reason] of argumentsOutside(now, after)) if (!outsideBefore.has(`${tree.textOf(node)} ${reason}`)) flaws.push({ path, node, message: reason })
    if (old) flaws.push(...rebound(old, now, before, after, mapped, planned))
    flaws.push(...lostOverrides(old, now, before, after, mapped, planned))
    // A method that overrides nothing any more tells more than what its class lacks for that.
    if (flaws.some(one => one.path === path)) continue
    const lackingBefore = new Set(old ? unimplemented(old, before).map(one => one.message) : [])
    for (const one of unimplemented(now, after)) if (!lackingBefore.has(one.message)) flaws.push({ path, ...one })
  }
  return flaws
}

/** Where something is wrong with what a file says. */
function wrongPlaces({ java, findings }: BoundFile): Node[] {
  return [...java.unbound.keys(), ...findings.mismatches.keys(), ...findings.outside.keys(), ...findings.ambiguous, ...java.repeated]
}

/** Qualified names that files of a program import one by one and that no library at hand has. */
const missing = new WeakMap<BoundProgram, Set<string>>()

/** Whether a name stands for what another file imported before, from a library that is not at hand: it means here what it means there. */
function isOfUnknownLibrary(text: string, { java }: BoundFile, before: BoundProgram): boolean {
  const name = java.singleImports.get(/^@?(\w+)/.exec(text)?.[1] ?? '')?.name ?? (text.includes('.') ? text : undefined)
  if (name === undefined) return false
  let known = missing.get(before)
  if (!known) {
    known = new Set()
    for (const path of before.paths) for (const one of before.importsOf(path)) {
      if (one.isStatic || one.onDemand) continue
      const dot = one.name.lastIndexOf('.')
      if (!before.program.classIn(one.name.slice(0, Math.max(0, dot)), one.name.slice(dot + 1))) known.add(one.name)
    }
    missing.set(before, known)
  }
  return known.has(name)
}

const starting = new WeakMap<JavaFile, ReadonlyMap<number, readonly Node[]>>()

/** The node of a kind that begins at a place and means something. */
function nodeAt(java: JavaFile, kind: number, place: { readonly start: number } | null): Node | undefined {
  const { tree } = java
  let known = starting.get(java)
  if (!known) {
    const places = new Map<number, Node[]>()
    for (let at = 0; at < tree.size * NODE_WIDTH; at += NODE_WIDTH) if (java.meaning(at)) listIn(places, tree.start(at)).push(at)
    starting.set(java, known = places)
  }
  return place === null ? undefined : known.get(place.start)?.find(one => tree.kind(one) === kind)
}

type Mapper = (start: number, end: number) => { start: number; end: number } | null

/** What a name means, in words that stay the same while its declaration does. */
export function meaningKey(meaning: Bound): string | undefined {
  if (meaning instanceof ClassSymbol) return steadyId(meaning)
  if (meaning.kind === 'local') return undefined
  return `${steadyId(meaning.owner)}.${meaning.name}[${ordinal(meaning)}]`
}

/** An anonymous class is named by its place, which moves. */
function steadyId(symbol: ClassSymbol): string { return symbol.id.replace(/\.\$\d+/g, '.$') }

function ordinal(member: MemberSymbol): number {
  return member.owner.own(member.name).filter(one => one.kind === member.kind).indexOf(member)
}

function takes(meaning: Bound): string {
  return meaning instanceof MethodSymbol ? meaning.signature.parameters.map(type => describe(erasure(type))).join() : ''
}

function ownerOf(meaning: Bound): { owner: string; member: string } {
  if (meaning instanceof ClassSymbol) return { owner: steadyId(meaning), member: '' }
  return meaning.kind === 'local' ? { owner: '', member: '' } : { owner: steadyId(meaning.owner), member: meaning.name }
}

function rebound(old: BoundFile, now: BoundFile, before: BoundProgram, after: BoundProgram, mapped: Mapper, planned: readonly PlannedRebinding[]): Flaw[] {
  const flaws: Flaw[] = []
  const { tree } = old.java
  for (let at = 0; at < tree.size * 5; at += 5) {
    const meaning = old.java.meaning(at)
    const key = meaning && meaningKey(meaning)
    if (!meaning || key === undefined) continue
    const kind = tree.kind(at)
    // Of a whole expression only the beginning is sure to stay where it was.
    const place = kind === Kind.Identifier || kind === Kind.TypeIdentifier ? mapped(tree.start(at), tree.end(at)) : mapped(tree.start(at), tree.start(at) + 1)
    if (!place) continue
    const node = nodeAt(now.java, kind, place)
    const to = node === undefined ? undefined : now.java.meaning(node)
    // What has no meaning any more is told as such.
    if (node === undefined || !to) continue
    const newKey = meaningKey(to)
    if (newKey === key) continue
    const from = ownerOf(meaning), into = ownerOf(to)
    // Another of its name may have come before it; then what it takes tells whether it is the same.
    if (from.owner === into.owner && from.member === into.member && takes(meaning) === takes(to)) continue
    if (newKey === undefined && planned.some(plan => plan.field === from.member && plan.types.has(from.owner))) continue
    if (from.member === into.member && planned.some(plan => isPlanned(plan, from.owner, into.owner))) continue
    flaws.push({ path: now.java.path, node, message: `${tree.textOf(at).slice(0, 60)} would mean ${newKey ?? 'a local variable'} and not ${key}` })
  }
  return flaws
}

/** Methods that override less than before, give what the overridden method does not allow, or clash with another. */
function lostOverrides(old: BoundFile | undefined, now: BoundFile, before: BoundProgram, after: BoundProgram, mapped: Mapper, planned: readonly PlannedRebinding[]): Flaw[] {
  const flaws: Flaw[] = []
  const path = now.java.path
  const earlier = old ? overridesIn(old, before) : new Map<Node, Overriding>()
  const earlierAt = new Map<number, Overriding>()
  // Where it is not told what was changed, a method is known by what it is called and takes.
  const signed = new Map([...earlier.values()].map(one => [signatureOf(one.method), one]))
  for (const [node, one] of earlier) {
    const place = mapped(old!.java.tree.start(node), old!.java.tree.end(node))
    if (place) earlierAt.set(place.start, one)
  }
  for (const [node, one] of overridesIn(now, after)) {
    const was = earlierAt.get(now.java.tree.start(node))
    const lost = was?.overridden.find(key => !one.overridden.includes(key) && (isStillThere(key, one.method, after) || !stillOverridden(key, one.overridden, planned)))
    if (lost !== undefined) flaws.push({ path, node, message: `${one.method.name} would no longer override ${lost}` })
    const same = was ?? signed.get(signatureOf(one.method))
    if (one.clash !== undefined && same?.clash === undefined) flaws.push({ path, node, message: one.clash })
    if (one.lonely && !same?.lonely) flaws.push({ path, node, message: `${one.method.name} says that it overrides, and overrides nothing` })
  }
  return flaws
}

function signatureOf(method: MethodSymbol): string { return `${steadyId(method.owner)}.${method.name}(${takes(method)})` }

/** Whether a class still inherits a method that it would have to override: then another one cannot stand for it. */
function isStillThere(key: string, { owner, name, arity }: MethodSymbol, { program }: BoundProgram): boolean {
  const id = key.slice(0, key.lastIndexOf('.'))
  return [...program.hierarchy.ancestorsOf(owner)].some(ancestor => ancestor !== owner && steadyId(ancestor) === id && ancestor.own(name).some(other => other instanceof MethodSymbol && other.arity === arity && !other.isStatic))
}

function isPlanned(plan: PlannedRebinding, from: string, into: string): boolean {
  if (plan.types.has(from)) return plan.to === into
  return plan.inside === true && [...plan.types].some(type => from.startsWith(`${type}.`) && into === plan.to + from.slice(type.length))
}

/** Whether what was overridden, or what the plan put in its place, still is. */
function stillOverridden(key: string, overridden: readonly string[], planned: readonly PlannedRebinding[]): boolean {
  if (overridden.includes(key)) return true
  const dot = key.lastIndexOf('.'), owner = key.slice(0, dot), name = key.slice(dot, key.indexOf('[', dot) + 1)
  return planned.some(plan => plan.to !== '' && overridden.some(other => { const at = other.lastIndexOf('.'); return isPlanned(plan, owner, other.slice(0, at)) && other.slice(at).startsWith(name) }))
}

interface Overriding {
  readonly method: MethodSymbol
  readonly overridden: readonly string[]
  /** Says that it overrides something, and does not. */
  readonly lonely: boolean
  /** What is wrong with it beside others of its name. */
  readonly clash: string | undefined
}

const computed = new WeakMap<BoundFile, Map<Node, Overriding>>()

function overridesIn(file: BoundFile, { program, overloads }: BoundProgram): Map<Node, Overriding> {
  const known = computed.get(file)
  if (known) return known
  const found = new Map<Node, Overriding>()
  const { hierarchy } = program
  for (const symbol of file.java.classes.values()) {
    for (const method of symbol.ownMembers) {
      if (!(method instanceof MethodSymbol) || method.node < 0) continue
      const overridden: string[] = []
      let clash: string | undefined
      const same = (other: MethodSymbol) => other !== method && other.arity === method.arity && overloads.overrides(symbol, method, other)
      if (symbol.own(method.name).some(other => other instanceof MethodSymbol && same(other))) clash = `two ${method.name === CONSTRUCTOR ? 'constructors' : `methods ${method.name}`} would take the same`
      if (method.name !== CONSTRUCTOR) {
        for (const ancestor of hierarchy.ancestorsOf(symbol)) {
          // What is static in an interface belongs to it alone; in a class it is hidden, and has to give as much.
          if (ancestor === symbol || (method.isStatic && ancestor.isInterface)) continue
          for (const other of ancestor.own(method.name)) {
            if (!(other instanceof MethodSymbol) || other.isStatic !== method.isStatic || !same(other)) continue
            overridden.push(`${steadyId(ancestor)}.${method.name}[${ordinal(other)}]`)
            const given = erasure(method.signature.result), wanted = erasure(hierarchy.seenThrough(other.signature.result, other, thisType(symbol)))
            if (!hierarchy.isSubtype(given, wanted)) clash ??= `${method.name} gives ${describe(given)}, and ${ancestor.name}.${method.name} promises ${describe(wanted)}`
            else clash ??= otherArguments(method, other, symbol, hierarchy)
          }
        }
      }
      found.set(method.node, { method, overridden, clash, lonely: overridden.length === 0 && !OF_OBJECT.has(method.name) && saysOverride(method.node, file.java) })
    }
  }
  computed.set(file, found)
  return found
}

/** Methods that an interface may say again without inheriting them. */
const OF_OBJECT = new Set(['equals', 'hashCode', 'toString'])

function saysOverride(name: Node, { tree }: BoundFile['java']): boolean {
  const declaration = parentOf(tree, name), modifiers = declaration < 0 ? NONE : tree.childOf(declaration, Kind.Modifiers)
  return modifiers !== NONE && tree.children(modifiers).some(at => tree.kind(at) === Kind.MarkerAnnotation && /^@\s*(java\.lang\.)?Override$/.test(tree.textOf(at)))
}

/** Types whose arguments are outside the bounds of their parameters, as far as both are known (JLS 4.5), with the reason. */
function argumentsOutside({ java: file }: BoundFile, { program: { hierarchy } }: BoundProgram): Map<Node, string> {
  const found = new Map<Node, string>()
  for (const [node, type] of file.written) {
    const { typeParameters } = type.symbol, by = argumentsOf(type)
    if (typeParameters.length !== type.args.length) continue
    for (const [at, given] of type.args.entries()) {
      if (given.tag === 'wildcard' || holdsUnknown(given)) continue
      const bound = typeParameters[at]!.bounds.find(one => !holdsUnknown(one) && !hierarchy.isSubtype(given, erasure(substitute(one, by))))
      if (bound) found.set(node, `${describe(given)} is not within the bound ${describe(bound)}`)
    }
  }
  return found
}

/** Uses of the project's classes with another number of type arguments than they have parameters. */
function wrongArguments({ java: file }: BoundFile): Node[] {
  const { tree } = file, found: Node[] = []
  for (let at = 0; at < tree.size * 5; at += 5) {
    if (tree.kind(at) !== Kind.GenericType) continue
    const head = tree.first(at), meaning = file.meaning(tree.kind(head) === Kind.ScopedTypeIdentifier ? tree.children(head).at(-1)! : head)
    const list = tree.childOf(at, Kind.TypeArguments), count = list === NONE ? 0 : tree.children(list).length
    if (meaning instanceof ClassSymbol && meaning.source && count > 0 && count !== meaning.typeParameters.length) found.push(at)
  }
  return found
}
