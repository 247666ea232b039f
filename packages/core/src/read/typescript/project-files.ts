import ts from 'typescript'
import type { FileProblem } from '../../model/facts.js'
import { discoverFiles, testMatcher } from '../discover.js'
import type { FileSource } from '../file-source.js'
import { UNREADABLE_TEXT } from '../file-source.js'
import type { ProjectSettings } from '../settings.js'
import type { NearestConfig } from './compiled-output.js'
import { outputFolders, outputMatcher } from './compiled-output.js'

const TYPESCRIPT = /\.(ts|tsx|mts|cts)$/
const JAVASCRIPT = /\.(js|jsx|mjs|cjs)$/
const NOT_READ = /\.(vue|svelte|astro)$/

export interface ConfigProblem extends FileProblem { readonly file: string }

export interface TypeScriptProjectFiles {
  /** Paths from the root of the sources to be read, sorted. */
  readonly sources: readonly string[]
  readonly isSource: (path: string) => boolean
  readonly isTest: (path: string) => boolean
  /** Files that belong to the code but that nothing here can read, such as .vue. */
  readonly unread: readonly string[]
  readonly options: ts.CompilerOptions
  /** Options of the nearest configuration of a file: for finding modules. */
  readonly optionsFor: (path: string) => ts.CompilerOptions
  /** What a file of the output is compiled from by the configuration nearest to it, both from the root and without ending; undefined where none puts anything there. */
  readonly sourceOf: (path: string) => string | undefined
  readonly problems: readonly ConfigProblem[]
  /** Names of workspace packages to their folders from the root. */
  readonly packages: ReadonlyMap<string, string>
  /** Declared dependencies that are not installed. */
  readonly notInstalled: readonly string[]
  readonly excluded: readonly string[]
}

/** Finds what there is to read and how, from the configuration files of the project. */
export function findProjectFiles(source: FileSource, root: string, settings: ProjectSettings, stop?: () => void): TypeScriptProjectFiles {
  const { files, links, excluded } = discoverFiles(source, root, settings, stop)
  const problems: ConfigProblem[] = links.filter(path => TYPESCRIPT.test(path))
    .map(file => ({ file, line: 1, message: 'is a link; links are not followed' }))
  const configs = new Map<string, NearestConfig & { options: ts.CompilerOptions }>()
  for (const path of files) {
    if (!/(^|\/)tsconfig\.json$/.test(path)) continue
    const folder = folderOf(path)
    const parsed = readConfig(source, root, path, problems)
    if (parsed) configs.set(folder, { ...parsed, folder: folder === '' ? root : `${root}/${folder}` })
  }
  const nearest = (path: string) => {
    for (let folder = folderOf(path); ; folder = folderOf(folder)) {
      const found = configs.get(folder)
      if (found) return found
      if (folder === '') return undefined
    }
  }
  const listed = new Set(files), isOutput = outputMatcher(root, listed, nearest)
  const written = files.filter(path => {
    if (TYPESCRIPT.test(path)) return true
    if (!JAVASCRIPT.test(path)) return false
    const config = nearest(path)
    return config ? config.options.allowJs === true && config.files.has(path) : configs.size === 0
  })
  const output = written.filter(isOutput), sources = output.length === 0 ? written : written.filter(path => !isOutput(path))

  const sourceSet = new Set(sources)
  const leading = leadingOptions([...configs.values()], configs.get(''))
  const packages = new Map<string, string>()
  const declared = new Set<string>()
  for (const path of files) {
    if (!/(^|\/)package\.json$/.test(path)) continue
    const manifest = readJson(source, `${root}/${path}`)
    if (typeof manifest?.name === 'string') packages.set(manifest.name, folderOf(path))
    for (const field of ['dependencies', 'devDependencies'] as const) {
      for (const name of Object.keys((manifest?.[field] as object | undefined) ?? {})) declared.add(`${folderOf(path)}\0${name}`)
    }
  }
  const notInstalled = new Set<string>()
  for (const entry of declared) {
    const [folder, name] = entry.split('\0') as [string, string]
    if (!packages.has(name) && !isInstalled(source, folder === '' ? root : `${root}/${folder}`, name)) notInstalled.add(name)
  }
  const optionCache = new Map<ts.CompilerOptions, ts.CompilerOptions>()
  return {
    sources, isSource: path => sourceSet.has(path), isTest: testMatcher(settings), unread: files.filter(path => NOT_READ.test(path)),
    options: withDefaults(leading, sources.some(path => JAVASCRIPT.test(path))),
    optionsFor: path => {
      const own = nearest(path)?.options ?? leading
      let full = optionCache.get(own)
      if (!full) { full = withDefaults(own, true); optionCache.set(own, full) }
      return full
    },
    sourceOf: path => {
      const { outDir, rootDir } = nearest(path)?.options ?? {}, at = `${root}/${path}`
      const from = rootDir ?? (outDir && folderOf(outDir))
      return outDir && from && at.startsWith(`${outDir}/`) && `${from}/`.startsWith(`${root}/`) ? `${from}/${at.slice(outDir.length + 1)}`.slice(root.length + 1) : undefined
    },
    problems, packages, notInstalled: [...notInstalled].sort(), excluded: output.length === 0 ? excluded : [...excluded, ...outputFolders(output, sources)].sort()
  }
}

function readConfig(source: FileSource, root: string, path: string, problems: ConfigProblem[]) {
  const absolute = `${root}/${path}`
  const host: ts.ParseConfigHost = {
    useCaseSensitiveFileNames: true,
    fileExists: file => source.isFile(file),
    readFile: file => { const outcome = source.readText(file); return 'text' in outcome ? outcome.text : undefined },
    // Which files there are is decided by the walk; the configuration only says what it would compile.
    readDirectory: (folder, extensions, exclude, include, depth) =>
      (ts as unknown as { matchFiles: MatchFiles }).matchFiles(folder, extensions, exclude, include, true, root, depth, at => {
        const entries = source.list(at)
        return {
          files: entries.filter(entry => entry.kind === 'file').map(entry => entry.name),
          directories: entries.filter(entry => entry.kind === 'directory' && entry.name !== 'node_modules').map(entry => entry.name)
        }
      }, at => at)
  }
  const json = ts.readConfigFile(absolute, host.readFile)
  if (json.error) problems.push({ file: path, ...describe(json.error) })
  if (!json.config) return undefined
  const parsed = ts.parseJsonConfigFileContent(json.config, host, folderOf(absolute), undefined, absolute)
  for (const error of parsed.errors) {
    // A configuration that only refers to others compiles no files of its own.
    if (error.code !== 18003 && error.code !== 18002) problems.push({ file: path, ...describe(error) })
  }
  return { options: parsed.options, files: new Set(parsed.fileNames.map(file => file.slice(root.length + 1))) }
}

/** The compiler's own matching of include and exclude patterns, which it does not publish in its types. */
type MatchFiles = (
  folder: string, extensions: readonly string[], exclude: readonly string[] | undefined, include: readonly string[] | undefined,
  caseSensitive: boolean, current: string, depth: number | undefined,
  entries: (path: string) => { files: readonly string[]; directories: readonly string[] }, realPath: (path: string) => string
) => string[]

function describe(diagnostic: ts.Diagnostic): FileProblem {
  const at = diagnostic.file && diagnostic.start !== undefined ? diagnostic.file.getLineAndCharacterOfPosition(diagnostic.start).line + 1 : 1
  return { line: at, message: ts.flattenDiagnosticMessageText(diagnostic.messageText, ' ') }
}

/** The options of the root, or of the configuration that compiles most, with every library that any of them names. */
function leadingOptions(configs: readonly { options: ts.CompilerOptions; files: ReadonlySet<string> }[], atRoot?: { options: ts.CompilerOptions; files: ReadonlySet<string> }): ts.CompilerOptions {
  const most = [...configs].sort((a, b) => b.files.size - a.files.size)[0]
  const chosen = atRoot && atRoot.files.size > 0 ? atRoot : most
  if (!chosen) return {}
  const options = { ...chosen.options }
  if (configs.length > 1 && configs.some(config => config.options.lib)) {
    const lib = new Set(configs.flatMap(config => config.options.lib ?? []))
    if (configs.some(config => !config.options.lib && config.files.size > 0)) options.lib = undefined
    else options.lib = [...lib].sort()
  }
  if (configs.some(config => config.options.jsx !== undefined)) options.jsx ??= ts.JsxEmit.Preserve
  return options
}

function withDefaults(own: ts.CompilerOptions, allowJs: boolean): ts.CompilerOptions {
  const options: ts.CompilerOptions = { ...own }
  options.target ??= ts.ScriptTarget.ES2022
  if (options.module === undefined) {
    options.module = ts.ModuleKind.ESNext
    options.moduleResolution ??= ts.ModuleResolutionKind.Bundler
  }
  options.types ??= ['*']
  options.allowJs = own.allowJs ?? allowJs
  options.noEmit = true
  options.skipLibCheck = true
  options.composite = false
  options.incremental = false
  options.declaration = false
  options.declarationMap = false
  options.emitDeclarationOnly = false
  options.allowImportingTsExtensions = true
  options.ignoreDeprecations = '6.0'
  // Placing of outputs is of no concern here, and rootDir would make files of sibling packages an error.
  for (const name of ['rootDir', 'outDir', 'outFile', 'tsBuildInfoFile', 'declarationDir'] as const) delete options[name]
  return options
}

function isInstalled(source: FileSource, from: string, name: string): boolean {
  for (let folder = from; folder !== ''; folder = folder.slice(0, folder.lastIndexOf('/'))) {
    if (source.isDirectory(`${folder}/node_modules/${name}`)) return true
  }
  return false
}

export function readJson(source: FileSource, path: string): Record<string, unknown> | undefined {
  const outcome = source.isFile(path) ? source.readText(path) : undefined
  if (!outcome || !('text' in outcome)) return undefined
  try {
    const value: unknown = JSON.parse(outcome.text)
    return typeof value === 'object' && value !== null ? value as Record<string, unknown> : undefined
  } catch {
    return undefined
  }
}

export function folderOf(path: string): string {
  const slash = path.lastIndexOf('/')
  return slash < 0 ? '' : path.slice(0, slash)
}

/** A sentence for a file that could not be read. */
export function unreadableProblem(file: string, reason: keyof typeof UNREADABLE_TEXT): ConfigProblem {
  return { file, line: 1, message: UNREADABLE_TEXT[reason] }
}
