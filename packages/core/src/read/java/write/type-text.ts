import { ClassSymbol, Flags } from '../../binding/symbols.js'
import type { Type, TypeVariable } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { Refused } from '../../write/refused.js'
import type { JavaFile } from '../scope.js'
import { Kind } from '../syntax.js'
import { isAnnotation } from '../type-names.js'
import type { FileNames } from './java-editor.js'

/** A type as it is written in a file. `from`: the class in whose body it will stand, for what only that may see. */
export function typeText(type: Type, names: FileNames, from?: ClassSymbol): string {
  const written = (one: Type): string => typeText(one, names, from)
  switch (type.tag) {
    case 'primitive': case 'variable': return type.name
    case 'special': if (type.name === 'void') return 'void'; break
    case 'array': return `${written(type.element)}[]`
    case 'wildcard': return type.bound ? `? ${type.variance} ${written(type.bound)}` : '?'
    case 'class': {
      const { symbol, args } = type
      if (symbol.outer && !symbol.isStatic && !symbol.isInterface && symbol.outer.typeParameters.length > 0 && from?.outermost !== symbol.outermost) {
        throw new Refused('not-visible', `${symbol.name} belongs to an object of the generic class ${symbol.outer.name}`)
      }
      return names.nameOf(symbol, from) + (args.length > 0 ? `<${args.map(written).join(', ')}>` : '')
    }
    case 'intersection':
  }
  throw new Refused('not-visible', 'It would need a type that has no name there')
}

/** Type parameters with their bounds, in angle brackets; empty where there are none. */
export function typeParametersText(parameters: readonly TypeVariable[], names: FileNames, from?: ClassSymbol): string {
  if (parameters.length === 0) return ''
  return `<${parameters.map(parameter => {
    const bounds = parameter.bounds.filter(bound => !(bound.tag === 'class' && bound.symbol.id === 'java.lang.Object')).map(bound => typeText(bound, names, from))
    return bounds.length > 0 ? `${parameter.name} extends ${bounds.join(' & ')}` : parameter.name
  }).join(', ')}>`
}

/**
 * A piece of a file that writes a type, as it is written elsewhere: its names named anew, its annotations left out.
 * `renamed`: other words for some of its names.
 */
export function copiedType(node: Node, file: JavaFile, names: FileNames, from: ClassSymbol | undefined, renamed: (node: Node) => string | undefined): string {
  const { tree } = file
  const { text } = tree
  const copy = (at: Node): string => {
    const other = renamed(at)
    if (other !== undefined) return other
    const kind = tree.kind(at)
    if (kind === Kind.TypeIdentifier || kind === Kind.Identifier || kind === Kind.ScopedTypeIdentifier) {
      const head = kind === Kind.ScopedTypeIdentifier ? tree.children(at).at(-1)! : at
      const meaning = file.meaning(head)
      if (meaning instanceof ClassSymbol) {
        const generic = kind === Kind.ScopedTypeIdentifier && tree.contains(at, Kind.TypeArguments)
        if (generic || (meaning.outer && !(meaning.flags & Flags.Static) && !meaning.isInterface && meaning.outer.typeParameters.length > 0)) throw new Refused('not-visible', `${meaning.name} belongs to an object of a generic class`)
        return names.nameOf(meaning, from)
      }
      if (!meaning && kind === Kind.ScopedTypeIdentifier) throw new Refused('not-visible', `${tree.textOf(at)} is not known`)
      return file.unbound.has(at) ? unknownName(tree.textOf(at), file, names) : tree.textOf(at)
    }
    let result = '', last = tree.start(at)
    for (const child of tree.children(at)) {
      if (isAnnotation(tree.kind(child))) { result += text.slice(last, tree.start(child)); last = tree.end(child); continue }
      result += text.slice(last, tree.start(child)) + copy(child)
      last = tree.end(child)
    }
    return result + text.slice(last, tree.end(at))
  }
  return copy(node).replace(/\/\*[^]*?\*\/|\/\/.*/g, '').replace(/\s+/g, ' ').trim()
}

/** A name that nothing at hand has, such as one of a library that is not there: it is imported elsewhere as its file imports it. */
function unknownName(name: string, file: JavaFile, names: FileNames): string {
  const imported = file.singleImports.get(name)
  return imported === undefined ? name : names.byName(imported.name.slice(0, Math.max(0, imported.name.lastIndexOf('.'))), name)
}
