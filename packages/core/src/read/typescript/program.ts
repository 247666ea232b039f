import ts from 'typescript'
import type { FileSource, UnreadableReason } from '../file-source.js'
import { bracketDepth } from '../file-source.js'
import type { TypeScriptProjectFiles } from './project-files.js'
import { readJson } from './project-files.js'

/** Parsed files by path and text, shared by all programs of one session so that a file is parsed once for each text. */
export class ParsedFiles {
  /** The language's own library is the same for every project. */
  private static readonly library = new Map<string, ts.SourceFile>()
  private readonly files = new Map<string, { text: string; file: ts.SourceFile }>()

  constructor(private readonly libraryFolder: string) {}

  get(path: string, text: string, options: ts.CreateSourceFileOptions): ts.SourceFile {
    if (path.startsWith(`${this.libraryFolder}/lib.`)) {
      const key = `${options.languageVersion} ${path}`
      let file = ParsedFiles.library.get(key)
      if (!file) ParsedFiles.library.set(key, file = ts.createSourceFile(path, text, options, true))
      return file
    }
    const known = this.files.get(path)
    if (known && known.text === text && known.file.impliedNodeFormat === options.impliedNodeFormat) return known.file
    const file = ts.createSourceFile(path, text, options, true)
    ;(file as { version?: string }).version = String(text.length)
    this.files.set(path, { text, file })
    return file
  }
}

export interface OpenedProgram {
  readonly program: ts.Program
  readonly unreadable: ReadonlyMap<string, UnreadableReason>
}

/**
 * One program over all sources of a project. Modules are looked up with the options of the configuration nearest to the
 * importing file, and packages of the same workspace lead to their sources instead of their build output.
 */
export function openProgram(
  source: FileSource, root: string, files: TypeScriptProjectFiles, parsed: ParsedFiles, libraryFolder: string, old?: ts.Program
): OpenedProgram {
  const unreadable = new Map<string, UnreadableReason>()
  const caches = new Map<ts.CompilerOptions, ts.ModuleResolutionCache>()
  const relative = (path: string) => (path.startsWith(`${root}/`) ? path.slice(root.length + 1) : path)
  const readable = (path: string): string | undefined => {
    const outcome = source.readText(path)
    if ('unreadable' in outcome) {
      unreadable.set(relative(path), outcome.unreadable)
      return undefined
    }
    if (bracketDepth(outcome.text) > 1000) {
      unreadable.set(relative(path), 'too-deep')
      return undefined
    }
    return outcome.text
  }
  const host: ts.CompilerHost = {
    getSourceFile: (path, options) => {
      const text = readable(path)
      return text === undefined ? undefined
        : parsed.get(path, text, typeof options === 'object' ? options : { languageVersion: options })
    },
    getDefaultLibFileName: options => `${libraryFolder}/${ts.getDefaultLibFileName(options)}`,
    getDefaultLibLocation: () => libraryFolder,
    getCurrentDirectory: () => root,
    getCanonicalFileName: path => path,
    useCaseSensitiveFileNames: () => true,
    getNewLine: () => '\n',
    fileExists: path => source.isFile(path),
    readFile: path => { const outcome = source.readText(path); return 'text' in outcome ? outcome.text : undefined },
    directoryExists: path => source.isDirectory(path),
    getDirectories: path => source.list(path).filter(entry => entry.kind !== 'file').map(entry => entry.name),
    realpath: path => source.realPath(path),
    writeFile: () => { throw new Error('surveys write nothing') },
    resolveModuleNameLiterals: (literals, containing, redirected, _options, containingFile) => literals.map(literal => {
      const own = files.optionsFor(relative(containing))
      let cache = caches.get(own)
      if (!cache) caches.set(own, cache = ts.createModuleResolutionCache(root, path => path, own))
      const inWorkspace = workspaceSource(source, root, files, literal.text)
      if (inWorkspace) return { resolvedModule: { resolvedFileName: inWorkspace, extension: ts.Extension.Ts, isExternalLibraryImport: false } }
      const mode = ts.getModeForUsageLocation(containingFile, literal, own)
      return ts.resolveModuleName(literal.text, containing, own, host, cache, redirected, mode)
    })
  }
  const program = ts.createProgram({
    rootNames: files.sources.map(path => `${root}/${path}`), options: files.options, host, ...(old ? { oldProgram: old } : {})
  })
  return { program, unreadable }
}

const SOURCE_ENDINGS = ['.ts', '.tsx', '.mts', '.cts', '.d.ts', '.js']

/** The source file behind `package` or `package/path` of a workspace, if there is one. */
function workspaceSource(source: FileSource, root: string, files: TypeScriptProjectFiles, specifier: string): string | undefined {
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
    for (const place of new Set([stem, stem.replace(/^(dist|lib|build|out)(\/(esm|cjs|types|src))?\//, 'src/'), `src/${stem}`])) {
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
