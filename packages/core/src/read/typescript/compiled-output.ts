import type ts from 'typescript'

/** What the configuration nearest to a file says of where output goes; paths are absolute but for those of `files`. */
export interface NearestConfig {
  readonly options: Pick<ts.CompilerOptions, 'outDir' | 'declarationDir' | 'rootDir'>
  /** Paths from the root of what it compiles. */
  readonly files: ReadonlySet<string>
  /** Where it stands. */
  readonly folder: string
}

/**
 * Tells what a compiler has written from sources: it stands where the configuration puts output, or a source map or a source of its name
 * beside it says so. Counted as sources such files would be there twice. `listed`: all files of the project, paths from its root.
 */
export function outputMatcher(root: string, listed: ReadonlySet<string>, nearest: (path: string) => NearestConfig | undefined): (path: string) => boolean {
  return path => {
    if (hasSourceMap(path, listed) || standsBesideSource(path, listed)) return true
    const config = nearest(path)
    if (!config || config.files.has(path)) return false
    return [config.options.outDir, config.options.declarationDir].some(folder => folder !== undefined && `${root}/${path}`.startsWith(`${folder}/`) && !holds(folder, config.folder) && !holds(folder, config.options.rootDir))
  }
}

function holds(folder: string, other: string | undefined): boolean { return other !== undefined && `${other}/`.startsWith(`${folder}/`) }

function hasSourceMap(path: string, listed: ReadonlySet<string>): boolean {
  const [, stem, kind] = /^(.*)\.d\.([cm]?)ts$/.exec(path) ?? []
  return listed.has(`${path}.map`) ? stem !== undefined || !/tsx?$/.test(path) : stem !== undefined && listed.has(`${stem}.${kind!}js.map`)
}

function standsBesideSource(path: string, listed: ReadonlySet<string>): boolean {
  const [, stem, kind] = /^(.*?)(?:\.d\.([cm]?)ts|\.([cm]?)jsx?)$/.exec(path)?.filter(part => part !== undefined) ?? []
  return stem !== undefined && ['ts', 'tsx'].some(ending => listed.has(`${stem}.${kind!}${ending}`))
}

/** The largest folders in which there is output and no source. */
export function outputFolders(output: readonly string[], sources: readonly string[]): string[] {
  const holding = new Set(sources.flatMap(foldersAbove)), found = new Set<string>()
  for (const path of output) {
    const folder = foldersAbove(path).find(one => !holding.has(one))
    if (folder !== undefined) found.add(folder)
  }
  return [...found]
}

/** The folders that a file stands in, the largest first. */
function foldersAbove(path: string): string[] {
  const parts = path.split('/').slice(0, -1)
  return parts.map((_, at) => parts.slice(0, at + 1).join('/'))
}
