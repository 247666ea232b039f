import type { StubSource } from '../classfile/stub-index.js'
import type { ClassStub } from '../classfile/class-file.js'
import type { ClassBody } from '../binding/symbols.js'
import { ClassSymbol, FieldSymbol, MethodSymbol } from '../binding/symbols.js'
import type { Type } from '../binding/types.js'
import { ArrayType, ClassType, plainType, TypeVariable, UNKNOWN, VOID, WildcardType } from '../binding/types.js'
import { PRIMITIVE_BY_CODE } from './primitives.js'

/** Classes of the JDK and of libraries, from their compiled form, each made when it is first asked for. */
export class JavaLibrary implements ClassBody {
  private readonly symbols = new Map<string, ClassSymbol | undefined>()
  private readonly stubs = new Map<ClassSymbol, ClassStub>()
  private readonly variables = new Map<ClassSymbol, ReadonlyMap<string, TypeVariable>>()

  /** `project`: classes of the sources, which stand before those of libraries, by binary name. */
  constructor(private readonly sources: readonly StubSource[], private readonly project: (binaryName: string) => ClassSymbol | undefined) {}

  hasPackage(name: string): boolean {
    const path = name.replaceAll('.', '/')
    return this.sources.some(source => source.hasPackage(path))
  }

  packageNames(): string[] { return this.sources.flatMap(source => source.packageNames().map(name => name.replaceAll('/', '.'))) }

  /** By binary name: `java/util/Map$Entry`. */
  find(binaryName: string): ClassSymbol | undefined {
    if (this.symbols.has(binaryName)) return this.symbols.get(binaryName)
    let symbol: ClassSymbol | undefined
    for (const source of this.sources) {
      const stub = source.stub(binaryName)
      if (!stub) continue
      const outer = stub.outer === null ? null : this.find(stub.outer) ?? null
      // The outer class has made its member classes, this one among them.
      if (this.symbols.has(binaryName)) return this.symbols.get(binaryName)
      const dotted = binaryName.replaceAll('/', '.')
      const packageName = dotted.slice(0, Math.max(0, dotted.lastIndexOf('.')))
      const name = outer ? binaryName.slice(stub.outer!.length + 1) : dotted.slice(dotted.lastIndexOf('.') + 1)
      symbol = new ClassSymbol(outer ? `${outer.id}.${name}` : dotted, name, packageName, outer, stub.flags & 0xffff, false, this)
      this.stubs.set(symbol, stub)
      break
    }
    this.symbols.set(binaryName, symbol)
    if (symbol) for (const inner of this.stubs.get(symbol)!.inner) this.declareInner(symbol, inner)
    return symbol
  }

  private declareInner(outer: ClassSymbol, binaryName: string): void {
    const inner = this.find(binaryName)
    if (inner) outer.types.set(inner.name, inner)
  }

  header(symbol: ClassSymbol): void {
    const reader = this.reader(this.stubs.get(symbol)!.signature, symbol)
    symbol.setTypeParameters(reader.typeParameters())
    this.variables.set(symbol, reader.declared)
    // What a class of a library extends may be in another one that is not there.
    const [superclass, ...interfaces] = reader.rest()
    symbol.setParents(symbol.id === 'java.lang.Object' || symbol.isInterface || superclass?.tag !== 'class' ? null : superclass, interfaces.filter((type): type is ClassType => type.tag === 'class'), [superclass, ...interfaces].every(type => type === undefined || type.tag === 'class'))
  }

  members(symbol: ClassSymbol): void {
    const stub = this.stubs.get(symbol)!
    for (const { name, flags, signature } of stub.fields) symbol.add(new FieldSymbol(name, symbol, flags, () => this.reader(signature, symbol).type()))
    for (const { name, flags, signature } of stub.methods) {
      // In an interface a method with a body is one that is not abstract.
      symbol.add(new MethodSymbol(name, symbol, flags, arityOf(signature), () => {
        const reader = this.reader(signature, symbol)
        const typeParameters = reader.typeParameters()
        const parameters = reader.parameters()
        return { typeParameters, parameters, result: reader.type() }
      }))
    }
  }

  private reader(signature: string, symbol: ClassSymbol): SignatureReader {
    return new SignatureReader(signature, name => this.project(name) ?? this.find(name), name => this.variableOf(symbol, name))
  }

  private variableOf(symbol: ClassSymbol, name: string): TypeVariable | undefined {
    for (let at: ClassSymbol | null = symbol; at; at = at.outer) {
      void at.typeParameters
      const found = this.variables.get(at)?.get(name)
      if (found) return found
    }
    return undefined
  }
}

function arityOf(signature: string): number {
  let count = 0
  // Type parameters hold no parenthesis.
  for (let at = signature.indexOf('(') + 1; signature[at] !== ')'; at = afterType(signature, at)) count++
  return count
}

/** The place after the type that begins at a place. */
function afterType(text: string, at: number): number {
  while (text[at] === '[') at++
  if (text[at] !== 'L' && text[at] !== 'T') return at + 1
  for (let depth = 0; ; at++) {
    const char = text[at]
    if (char === '<') depth++
    else if (char === '>') depth--
    else if (char === ';' && depth === 0) return at + 1
  }
}

/** Reads signatures as class files write them: chapter 4.7.9.1 of The Java Virtual Machine Specification. */
class SignatureReader {
  private at = 0
  readonly declared = new Map<string, TypeVariable>()

  constructor(
    private readonly text: string, private readonly classOf: (binaryName: string) => ClassSymbol | undefined,
    private readonly outer: (name: string) => TypeVariable | undefined
  ) {}

  typeParameters(): TypeVariable[] {
    if (this.text[this.at] !== '<') return []
    // Bounds may mention later parameters, so all are declared before any bound is read.
    const starts: { variable: TypeVariable; at: number }[] = []
    let at = 1
    while (this.text[at] !== '>') {
      const colon = this.text.indexOf(':', at)
      const variable = new TypeVariable(this.text.slice(at, colon))
      this.declared.set(variable.name, variable)
      starts.push({ variable, at: colon })
      for (at = colon; this.text[at] === ':';) at = this.text[at + 1] === ':' ? at + 1 : afterType(this.text, at + 1)
    }
    for (const { variable, at: start } of starts) {
      this.at = start
      const bounds: Type[] = []
      while (this.text[this.at] === ':') {
        this.at++
        if (this.text[this.at] !== ':') bounds.push(this.type())
      }
      variable.bounds = bounds
    }
    this.at = at + 1
    return starts.map(one => one.variable)
  }

  parameters(): Type[] {
    this.at++
    const types: Type[] = []
    while (this.text[this.at] !== ')') types.push(this.type())
    this.at++
    return types
  }

  rest(): Type[] {
    const types: Type[] = []
    while (this.at < this.text.length) types.push(this.type())
    return types
  }

  type(): Type {
    const char = this.text[this.at++]!
    switch (char) {
      case '[': return new ArrayType(this.type())
      case 'V': return VOID
      case 'T': {
        const end = this.text.indexOf(';', this.at)
        const name = this.text.slice(this.at, end)
        this.at = end + 1
        return this.declared.get(name) ?? this.outer(name) ?? UNKNOWN
      }
      case 'L': return this.classType()
      default: return PRIMITIVE_BY_CODE[char] ?? UNKNOWN
    }
  }

  private classType(): Type {
    let name = ''
    let args: Type[] = []
    for (;;) {
      const char = this.text[this.at++]!
      if (char === ';') break
      if (char === '<') {
        args = []
        while (this.text[this.at] !== '>') args.push(this.argument())
        this.at++
      } else if (char === '.') { name += '$'; args = [] }
      else name += char
    }
    const symbol = this.classOf(name)
    return symbol ? args.length > 0 ? new ClassType(symbol, args) : plainType(symbol) : UNKNOWN
  }

  private argument(): Type {
    switch (this.text[this.at]) {
      case '*': this.at++; return new WildcardType('any', null)
      case '+': this.at++; return new WildcardType('extends', this.type())
      case '-': this.at++; return new WildcardType('super', this.type())
      default: return this.type()
    }
  }
}

