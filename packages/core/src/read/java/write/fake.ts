import { Flags, MethodSymbol } from '../../binding/symbols.js'
import type { Type } from '../../binding/types.js'
import type { KeptMember, KeptRole } from '../../write/kept-values.js'
import { keptValues } from '../../write/kept-values.js'
import { parameterName, parameterNodes } from './interface-members.js'
import type { PublicMethod } from './interface-members.js'
import type { FileNames } from './java-editor.js'
import { typeText } from './type-text.js'

/** The field of a fake, and the bodies of the methods that work on what it keeps, by the places of the methods. */
export interface JavaFake {
  readonly fields: readonly string[]
  readonly bodies: readonly (readonly string[] | undefined)[]
}

const BOXED: ReadonlyMap<string, string> = new Map([['int', 'Integer'], ['long', 'Long'], ['double', 'Double'], ['float', 'Float'], ['boolean', 'Boolean'], ['char', 'Character'], ['byte', 'Byte'], ['short', 'Short']])
const COLLECTIONS: ReadonlyMap<string, string> = new Map([['java.util.List', 'ArrayList'], ['java.util.Collection', 'ArrayList'], ['java.lang.Iterable', 'ArrayList'], ['java.util.Set', 'LinkedHashSet']])

/** What a class that keeps what it is given has in the place of an interface with these methods; null where nothing that it is given comes back. */
export function javaFakeOf(methods: readonly PublicMethod[], names: FileNames): JavaFake | null {
  const types = new Map<string, Type>()
  const textOf = (type: Type): string => { const text = keyText(type); types.set(text, type); return text }
  const told = methods.map(({ method, file, node }): KeptMember => ({
    name: method.name, gives: givesOf(method.signature.result, textOf),
    parameters: method.varargs || method.signature.typeParameters.length > 0 ? [] : parameterNodes(file.tree, node).map((at, index) => ({ name: parameterName(file.tree, at), type: textOf(method.signature.parameters[index]!) }))
  }))
  const kept = keptValues(told, text => {
    const type = types.get(text)
    if (type?.tag !== 'class') return []
    return type.symbol.ownMembers.flatMap(one => (one instanceof MethodSymbol && one.arity === 0 && (one.flags & Flags.Public || type.symbol.isInterface) && !one.isStatic ? [{ name: one.name, type: keyText(one.signature.result) }] : []))
  })
  if (!kept) return null
  const of = types.get(kept.of)!, written = of.tag === 'primitive' ? BOXED.get(of.name)! : typeText(of, names)
  const util = (name: string) => names.byName('java.util', name)
  const under = kept.under === null ? null : types.get(kept.under)!
  const fields = under === null
    ? ['/** What it was given. */', `public final ${util('List')}<${written}> kept = new ${util('ArrayList')}<>();`]
    : ['/** What it was given. */', `public final ${util('Map')}<${under.tag === 'primitive' ? BOXED.get(under.name)! : typeText(under, names)}, ${written}> kept = new ${util('LinkedHashMap')}<>();`]
  return { fields, bodies: methods.map((one, at) => linesOf(kept.roles[at]!, told[at]!, one)) }

  function linesOf({ does, by }: KeptRole, { parameters, gives }: KeptMember, { method }: PublicMethod): string[] | undefined {
    const mapped = kept!.under !== null, [first] = parameters, last = parameters.at(-1), field = parameters.some(one => one.name === 'kept') ? 'this.kept' : 'kept'
    const one = parameters.some(given => given.name === 'one') ? 'each' : 'one'
    const matches = `${one} -> ${util('Objects')}.equals(${by === 'itself' ? one : `${one}.${kept!.key ?? ''}()`}, ${first?.name ?? ''})`
    const { result } = method.signature, id = result.tag === 'class' ? result.symbol.id : ''
    switch (does) {
      case 'keep': return [mapped ? `${field}.put(${first!.name}, ${last!.name});` : `${field}.add(${last!.name});`, ...(gives.what === 'nothing' ? [] : [`return ${gives.what === 'truth' ? 'true' : gives.what === 'number' ? `${field}.size()` : last!.name};`])]
      case 'all': return [`return new ${util(COLLECTIONS.get(id)!)}<>(${field}${mapped ? '.values()' : ''});`]
      case 'count': return [`return ${field}.size();`]
      case 'has': return [mapped ? `return ${field}.containsKey(${first!.name});` : `return ${field}.stream().anyMatch(${matches});`]
      case 'find': {
        if (mapped) return [id === 'java.util.Optional' ? `return ${util('Optional')}.ofNullable(${field}.get(${first!.name}));` : `return ${field}.get(${first!.name});`]
        const found = `${field}.stream().filter(${matches}).findFirst()`
        return [`return ${id === 'java.util.Optional' ? found : `${found}.orElse(null)`};`]
      }
      case 'drop': {
        if (mapped) return [gives.what === 'truth' ? `return ${field}.remove(${first!.name}) != null;` : `${field}.remove(${first!.name});`]
        return [`${gives.what === 'truth' ? 'return ' : ''}${field}.removeIf(${matches});`]
      }
      default: return undefined
    }
  }
}

/** A type by its whole name, so that two of one simple name are told apart. */
function keyText(type: Type): string {
  switch (type.tag) {
    case 'primitive': return type.name
    case 'class': return type.symbol.id + (type.args.length > 0 ? `<${type.args.map(keyText).join(',')}>` : '')
    case 'array': return `${keyText(type.element)}[]`
    default: return type.tag === 'variable' ? type.name : '?'
  }
}

function givesOf(type: Type, textOf: (type: Type) => string): KeptMember['gives'] {
  if (type.tag === 'special') return { what: 'nothing', of: '' }
  if (type.tag === 'primitive') return { what: type.name === 'boolean' ? 'truth' : type.name === 'int' || type.name === 'long' ? 'number' : 'other', of: '' }
  if (type.tag !== 'class') return { what: 'other', of: '' }
  const [arg] = type.args
  if (COLLECTIONS.has(type.symbol.id)) return arg?.tag === 'class' ? { what: 'many', of: textOf(arg) } : { what: 'other', of: '' }
  if (type.symbol.id === 'java.util.Optional') return arg?.tag === 'class' ? { what: 'maybe', of: textOf(arg) } : { what: 'other', of: '' }
  return { what: 'one', of: textOf(type) }
}
