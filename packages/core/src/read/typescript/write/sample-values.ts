import ts from 'typescript'
import { lowerFirst, numberedName, withArticle } from '../../write/names.js'
import { NoSample } from '../../write/no-sample.js'
import { externalNameOf, RUNTIME } from '../externals.js'
import type { Snapshot } from '../session.js'
import type { ProjectEditor } from './file-editor.js'
import { namedTypeParameters, typeParametersAround } from './scoped-type-parameters.js'
import { NotWritable, TypeWriter } from './written-type.js'

/** How deep samples are built into each other. */
const DEEPEST = 4

/** A double that is no longer than this stands where it is handed in. */
const SHORT = 70

/** Of a union so many types are looked at, and so many values taken. */
const MOST_TRIED = 12, MOST_FOUND = 4

/** Of a larger object only so much is made. */
const MOST_MEMBERS = 24

/** What a double is called in its own text, where its function's parameter says it. */
const INSIDE = '@name'

/** Objects of the language's own library that come without an effect. */
const LIBRARY: ReadonlyMap<string, string> = new Map([
  ['Date', 'new Date(2026, 0, 12)'], ['RegExp', '/a/'], ['Error', "new Error('text')"], ['URL', "new URL('http://localhost/')"], ['URLSearchParams', "new URLSearchParams('a=1')"],
  ['Uint8Array', 'new Uint8Array([1, 2])'], ['Float64Array', 'new Float64Array([1, 2])'], ['Float32Array', 'new Float32Array([1, 2])'], ['Int32Array', 'new Int32Array([1, 2])'], ['ArrayBuffer', 'new ArrayBuffer(2)']
])

/**
 * Expressions that stand for arguments in a test: plain values, objects of the project's classes that can be built without an
 * effect, and for what is an abstraction a double that keeps its calls with `saw(name, given, answer)`.
 */
export class SampleValues {
  /** Names that the expressions need, by how they are called there. */
  readonly values = new Map<string, { name: string; file: string; specifier: null }>()
  /** Functions that make doubles, by the type that they stand for. */
  readonly doubleFunctions = new Map<ts.Type, { readonly name: string; readonly lines: readonly string[] }>()
  /** Writes the types that they are declared with. */
  readonly types: TypeWriter
  /** Doubles and real objects written so far. */
  doubles = 0
  realObjects = 0
  /** Inside of a double: what it answers is plain. */
  private answering = false

  constructor(
    private readonly snapshot: Snapshot, private readonly editor: ProjectEditor, private readonly at: ts.Node, private readonly buildable: ReadonlySet<string>, private readonly quote: string
  ) { this.types = new TypeWriter(snapshot, editor, at, false) }

  /** One expression of a type; `label`: what the argument is called. Throws `NoSample`. */
  of(type: ts.Type, label: string, depth = 0): string { return this.all(type, label, depth)[0]! }

  /** A few different expressions of a type, the most usual first. */
  all(type: ts.Type, label: string, depth = 0): string[] {
    const { checker } = this.snapshot
    const { flags } = type
    if (flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return [this.text('text')]
    if (type.isStringLiteral()) return type.symbol && type.symbol.flags & ts.SymbolFlags.EnumMember ? [this.enumMember(type.symbol)] : [this.text(type.value)]
    if (type.isNumberLiteral()) return type.symbol && type.symbol.flags & ts.SymbolFlags.EnumMember ? [this.enumMember(type.symbol)] : [String(type.value)]
    if (flags & ts.TypeFlags.BooleanLiteral) return [checker.typeToString(type)]
    if (flags & ts.TypeFlags.Boolean) return ['true', 'false']
    if (type.isUnion()) return this.ofUnion(type, label, depth)
    if (flags & ts.TypeFlags.String) return [this.text('text'), this.text('')]
    if (flags & ts.TypeFlags.TemplateLiteral) throw new NoSample(`${label} is text of a certain form`)
    if (flags & ts.TypeFlags.Number) return ['1', '0']
    if (flags & ts.TypeFlags.BigInt) return ['1n', '0n']
    if (flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Void)) return ['undefined']
    if (flags & ts.TypeFlags.Null) return ['null']
    if (flags & (ts.TypeFlags.TypeParameter | ts.TypeFlags.IndexedAccess)) {
      const constraint = checker.getBaseConstraintOfType(type)
      return constraint && !(constraint.flags & ts.TypeFlags.Unknown) ? this.all(constraint, label, depth + 1) : [this.text('text')]
    }
    if (flags & ts.TypeFlags.Object || type.isIntersection()) return this.ofObject(type, label, depth)
    throw new NoSample(`${label} is of a type for which no value is known`)
  }

  private ofUnion(type: ts.UnionType, label: string, depth: number): string[] {
    const found: string[] = []
    let failed: NoSample | undefined
    // What stands for nothing comes last, and the two booleans in their usual order.
    const rank = (one: ts.Type) => (one.flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Null | ts.TypeFlags.Void) ? 2 : this.snapshot.checker.typeToString(one) === 'false' ? 1 : 0)
    for (const one of [...type.types].sort((a, b) => rank(a) - rank(b)).slice(0, MOST_TRIED)) {
      if (found.length === MOST_FOUND) break
      try { found.push(...this.all(one, label, depth + 1).slice(0, 1)) } catch (error) {
        if (!(error instanceof NoSample)) throw error
        failed = error
      }
    }
    if (found.length === 0) throw failed!
    return [...new Set(found)]
  }

  private ofObject(type: ts.Type, label: string, depth: number): string[] {
    const { checker } = this.snapshot
    if (depth > DEEPEST) throw new NoSample(`${label} is built of too many things`)
    if (checker.isTupleType(type)) {
      const target = (type as ts.TupleTypeReference).target
      const needed = checker.getTypeArguments(type as ts.TypeReference).filter((_, index) => target.elementFlags[index]! & ts.ElementFlags.Required)
      return [`[${needed.map((one, index) => this.of(one, `${label}[${index}]`, depth + 1)).join(', ')}]`]
    }
    const declaration = type.symbol?.declarations?.[0]
    const isRuntime = declaration !== undefined && externalNameOf(declaration) === RUNTIME
    const name = type.symbol?.name ?? ''
    const given = type.flags & ts.TypeFlags.Object ? checker.getTypeArguments(type as ts.TypeReference) : []
    const inside = (index: number, of: string) => this.of(given[index]!, of, depth + 1)
    if (checker.isArrayType(type)) return [`[${inside(0, label)}]`, '[]']
    if (isRuntime) {
      if (/^(Iterable|ArrayLike|Iterator|IterableIterator)$/.test(name) && given.length > 0) return [`[${inside(0, label)}]${name.endsWith('Iterator') ? '.values()' : ''}`]
      if (/^(Readonly)?Set$/.test(name)) return [`new Set([${inside(0, label)}])`]
      if (/^(Readonly)?Map$/.test(name)) return [`new Map([[${inside(0, label)}, ${inside(1, label)}]])`]
      if (/^Promise(Like)?$/.test(name)) return [`Promise.resolve(${inside(0, label)})`]
      const known = LIBRARY.get(name)
      if (known !== undefined) return [known.replaceAll("'", this.quote)]
    }
    const calls = type.getCallSignatures()
    if (calls.length > 0 && type.getProperties().length === 0) return [this.function(calls, label, depth)]
    if (declaration && ts.isClassLike(declaration)) return [this.object(declaration, label, depth)]
    if (isRuntime && (ts.isInterfaceDeclaration(declaration!) || ts.isVariableDeclaration(declaration!))) throw new NoSample(`${label} is ${withArticle(name)}`)
    return [this.literal(type, label, depth)]
  }

  /** An object with what a type asks for: data as it is, methods as those of a double. What there is no sample of is left out, and the object said to be of the type. */
  private literal(type: ts.Type, label: string, depth: number): string {
    const known = this.doubleFunctions.get(type)
    if (known) { this.doubles++; return `${known.name}(${this.text(label)})` }
    const { parts, whole } = this.parts(type, label, depth)
    const text = parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`
    if (!parts.some(one => one.includes('saw('))) return whole ? text : `${text} as unknown as ${this.written(type, label)}`
    if (this.answering) throw new NoSample(`${label} would be a double that another gives`)
    this.doubles++
    if (whole && text.length <= SHORT) return text
    return this.doubleFunction(type, label, depth) ?? (whole ? text : `${text} as unknown as ${this.written(type, label)}`)
  }

  /** A type as it is written in the test. */
  private written(type: ts.Type, label: string): string {
    try { return this.closed(this.types.inferred(type)) } catch (error) { if (error instanceof NotWritable) throw new NoSample(`${label} is of a type that cannot be written there`); throw error }
  }

  /** What the class leaves open is in its test the most that it may be. */
  private closed(text: string): string {
    for (const { name, constraint } of namedTypeParameters(typeParametersAround(this.at), [text]).reverse()) {
      const most = constraint ? this.types.source(constraint) : 'any'
      text = text.replaceAll(new RegExp(`(?<![\\p{L}\\p{N}_$.])${name.text}(?![\\p{L}\\p{N}_$])`, 'gu'), () => (/^[\w.$]+$/.test(most) ? most : `(${most})`))
    }
    return text
  }

  /** A call of a function that makes the double of a type that has a name; undefined where it has none here. */
  private doubleFunction(type: ts.Type, label: string, depth: number): string | undefined {
    const own = type.symbol?.name
    if (own === undefined || !/^[A-Za-z]\w*$/.test(own) || own.startsWith('__')) return undefined
    let written: string
    try { written = this.closed(this.types.inferred(type)) } catch (error) { if (error instanceof NotWritable) return undefined; throw error }
    const name = numberedName(`${lowerFirst(own)}Double`, one => ![...this.doubleFunctions.values()].some(other => other.name === one))
    const made = this.parts(type, INSIDE, depth), parts = made.parts.map(one => one.replaceAll(/(['"])@name([.\w]*)\1/g, '`${name}$2`'))
    this.doubleFunctions.set(type, { name, lines: [`/** Stands in for ${withArticle(own)}${made.whole ? '' : ', as far as a test can tell what it has'}. */`, `function ${name}(name: string): ${written} {`, '\treturn {', ...parts.map((one, at) => `\t\t${one}${at < parts.length - 1 ? ',' : ''}`), `\t}${made.whole ? '' : ` as unknown as ${written}`};`, '}'] })
    return `${name}(${this.text(label)})`
  }

  /** What an object of a type has; not `whole` where some of it is left out. */
  private parts(type: ts.Type, label: string, depth: number): { readonly parts: readonly string[]; readonly whole: boolean } {
    const { checker } = this.snapshot
    if (type.getConstructSignatures().length > 0) throw new NoSample(`${label} is a class itself`)
    const parts: string[] = []
    const wanted = type.getProperties().filter(property => !(property.flags & ts.SymbolFlags.Optional))
    let whole = wanted.length <= MOST_MEMBERS
    for (const property of wanted.slice(0, MOST_MEMBERS)) {
      if (property.declarations?.some(one => ts.getCombinedModifierFlags(one) & (ts.ModifierFlags.Private | ts.ModifierFlags.Protected))) throw new NoSample(`${label} can only be of a class with hidden members`)
      if (property.name.startsWith('__@')) { whole = false; continue }
      const key = /^[A-Za-z_$][\w$]*$/.test(property.name) ? property.name : this.text(property.name)
      const its = checker.getTypeOfSymbolAtLocation(property, this.at)
      const calls = checker.getNonNullableType(its).getCallSignatures()
      try { parts.push(`${key}: ${calls.length > 0 ? this.function(calls, `${label}.${property.name}`, depth) : this.of(its, `${label}.${property.name}`, depth + 1)}`) } catch (error) {
        if (!(error instanceof NoSample)) throw error
        whole = false
      }
    }
    for (const index of checker.getIndexInfosOfType(type)) {
      if (parts.length === 0 && index.keyType.flags & ts.TypeFlags.String) parts.push(`text: ${this.of(index.type, label, depth + 1)}`)
    }
    return { parts, whole }
  }

  /** A function that keeps its call and answers. */
  private function(calls: readonly ts.Signature[], label: string, depth: number): string {
    const [signature] = calls
    const before = this.answering
    let answer: string
    this.answering = true
    try { answer = this.of(signature!.getReturnType(), label, depth + 1) } catch (error) {
      if (!(error instanceof NoSample)) throw error
      return `(...given: unknown[]) => { saw(${this.text(label)}, given, undefined); throw new Error('not told what to answer'); }`.replaceAll("'not told what to answer'", this.text('not told what to answer'))
    } finally { this.answering = before }
    return `(...given: unknown[]) => saw(${this.text(label)}, given, ${answer})`
  }

  /** An object of a class of the project. */
  private object(node: ts.ClassLikeDeclaration, label: string, depth: number): string {
    const id = this.snapshot.pathOf(node.getSourceFile()) === undefined ? undefined : new Map(this.snapshot.declarations.declaredIn(node.getSourceFile())).get(node)?.id
    const name = node.name?.text ?? label
    if (id === undefined || !this.buildable.has(id)) throw new NoSample(`${label} is a ${name}, which cannot be built here without more`)
    const text = `new ${this.nameOf(node)}(${this.argumentsOf(node, depth + 1).join(', ')})`
    this.realObjects++
    return text
  }

  /** What a class's constructor has to be handed. */
  argumentsOf(node: ts.ClassLikeDeclaration, depth = 0): string[] {
    const { checker } = this.snapshot
    const symbol = checker.getSymbolAtLocation(node.name ?? node)
    const [signature] = symbol ? checker.getTypeOfSymbolAtLocation(symbol, node).getConstructSignatures() : []
    if (!signature) throw new NoSample(`${node.name?.text ?? 'the class'} has no constructor that is known`)
    return signature.parameters.filter(one => !isOptional(one)).map(one => this.of(checker.getTypeOfSymbolAtLocation(one, this.at), one.name, depth + 1))
  }

  /** How a class or enum of the project is called in the test. */
  nameOf(node: ts.ClassLikeDeclaration | ts.EnumDeclaration): string {
    const file = this.snapshot.pathOf(node.getSourceFile()), exported = this.editor.exportedName(node)
    const name = node.name?.text
    if (file === undefined || exported === undefined || name === undefined) throw new NoSample(`${name ?? 'a class'} is not exported`)
    const other = this.values.get(name)
    if (other && other.file !== file) throw new NoSample(`two types are called ${name}`)
    this.values.set(name, { name: exported, file, specifier: null })
    return name
  }

  private enumMember(symbol: ts.Symbol): string {
    const declaration = symbol.valueDeclaration?.parent
    if (!declaration || !ts.isEnumDeclaration(declaration)) throw new NoSample(`${symbol.name} is no constant of an enum`)
    if (this.snapshot.pathOf(declaration.getSourceFile()) === undefined) throw new NoSample(`${symbol.name} is a constant of a library`)
    return /^[A-Za-z_$][\w$]*$/.test(symbol.name) ? `${this.nameOf(declaration)}.${symbol.name}` : `${this.nameOf(declaration)}[${this.text(symbol.name)}]`
  }

  text(value: string): string {
    const inner = JSON.stringify(value).slice(1, -1)
    return this.quote === '"' ? `"${inner}"` : `'${inner.replaceAll('\\"', '"').replaceAll("'", "\\'")}'`
  }
}

/** Whether a parameter may be left out. */
export function isOptional(parameter: ts.Symbol): boolean {
  const declaration = parameter.valueDeclaration
  return declaration !== undefined && ts.isParameter(declaration) && (declaration.questionToken !== undefined || declaration.initializer !== undefined || declaration.dotDotDotToken !== undefined)
}
