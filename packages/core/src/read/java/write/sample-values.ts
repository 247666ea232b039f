import type { ClassSymbol } from '../../binding/symbols.js'
import { CONSTRUCTOR, FieldSymbol, Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Substitution, Type } from '../../binding/types.js'
import { ClassType, erasure, plainType, substitute } from '../../binding/types.js'
import { lowerFirst, numberedName, withArticle } from '../../write/names.js'
import { NoSample } from '../../write/no-sample.js'
import { Refused } from '../../write/refused.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { abstractMethods } from './implement-interface.js'
import { parameterName, parameterNodes, signatureLines } from './interface-members.js'
import type { NewJavaFile } from './java-editor.js'
import { typeText } from './type-text.js'

/** How deep samples are built into each other. */
const DEEPEST = 4
/** More constants of one enum tell little more. */
const MOST_CONSTANTS = 4

const PRIMITIVES: ReadonlyMap<string, readonly string[]> = new Map([
  ['int', ['1', '0']], ['long', ['1L', '0L']], ['double', ['1.0', '0.0']], ['float', ['1.0f', '0.0f']], ['boolean', ['true', 'false']], ['char', ["'a'"]], ['byte', ['(byte) 1']], ['short', ['(short) 1']]
])
const BOXES: ReadonlyMap<string, string> = new Map([
  ['java.lang.Integer', 'int'], ['java.lang.Long', 'long'], ['java.lang.Double', 'double'], ['java.lang.Float', 'float'], ['java.lang.Boolean', 'boolean'], ['java.lang.Character', 'char'], ['java.lang.Byte', 'byte'], ['java.lang.Short', 'short']
])

/** Objects of the language's own library that come without an effect; `{}`: the class as it is called here. */
const LIBRARY: ReadonlyMap<string, string> = new Map([
  ['java.lang.Object', '"text"'], ['java.lang.CharSequence', '"text"'], ['java.lang.Number', '1'], ['java.lang.StringBuilder', 'new {}("text")'], ['java.math.BigDecimal', '{}.ONE'], ['java.math.BigInteger', '{}.ONE'],
  ['java.time.LocalDate', '{}.of(2026, 1, 12)'], ['java.time.LocalTime', '{}.of(9, 30)'], ['java.time.LocalDateTime', '{}.of(2026, 1, 12, 9, 30)'], ['java.time.Instant', '{}.EPOCH'], ['java.time.Duration', '{}.ofMinutes(1)'],
  ['java.time.ZoneOffset', '{}.UTC'], ['java.time.ZoneId', '{}.of("UTC")'], ['java.util.Date', 'new {}(0L)'], ['java.util.UUID', 'new {}(0L, 1L)'], ['java.util.Locale', '{}.ROOT'], ['java.util.regex.Pattern', '{}.compile("a")'],
  ['java.io.StringReader', 'new {}("text")'], ['java.io.Reader', 'new java.io.StringReader("text")'], ['java.io.StringWriter', 'new {}()'], ['java.io.InputStream', 'new java.io.ByteArrayInputStream(new byte[] { 1, 2 })'],
  ['java.io.OutputStream', 'new java.io.ByteArrayOutputStream()'], ['java.io.Writer', 'new java.io.StringWriter()'], ['java.lang.Appendable', 'new StringBuilder("text")'], ['java.nio.charset.Charset', 'java.nio.charset.StandardCharsets.UTF_8'],
  ['java.nio.ByteBuffer', '{}.allocate(4)'], ['java.nio.CharBuffer', '{}.allocate(4)'], ['java.util.Random', 'new {}(1L)'], ['java.util.BitSet', 'new {}()'], ['java.util.Properties', 'new {}()'],
  // A name of a file is no file.
  ['java.io.File', 'new {}("text")'], ['java.nio.file.Path', 'java.nio.file.Paths.get("text")'],
  ['java.lang.Throwable', 'new {}("text")'], ['java.lang.Exception', 'new {}("text")'], ['java.lang.RuntimeException', 'new {}("text")'], ['java.io.IOException', 'new {}("text")'], ['java.lang.IllegalStateException', 'new {}("text")'], ['java.lang.IllegalArgumentException', 'new {}("text")']
])
/** Of collections: how one with one element is written. */
const COLLECTIONS: ReadonlyMap<string, string> = new Map([
  ['java.util.List', 'ArrayList'], ['java.util.Collection', 'ArrayList'], ['java.lang.Iterable', 'ArrayList'], ['java.util.ArrayList', 'ArrayList'], ['java.util.Set', 'LinkedHashSet'], ['java.util.Deque', 'ArrayDeque'], ['java.util.Queue', 'ArrayDeque']
])

/**
 * Expressions that stand for arguments in a test, as the Java file has them: plain values, objects of the project's classes that can
 * be built without an effect, and for an interface a double that keeps its calls with `saw(call, answer)`.
 */
export class JavaSampleValues {
  /** Methods that make doubles, by the interface that they stand for. */
  readonly doubleMethods = new Map<ClassSymbol, { readonly name: string; readonly lines: readonly string[] }>()
  doubles = 0
  realObjects = 0
  /** Inside of a double: what it answers is plain. */
  private answering = false

  constructor(private readonly bound: BoundProgram, private readonly names: NewJavaFile, private readonly buildable: ReadonlySet<string>) {}

  of(type: Type, label: string, depth = 0): string { return this.all(type, label, depth)[0]! }

  /** A few different expressions of a type, the most usual first. Throws `NoSample`. */
  all(type: Type, label: string, depth = 0): readonly string[] {
    switch (type.tag) {
      case 'primitive': return PRIMITIVES.get(type.name) ?? none(label)
      case 'array': {
        if (type.element.tag !== 'primitive' && type.element.tag !== 'class') return none(label)
        return [`new ${this.typeText(erasure(type.element))}[] { ${this.of(type.element, label, depth + 1)} }`]
      }
      case 'wildcard': return type.bound ? this.all(type.bound, label, depth + 1) : ['"text"']
      case 'variable': return this.all(erasure(type), label, depth + 1)
      case 'class': return this.ofClass(type.symbol, type.args, label, depth)
      default: return none(label)
    }
  }

  private ofClass(symbol: ClassSymbol, args: readonly Type[], label: string, depth: number): readonly string[] {
    const { id } = symbol
    if (id === 'java.lang.String') return ['"text"', '""']
    const box = BOXES.get(id)
    if (box !== undefined) return PRIMITIVES.get(box)!
    const known = LIBRARY.get(id)
    if (known !== undefined) return [known.replace('{}', this.names.nameOf(symbol))]
    const collection = COLLECTIONS.get(id), inside = (at: number) => (args[at] ? this.of(args[at], label, depth + 1) : '"text"')
    if (collection !== undefined) return [`new ${this.library(collection)}<>(${this.library('Arrays')}.asList(${inside(0)}))`, `new ${this.library(collection)}<>()`]
    if (id === 'java.util.Map' || id === 'java.util.HashMap') return [`new ${this.library('LinkedHashMap')}<>(${this.library('Collections')}.singletonMap(${inside(0)}, ${inside(1)}))`]
    if (id === 'java.util.Iterator') return [`${this.library('Arrays')}.asList(${inside(0)}).iterator()`]
    if (id === 'java.util.Optional') return [`${this.library('Optional')}.of(${inside(0)})`, `${this.library('Optional')}.empty()`]
    if (symbol.flags & Flags.Enum) {
      const constants = [...symbol.ownMembers].filter((one): one is FieldSymbol => one instanceof FieldSymbol && (one.flags & Flags.Enum) !== 0 && one.isStatic).sort((a, b) => a.node - b.node)
      const named = constants.length > 0 ? constants : symbol.ownMembers.filter((one): one is FieldSymbol => one instanceof FieldSymbol && one.isStatic && one.type.tag === 'class' && one.type.symbol === symbol)
      if (named.length === 0) return none(label)
      return named.slice(0, MOST_CONSTANTS).map(one => `${this.nameOf(symbol)}.${one.name}`)
    }
    if (depth > DEEPEST) throw new NoSample(`${label} is built of too many things`)
    if (symbol.isInterface) return [this.double(symbol, args, label, depth)]
    return [this.object(symbol, args, label, depth)]
  }

  private library(name: string): string { return this.names.byName('java.util', name) }

  nameOf(symbol: ClassSymbol): string {
    try { return this.names.nameOf(symbol) } catch (error) { if (error instanceof Refused) throw new NoSample(error.message); throw error }
  }

  typeText(type: Type): string {
    try { return typeText(type, this.names) } catch (error) { if (error instanceof Refused) throw new NoSample(error.message); throw error }
  }

  /** An object of a class of the project. */
  private object(symbol: ClassSymbol, args: readonly Type[], label: string, depth: number): string {
    if (!this.buildable.has(symbol.id)) throw new NoSample(`${label} is a ${symbol.name}, which cannot be built here without more`)
    if (symbol.outer && !symbol.isStatic) throw new NoSample(`${label} belongs to an object of ${symbol.outer.name}`)
    const given = this.argumentsOf(symbol, args, depth + 1)
    const text = `new ${this.nameOf(symbol)}${symbol.typeParameters.length > 0 ? '<>' : ''}(${given.join(', ')})`
    this.realObjects++
    return text
  }

  /** What a class's constructor has to be handed: that with most parameters for which there are samples. */
  argumentsOf(symbol: ClassSymbol, args: readonly Type[] = [], depth = 0): string[] {
    const by: Substitution = new Map(symbol.typeParameters.map((one, at) => [one, args[at] ?? erasure(one)]))
    const declared = symbol.own(CONSTRUCTOR).filter((one): one is MethodSymbol => one instanceof MethodSymbol && !(one.flags & Flags.Private) && ((one.flags & Flags.Public) !== 0 || symbol.packageName === this.names.packageName))
    if (declared.length === 0) throw new NoSample(`${symbol.name} has no constructor that a test may call`)
    let failed: NoSample | undefined
    for (const one of [...declared].sort((a, b) => b.arity - a.arity)) {
      try { return this.given(one, type => substitute(type, by), depth).map(([usual]) => usual!) } catch (error) {
        if (!(error instanceof NoSample)) throw error
        failed ??= error
      }
    }
    throw failed!
  }

  /** For each parameter of a method what it could be handed; any number of values are one, so that it is plain which of several methods is meant. */
  given(method: MethodSymbol, asSeen: (type: Type) => Type, depth = 0): (readonly string[])[] {
    const parameters = method.signature.parameters.map((type, at, all) => (method.varargs && at === all.length - 1 && type.tag === 'array' ? type.element : type))
    const labels = this.parameterNames(method)
    return parameters.map((type, at) => this.all(asSeen(type), labels[at] ?? `argument ${at + 1}`, depth))
  }

  private parameterNames(method: MethodSymbol): string[] {
    const declared = this.bound.program.declarations.get(method.owner)
    if (!declared || method.node < 0) return []
    const { tree } = declared.file
    return parameterNodes(tree, parentOf(tree, method.node)).map(at => parameterName(tree, at))
  }

  /** An object that stands in for an interface, and keeps its calls. */
  private double(symbol: ClassSymbol, args: readonly Type[], label: string, depth: number): string {
    if (this.answering) throw new NoSample(`${label} would be a double that another gives`)
    const functional = this.bound.program.functions.of(args.length > 0 ? new ClassType(symbol, args) : plainType(symbol))
    if (functional && (!symbol.source || args.length > 0)) {
      const names = functional.parameters.map((_, at) => `given${at + 1}`)
      const answer = isVoid(functional.result) ? 'null' : this.answer(functional.result, label, depth)
      this.doubles++
      return `${names.length === 1 ? names[0]! : `(${names.join(', ')})`} -> ${this.saw(`"${label}.${functional.method.name}("`, names.filter((_, at) => isPlain(functional.parameters[at]!)), answer)}`
    }
    if (!symbol.source) throw new NoSample(`${label} is a ${symbol.name}`)
    if (symbol.typeParameters.length > 0) throw new NoSample(`${label} is a ${symbol.name} of something`)
    const known = this.doubleMethods.get(symbol)
    this.doubles++
    if (known) return `${known.name}("${label}")`
    const name = numberedName(`${lowerFirst(symbol.name)}Double`, one => ![...this.doubleMethods.values()].some(other => other.name === one))
    this.doubleMethods.set(symbol, { name, lines: this.doubleLines(symbol, name, depth) })
    return `${name}("${label}")`
  }

  private doubleLines(symbol: ClassSymbol, name: string, depth: number): string[] {
    const methods = abstractMethods(symbol, this.bound)
    if (!methods) throw new NoSample(`a ${symbol.name} has methods that come from outside the project`)
    const own = this.nameOf(symbol), body: string[] = []
    const taken = new Set(methods.flatMap(one => parameterNodes(one.file.tree, one.node).map(at => parameterName(one.file.tree, at))))
    const label = numberedName('name', one => !taken.has(one))
    for (const one of methods) {
      let signature: string
      try { signature = signatureLines(one, symbol, this.names, this.bound, () => undefined, null, undefined).at(-1)!.slice(0, -1) } catch (error) {
        if (error instanceof Refused) throw new NoSample(error.message)
        throw error
      }
      const { result, parameters } = one.method.signature
      const given = parameterNodes(one.file.tree, one.node).map(at => parameterName(one.file.tree, at)).filter((_, at) => isPlain(parameters[at]!))
      const call = (answer: string) => this.saw(`${label} + ".${one.method.name}("`, given, answer)
      let lines: string[]
      if (isVoid(result)) lines = [`${call('null')};`]
      else {
        try { lines = [`return ${call(this.answer(result, one.method.name, depth))};`] } catch (error) {
          if (!(error instanceof NoSample)) throw error
          lines = [`${call('null')};`, 'throw new UnsupportedOperationException("not told what to answer");']
        }
      }
      body.push(...(body.length > 0 ? [''] : []), '@Override', `public ${signature} {`, ...lines.map(line => `\t${line}`), '}')
    }
    return [`/** Stands in for ${withArticle(symbol.name)}. */`, `private ${own} ${name}(String ${label}) {`, `\treturn new ${own}() {`, ...body.map(line => (line === '' ? '' : `\t\t${line}`)), '\t};', '}']
  }

  private answer(type: Type, label: string, depth: number): string {
    const before = this.answering
    this.answering = true
    try { return this.of(type, label, depth + 1) } finally { this.answering = before }
  }

  private saw(start: string, taken: readonly string[], answer: string): string {
    const whole = taken.length === 0 ? `${start.slice(0, -1)})"` : `${start} + ${taken.join(' + ", " + ')} + ")"`
    return `saw(${whole}, ${answer})`
  }
}

function none(label: string): never { throw new NoSample(`${label} is of a type for which no value is known`) }
function isVoid(type: Type): boolean { return type.tag === 'special' && type.name === 'void' }
/** Whether a value says what it is by its text. */
function isPlain(type: Type): boolean { return type.tag === 'primitive' || (type.tag === 'class' && (type.symbol.id === 'java.lang.String' || BOXES.has(type.symbol.id) || (type.symbol.flags & Flags.Enum) !== 0)) }
