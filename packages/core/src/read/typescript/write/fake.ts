import ts from 'typescript'
import type { KeptMember, KeptRole } from '../../write/kept-values.js'
import { keptValues } from '../../write/kept-values.js'
import type { Snapshot } from '../session.js'
import type { TypeWriter } from './written-type.js'

/** The fields of a fake, and the bodies of the methods that work on what it keeps, without indentation. */
export interface Fake {
  readonly fields: readonly string[]
  readonly bodies: ReadonlyMap<string, { readonly waits: boolean; readonly lines: readonly string[] }>
}

/** What a class that keeps what it is given has in the place of an interface; null where nothing that it is given comes back. */
export function fakeOf(node: ts.InterfaceDeclaration, snapshot: Snapshot, write: TypeWriter, prefix: string, quote: string, end: string): Fake | null {
  const { checker } = snapshot
  const types = new Map<string, ts.Type>()
  const textOf = (type: ts.Type): string => { const text = checker.typeToString(type, node, ts.TypeFormatFlags.NoTruncation); types.set(text, type); return text }
  const methods = checker.getPropertiesOfType(checker.getTypeAtLocation(node)).flatMap(member => {
    const [declaration] = member.declarations ?? []
    const [signature, ...others] = checker.getTypeOfSymbolAtLocation(member, node).getCallSignatures()
    if (!declaration || !ts.isMethodSignature(declaration) || (member.declarations?.length ?? 0) > 1 || declaration.questionToken || !signature || others.length > 0 || signature.typeParameters?.length) return []
    if (declaration.parameters.some(one => !ts.isIdentifier(one.name) || one.dotDotDotToken || one.questionToken)) return []
    const whole = signature.getReturnType(), waits = whole.symbol?.name === 'Promise'
    const result = waits ? checker.getTypeArguments(whole as ts.TypeReference)[0]! : whole
    return [{ member, waits, nothing: nothingIn(result), parameters: declaration.parameters.map(one => ({ name: (one.name as ts.Identifier).text, type: textOf(checker.getTypeAtLocation(one)) })), gives: givesOf(result) }]
  })

  function givesOf(type: ts.Type): KeptMember['gives'] {
    if (type.flags & (ts.TypeFlags.Void | ts.TypeFlags.Undefined)) return { what: 'nothing', of: '' }
    if (type.flags & ts.TypeFlags.BooleanLike) return { what: 'truth', of: '' }
    if (type.flags & ts.TypeFlags.NumberLike) return { what: 'number', of: '' }
    if (checker.isArrayType(type) || /^(Iterable|IterableIterator|ReadonlySet|Set)$/.test(type.symbol?.name ?? '')) return { what: checker.isArrayType(type) || type.symbol?.name === 'Iterable' ? 'many' : 'other', of: textOf(checker.getTypeArguments(type as ts.TypeReference)[0] ?? type) }
    const one = checker.getNonNullableType(type)
    return { what: one === type ? 'one' : 'maybe', of: textOf(one) }
  }

  const kept = keptValues(methods.map(({ member, parameters, gives }) => ({ name: member.name, parameters, gives })), type => {
    const of = types.get(type)
    return of && of.flags & ts.TypeFlags.Object ? of.getProperties().filter(one => !(one.flags & ts.SymbolFlags.Optional)).map(one => ({ name: one.name, type: checker.typeToString(checker.getTypeOfSymbolAtLocation(one, node)) })) : []
  })
  if (!kept) return null
  const of = write.inferred(types.get(kept.of)!)
  const fields = ['/** What it was given. */', kept.under === null ? `readonly kept: ${/[|&]|=>/.test(of) ? `(${of})` : of}[] = []${end}` : `readonly kept = new Map<${write.inferred(types.get(kept.under)!)}, ${of}>()${end}`]
  const bodies = new Map(methods.flatMap((method, at): [string, { waits: boolean; lines: string[] }][] => {
    const lines = linesOf(kept.roles[at]!, method)
    return lines === undefined ? [] : [[method.member.name, { waits: method.waits, lines: lines.map(line => line + (line.endsWith('{') || line.endsWith('}') ? '' : end)) }]]
  }))
  return { fields, bodies }

  function linesOf({ does, by }: KeptRole, { parameters, gives, nothing }: typeof methods[number]): string[] | undefined {
    const mapped = kept!.under !== null, [first] = parameters, last = parameters.at(-1)
    const matches = by === 'itself' ? `one => one === ${first!.name}` : `one => one.${kept!.key ?? ''} === ${first?.name ?? ''}`
    switch (does) {
      case 'keep': return [mapped ? `this.kept.set(${first!.name}, ${last!.name})` : `this.kept.push(${last!.name})`, ...(gives.what === 'nothing' ? [] : [`return ${gives.what === 'truth' ? 'true' : gives.what === 'number' ? `this.kept.${mapped ? 'size' : 'length'}` : last!.name}`])]
      case 'all': return [`return [...this.kept${mapped ? '.values()' : ''}]`]
      case 'count': return [`return this.kept.${mapped ? 'size' : 'length'}`]
      case 'has': return [mapped ? `return this.kept.has(${first!.name})` : `return this.kept.some(${matches})`]
      case 'find': {
        const found = mapped ? `this.kept.get(${first!.name})` : `this.kept.find(${matches})`
        if (gives.what === 'maybe') return [`return ${found}${nothing === 'null' ? ' ?? null' : ''}`]
        return [`const found = ${found}`, `if (found === undefined) throw new Error(${quote}${prefix.slice(0, -1)} was given nothing like that${quote})`, 'return found']
      }
      case 'drop': {
        if (mapped) return [`${gives.what === 'truth' ? 'return ' : ''}this.kept.delete(${first!.name})`]
        return [`const at = this.kept.findIndex(${matches})`, 'if (at >= 0) this.kept.splice(at, 1)', ...(gives.what === 'truth' ? ['return at >= 0'] : [])]
      }
      default: return undefined
    }
  }
}

/** What stands for nothing in a type. */
function nothingIn(type: ts.Type): 'null' | 'undefined' | null {
  if (!type.isUnion()) return null
  return type.types.some(one => one.flags & ts.TypeFlags.Undefined) ? 'undefined' : type.types.some(one => one.flags & ts.TypeFlags.Null) ? 'null' : null
}
