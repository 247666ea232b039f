import ts from 'typescript'
import type { WriteContext } from './context.js'
import type { FileEditor, ProjectEditor } from './file-editor.js'
import { Refused } from '../../write/refused.js'
import { takeNames, TypeWriter } from './written-type.js'

/** The name of a class or interface of the project, by id, as it stands in a file, imported there where needed. */
export function typeName(id: string, own: FileEditor, editor: ProjectEditor, snapshot: WriteContext['snapshot']): string {
  const path = id.slice(0, id.indexOf('#'))
  const name = id.slice(id.indexOf('#') + 1)
  if (!/^[\w$]+$/.test(name)) throw new Refused('nested', `${name} is nested and cannot be imported by its name.`)
  if (path === own.path) return name
  const file = snapshot.program.getSourceFile(`${editor.root}/${path}`)
  const declaration = file && [...snapshot.declarations.declaredIn(file)].find(([, declared]) => declared.id === id)?.[0]
  const exported = declaration && editor.exportedName(declaration)
  if (!exported) throw new Refused('not-exported', `${name} is not exported by ${path}.`)
  return own.nameFor({ name: exported, file: path, specifier: null, typeOnly: true })
}

/** A type as it stands in the class's own file, with the imports that it needs there. */
export function writeType(type: ts.Type, node: ts.Node, own: FileEditor, editor: ProjectEditor, { snapshot }: WriteContext): string {
  const declared = type.symbol?.declarations?.find(at => ts.isClassLike(at) || ts.isInterfaceDeclaration(at))
  const owner = declared && snapshot.declarations.ownerOf(declared)
  // A plain class or interface of the project is imported by its name; anything else must be visible already.
  if (owner && owner.member === '' && type.isClassOrInterface() && !type.typeParameters?.length) return typeName(owner.type, own, editor, snapshot)
  const write = new TypeWriter(snapshot, editor, node, true)
  const text = write.inferred(type)
  takeNames(write, own)
  return text
}
