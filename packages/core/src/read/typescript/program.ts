import ts from 'typescript'
import type { FileSource, UnreadableReason } from '../file-source.js'
import { bracketDepth } from '../file-source.js'
import type { TypeScriptProjectFiles } from './project-files.js'
import { workspaceSource } from './workspace.js'

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
