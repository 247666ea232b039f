import ts from 'typescript'


/** Name under which what the language's own runtime offers is counted. */
export const RUNTIME = 'runtime'

/**
 * The package that declares something outside the files that are read: `name` or `@scope/name` for what is installed,
 * `node:name` for Node's modules, the folder's name for code that is left out, `runtime` for the language's own globals.
 * Undefined for members of the runtime's own types, which are values and not collaborators.
 */
export function externalNameOf(declaration: ts.Node): string | undefined {
  const path = declaration.getSourceFile().fileName
  for (let at: ts.Node | undefined = declaration.parent; at; at = at.parent) {
    if (ts.isModuleDeclaration(at) && ts.isStringLiteral(at.name)) {
      return path.includes('/@types/node/') ? `node:${at.name.text.replace(/^node:/, '')}` : at.name.text
    }
  }
  if (/\/lib\.[^/]*\.d\.ts$/.test(path) || path.includes('/@types/node/')) return RUNTIME
  const installed = path.lastIndexOf('/node_modules/')
  if (installed >= 0) {
    const parts = path.slice(installed + '/node_modules/'.length).split('/')
    const name = parts[0]!.startsWith('@') ? `${parts[0]}/${parts[1]}` : parts[0]!
    return name.startsWith('@types/') ? name.slice('@types/'.length).replace('__', '/') : name
  }
  const vendored = /\/(?:vendor|third_party)\/((?:@[^/]+\/)?[^/]+)/.exec(path)
  return vendored ? vendored[1]! : path.split('/').slice(-2, -1)[0] ?? path
}
