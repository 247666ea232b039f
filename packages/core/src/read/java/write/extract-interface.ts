import type { ExtractInterfacePlan, PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import { Flags, MethodSymbol } from '../../binding/symbols.js'
import { erasure, thisType } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { proposedInterfaceName } from '../../write/names.js'
import { narrowWhereverAllowed } from '../../write/narrow-wherever-allowed.js'
import { Refused } from '../../write/refused.js'
import { Field, Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import type { BoundProgram } from '../bound-program.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import type { Flaw } from './flaws.js'
import { describeFlaw } from './flaws.js'
import { handledExceptions } from './handled-exceptions.js'
import type { PublicMethod } from './interface-members.js'
import { documentationStart, publicMethods, signatureLines } from './interface-members.js'
import type { FileNames, JavaFileEditor } from './java-editor.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import type { NarrowingPlace } from './narrowing-places.js'
import { narrowingPlaces } from './narrowing-places.js'
import { javaNarrowingTrial } from './narrowing-trial.js'
import { takenNames } from './taken-names.js'
import { typeParametersText } from './type-text.js'

/** Names that no type can have. */
export const RESERVED = /^(abstract|assert|boolean|break|byte|case|catch|char|class|const|continue|default|do|double|else|enum|extends|final|finally|float|for|goto|if|implements|import|instanceof|int|interface|long|native|new|package|private|protected|public|record|return|sealed|permits|short|static|strictfp|super|switch|synchronized|this|throw|throws|transient|try|var|void|volatile|while|yield|true|false|null|_)$/

/** Plans and checks an interface over members of a class. */
export function extractJavaInterface(plan: ExtractInterfacePlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound } = context
  if (symbol.flags & (Flags.Interface | Flags.Enum)) return planRefused('kind', `${symbol.name} is no class.`)
  if (symbol.flags & Flags.Local) return planRefused('local', `${symbol.name} is known only inside a method, so nothing else can be declared with its interface.`)
  const all = publicMethods(symbol, bound)
  const chosen = plan.members === null ? all : all.filter(({ method }) => plan.members!.includes(method.name))
  const wanted = chosen.filter(one => (plan.others ?? []).every(id => throwsNoMore(bound.classById(id), one, bound)))
  if (wanted.length === 0) return planRefused('no-members', `${symbol.name} has no public methods of its objects to put into an interface.`)
  const name = plan.name ?? proposedInterfaceName(symbol.name, takenNames(context))
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that an interface can have.`)

  const attempt = (place: ExtractInterfacePlan['place']): JavaWritten | PlanRefusal => {
    try { return tryPlace(plan, symbol, context, wanted, name, place) } catch (error) {
      if (error instanceof Refused) return planRefused(error.reason, `${error.message}.`)
      throw error
    }
  }
  const unlike = chosen.filter(one => !wanted.includes(one)).map(one => one.method.name)
  const told = (outcome: JavaWritten): JavaWritten => (unlike.length === 0 ? outcome : { ...outcome, step: { ...outcome.step, notes: [...outcome.step.notes, `Left out: ${unlike.join(', ')}, in which another of the classes throws what ${symbol.name} does not say.`] } })
  const first = attempt(plan.place)
  if (!('refused' in first)) return told(first)
  if (plan.place !== 'own-file' || first.reason !== 'not-visible') return first
  // What the members mention may be private to the class's file; there the interface can still be.
  const inFile = attempt('class-file')
  if ('refused' in inFile) return first
  return told({ ...inFile, step: { ...inFile.step, notes: [`It stands in the class's own file, because ${first.message}`, ...inFile.step.notes] } })
}

/** Whether a class's method of the name and number of arguments throws nothing checked that another class's does not say. */
function throwsNoMore(other: ClassSymbol | undefined, one: PublicMethod, bound: BoundProgram): boolean {
  const { hierarchy } = bound.program
  const thrown = ({ method, file, node }: PublicMethod) => handledExceptions(node, node, file, bound.program.declarations.get(method.owner)!.scope, bound) ?? []
  const said = thrown(one)
  return !other || publicMethods(other, bound).filter(({ method }) => method.name === one.method.name && method.arity === one.method.arity)
    .every(theirs => thrown(theirs).every(type => said.some(wide => wide === type || [...hierarchy.ancestorsOf(type)].includes(wide))))
}

function tryPlace(
  plan: ExtractInterfacePlan, symbol: ClassSymbol, context: JavaWriteContext, wanted: readonly PublicMethod[], name: string, place: ExtractInterfacePlan['place']
): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const declared = bound.program.declarations.get(symbol)!
  const path = declared.file.path
  const sameFile = place === 'class-file'
  const client = place === 'client' && plan.client !== null ? bound.classById(plan.client) : undefined
  if (place === 'client' && !client) return planRefused('client', 'The client beside which it is to stand is no class of the project.')
  const packageName = client ? client.packageName : symbol.packageName
  const beside = client ? bound.pathOf(client)! : path
  const target = sameFile ? path : `${beside.slice(0, beside.lastIndexOf('/') + 1)}${name}.java`
  const taken = bound.program.classIn(packageName, name)
  if (taken || (!sameFile && state.source.isFile(`${language.root}/${target}`))) return planRefused('file-exists', `${taken ? taken.id : target} exists already; choose another name.`)
  // Beside a nested class, where its private neighbours can be seen; else at the end of the file.
  const nested = sameFile && symbol.outer !== null
  const others = (plan.others ?? []).map(one => bound.classById(one)).filter(one => one !== undefined)
  if (others.length > 0 && [symbol, ...others].some(one => one.typeParameters.length > 0 || one.outer?.typeParameters.length)) return planRefused('generic', 'One of the classes is generic; what they share would mean something else in each.')
  if (others.length < (plan.others?.length ?? 0) || others.some(one => !bound.program.declarations.has(one) || one.flags & Flags.Local)) return planRefused('no-class', 'One of the other classes is not there any more.')
  if (nested && symbol.outer!.types.has(name)) return planRefused('name-taken', `${symbol.outer!.name} has a ${name} already; choose another name.`)
  const id = nested ? `${symbol.outer!.id}.${name}` : packageName === '' ? name : `${packageName}.${name}`

  const places = plan.narrow ? narrowingPlaces(symbol, bound, filesUsing(state, symbol.id).filter(one => !bound.foreign.has(one))) : []
  const ancestors = new Set([...bound.program.hierarchy.ancestorsOf(symbol)].map(one => one.id))
  const trial = (narrowed: readonly NarrowingPlace[]) => javaNarrowingTrial(write(narrowed), narrowed, [{ types: ancestors, to: id }], context, now => [symbol, ...others].flatMap(one => unimplemented(one.id, id, now)))
  const { narrowed, last: { result } } = narrowWhereverAllowed(places, trial)
  if (result.flaws.length > 0) return planRefused('does-not-compile', `It would not compile: ${describeFlaw(result.flaws[0]!, language.bound(result.after))}`)
  const notes = places.length === 0 ? (plan.narrow ? [`Nothing is declared as ${symbol.name}, so there is nothing to narrow.`] : []) : [`${narrowed} of ${places.length} uses of ${symbol.name} as a type become ${name}.`]
  if (narrowed < places.length) notes.push('The others need more than the interface has, or hand the object to code that wants the class.')
  return {
    after: result.after, step: {
      refused: false, changes: result.changes, edits: result.count, notes,
      choices: { name, members: [...new Set(wanted.map(({ method }) => method.name))].join(','), place, narrow: plan.narrow ? 'yes' : 'no', ...(plan.client ? { client: plan.client } : {}) }
    }
  }

  function write(narrowed: readonly NarrowingPlace[]) {
    const editor = new JavaEditor(bound)
    const own = editor.file(path)
    const { tree } = own
    const { lineEnd, indent } = own.style
    const keys = new Set(narrowed.map(one => one.key))
    const names: FileNames = sameFile ? own : new NewJavaFile(packageName, new Set([name, ...symbol.typeParameters.map(one => one.name)]), bound)
    const renamed = (file: { path: string; tree: typeof tree }, node: number) => keys.has(`${file.path}:${file.tree.start(node)}`) ? name : undefined
    const members = wanted.map(one => signatureLines(one, symbol, names, bound, renamed, plan.narrow ? name : null, nested ? symbol : undefined))
    const isPublic = isVisibleEverywhere(symbol) && !(sameFile && !nested)
    const elsewhere = [symbol, ...others].some(one => one.packageName !== packageName)
    const access = nested ? accessOf(symbol) : isPublic || elsewhere ? 'public ' : ''
    const head = `${access}interface ${name}${typeParametersText(symbol.typeParameters, names, nested ? symbol : undefined)}`
    const base = nested ? own.indentAt(tree.start(declared.node)) : ''
    const lines = members.flatMap((one, index) => [...(index > 0 && (one.length > 1 || members[index - 1]!.length > 1) ? [''] : []), ...one.map(line => `${base}${indent}${line}`)])
    const body = [`${head} {`, ...lines, `${base}}`].join(lineEnd)
    if (nested) own.insert(documentationStart(tree, declared.node), body + lineEnd + lineEnd + base)
    else if (sameFile) own.insert(tree.end(declared.node), lineEnd + lineEnd + body)
    else {
      const parts = [...licence(tree.text, lineEnd), ...(packageName === '' ? [] : [`package ${packageName};`, ''])]
      const imports = [...names.needed].sort().map(one => `import ${one};`)
      editor.create(target, [...parts, ...imports, ...(imports.length > 0 ? [''] : []), body, ''].join(lineEnd))
    }
    const mention = nested || sameFile ? name : own.byName(packageName, name)
    implement(own, declared.node, `${mention}${symbol.typeParameters.length > 0 ? `<${symbol.typeParameters.map(one => one.name).join(', ')}>` : ''}`)
    for (const { method, file, node } of wanted) if (file === declared.file && method.owner === symbol) addOverride(own, node)
    for (const other of others) {
      const at = bound.program.declarations.get(other)!
      const beside = editor.file(at.file.path)
      implement(beside, at.node, at.file === declared.file ? mention : beside.byName(packageName, name))
      for (const { method, file, node } of publicMethods(other, bound)) if (file === at.file && method.owner === other && wanted.some(one => one.method.name === method.name)) addOverride(beside, node)
    }
    for (const one of narrowed) {
      const file = editor.file(one.path)
      file.replaceNode(one.node, nested && one.path !== path ? nestedName(file) : nested || (sameFile && one.path === path) ? name : file.byName(packageName, name))
    }
    return editor.finish()

    function nestedName(file: FileNames): string { return `${file.nameOf(symbol.outer!)}.${name}` }

    function implement(file: JavaFileEditor, at: Node, written: string): void {
      const interfaces = file.tree.child(at, Field.Interfaces)
      if (interfaces !== NONE) { file.insert(file.tree.end(interfaces), `, ${written}`); return }
      const before = [Field.Superclass, Field.Parameters, Field.TypeParameters, Field.Name].map(field => file.tree.child(at, field)).find(one => one !== NONE)!
      file.insert(file.tree.end(before), ` implements ${written}`)
    }

    /** Where the project marks what implements or overrides, so is this. */
    function addOverride(file: JavaFileEditor, node: Node): void {
      if (!usesOverride()) return
      const modifiers = file.tree.childOf(node, Kind.Modifiers)
      const holder = modifiers === NONE ? '' : file.tree.textOf(modifiers)
      if (/@(java\.lang\.)?Override\b/.test(holder)) return
      const start = file.tree.start(node)
      const margin = file.indentAt(start)
      // A declaration that shares its line with others keeps it.
      const alone = file.tree.text.slice(file.tree.text.lastIndexOf('\n', start - 1) + 1, start).trim() === ''
      file.insert(start, alone ? `@Override${lineEnd}${margin}` : '@Override ')
    }

    function usesOverride(): boolean {
      if (tree.text.includes('@Override')) return true
      for (const other of bound.trees.values()) if (other.text.includes('@Override')) return true
      return false
    }
  }
}

/** Methods of the new interface that the class does not have as the interface promises them. */
function unimplemented(type: string, interfaceId: string, after: BoundProgram): Flaw[] {
  const { program: { hierarchy }, overloads } = after
  const symbol = after.classById(type), promised = after.classById(interfaceId)
  if (!symbol || !promised) return []
  const flaws: Flaw[] = []
  for (const method of promised.ownMembers) {
    if (!(method instanceof MethodSymbol)) continue
    const candidates = [...hierarchy.ancestorsOf(symbol)].filter(one => one !== promised).flatMap(one => one.own(method.name))
      .filter((one): one is MethodSymbol => one instanceof MethodSymbol && !one.isStatic && one.arity === method.arity)
    const gives = (one: MethodSymbol) => erasure(hierarchy.seenThrough(one.signature.result, one, thisType(symbol)))
    if (candidates.some(one => overloads.overrides(symbol, one, method) && hierarchy.isSubtype(gives(one), gives(method)))) continue
    const nearest = candidates[0] ?? method
    const path = after.pathOf(nearest.owner)
    if (path !== undefined) flaws.push({ path, node: nearest.node, message: `${symbol.name} would not have ${method.name} as ${promised.name} promises it` })
  }
  return flaws
}

function isVisibleEverywhere(symbol: ClassSymbol): boolean {
  for (let at: ClassSymbol | null = symbol; at; at = at.outer) if (!(at.flags & Flags.Public)) return false
  return true
}

function accessOf(symbol: ClassSymbol): string {
  if (symbol.outer?.isInterface) return ''
  return symbol.flags & Flags.Public ? 'public ' : symbol.flags & Flags.Protected ? 'protected ' : symbol.flags & Flags.Private ? 'private ' : ''
}

/** The comment with which a file begins, before its package: what its licence asks for is so for a new file too. */
export function licence(text: string, lineEnd: string): string[] {
  const comment = /^\uFEFF?\s*(\/\*[^]*?\*\/|(?:\/\/.*\r?\n)+)\s*(?=package\b)/.exec(text)?.[1]
  return comment && /copyright|licen[cs]e/i.test(comment) ? [comment.trimEnd().split(/\r?\n/).join(lineEnd), ''] : []
}
