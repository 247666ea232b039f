import type { FileSource } from '../file-source.js'
import type { TypeScriptProjectFiles } from './project-files.js'
import { readJson } from './project-files.js'

const SOURCE_ENDINGS = ['.ts', '.tsx', '.mts', '.cts', '.d.ts', '.js']

/** The source file behind `package` or `package/path` of a workspace, if there is one. */
export function workspaceSource(source: FileSource, root: string, files: TypeScriptProjectFiles, specifier: string): string | undefined {
  if (specifier.startsWith('.') || specifier.startsWith('/')) return undefined
  const parts = specifier.split('/')
  const name = parts.slice(0, specifier.startsWith('@') ? 2 : 1).join('/')
  const folder = files.packages.get(name)
  if (folder === undefined) return undefined
  const base = folder === '' ? root : `${root}/${folder}`
  const rest = specifier.slice(name.length + 1)
  const manifest = readJson(source, `${base}/package.json`)
  const outputs = rest === ''
    ? [exported(manifest?.exports, '.'), manifest?.types, manifest?.module, manifest?.main, 'index']
    : [exported(manifest?.exports, `./${rest}`), rest]
  for (const output of outputs) {
    if (typeof output !== 'string') continue
    const stem = output.replace(/^\.\//, '').replace(/(\.d)?\.[cm]?[jt]sx?$/, '')
    const inFolder = folder === '' ? '' : `${folder}/`, compiled = files.sourceOf(inFolder + stem)
    for (const place of new Set([...(compiled?.startsWith(inFolder) ? [compiled.slice(inFolder.length)] : []), stem, stem.replace(/^(dist|lib|build|out)(\/(esm|cjs|types|src))?\//, 'src/'), `src/${stem}`])) {
      for (const ending of SOURCE_ENDINGS) {
        const path = `${base}/${place}${ending}`
        if (files.isSource(path.slice(root.length + 1)) || (ending !== '.js' && source.isFile(path) && !/\/(dist|build|out)\//.test(path))) return path
      }
    }
  }
  return undefined
}

/** The target of a path in a package's `exports`, patterns with one `*` included. */
function exported(exports: unknown, path: string): string | undefined {
  if (typeof exports === 'string') return path === '.' ? exports : undefined
  if (typeof exports !== 'object' || exports === null) return undefined
  const table = exports as Record<string, unknown>
  const pick = (value: unknown): string | undefined => {
    if (typeof value === 'string') return value
    if (Array.isArray(value)) return pick(value[0])
    if (typeof value !== 'object' || value === null) return undefined
    const conditions = value as Record<string, unknown>
    return pick(conditions.types ?? conditions.import ?? conditions.default ?? conditions.require ?? Object.values(conditions)[0])
  }
  if (path in table) return pick(table[path])
  if (path === '.' && !Object.keys(table).some(key => key.startsWith('.'))) return pick(table)
  for (const [key, value] of Object.entries(table)) {
    const star = key.indexOf('*')
    if (star < 0 || !path.startsWith(key.slice(0, star)) || !path.endsWith(key.slice(star + 1))) continue
    return pick(value)?.replace('*', path.slice(star, path.length - (key.length - star - 1)))
  }
  return undefined
}

/** How a package is had by others, and what of it. */
export interface PackageEntry {
  readonly package: string
  /** As an import names it: the package, or one of its paths. */
  readonly specifier: string
}

const SHOWING = ['exports', 'main', 'module', 'types', 'typings']

/** Of each state of a project, which never changes. */
const entries = new WeakMap<TypeScriptProjectFiles, ReadonlyMap<string, PackageEntry>>()

/**
 * Sources that packages of the project show to whoever installs them, by their `exports`, `types`, `module` or `main`; a pattern with a `*` is
 * no entry. What else a package is made of may change its place without anybody outside noticing.
 */
export function packageEntries(source: FileSource, root: string, files: TypeScriptProjectFiles): ReadonlyMap<string, PackageEntry> {
  const known = entries.get(files)
  if (known) return known
  const found = new Map<string, PackageEntry>()
  entries.set(files, found)
  for (const [name, folder] of files.packages) {
    const manifest = readJson(source, `${folder === '' ? root : `${root}/${folder}`}/package.json`)
    // What says nothing of what it shows is an application, or is had file by file.
    if (!SHOWING.some(field => manifest?.[field] !== undefined)) continue
    for (const path of ['', ...exportedPaths(source, root, folder).filter(one => !one.includes('*'))]) {
      const entry = workspaceSource(source, root, files, name + path)
      if (entry?.startsWith(`${root}/`) && !found.has(entry.slice(root.length + 1))) found.set(entry.slice(root.length + 1), { package: name, specifier: name + path })
    }
  }
  return found
}

/** How a pattern of its package's `exports` names a file; undefined where none does. */
export function specifierByPattern(source: FileSource, root: string, files: TypeScriptProjectFiles, path: string): string | undefined {
  for (const [name, folder] of files.packages) {
    if (folder !== '' && !path.startsWith(`${folder}/`)) continue
    const stem = path.slice(folder === '' ? 0 : folder.length + 1).replace(/(\.d)?\.[cm]?[jt]sx?$/, '').split('/')
    for (const pattern of exportedPaths(source, root, folder).filter(one => one.includes('*'))) {
      for (let at = stem.length - 1; at >= 0; at--) {
        const specifier = name + pattern.replace('*', stem.slice(at).join('/'))
        if (workspaceSource(source, root, files, specifier) === `${root}/${path}`) return specifier
      }
    }
  }
  return undefined
}

/** The paths of a package's `exports` other than itself, as they stand behind its name. */
function exportedPaths(source: FileSource, root: string, folder: string): string[] {
  const exports = readJson(source, `${folder === '' ? root : `${root}/${folder}`}/package.json`)?.exports
  return typeof exports === 'object' && exports !== null ? Object.keys(exports).filter(key => key.startsWith('./')).map(key => key.slice(1)) : []
}
