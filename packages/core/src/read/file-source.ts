/** Why a file's text could not be had. */
export type UnreadableReason = 'missing' | 'not-permitted' | 'too-large' | 'binary' | 'not-utf8' | 'too-deep'

export const UNREADABLE_TEXT: Record<UnreadableReason, string> = {
  'missing': 'is not there any more; survey again',
  'not-permitted': 'cannot be read with your permissions',
  'too-large': 'is larger than 2 MB; it is left out',
  'binary': 'is binary, not text; it is left out',
  'not-utf8': 'is not valid UTF-8 or UTF-16; it is left out',
  'too-deep': 'nests brackets deeper than 1,000 levels; it is left out'
}

export type TextOutcome = { readonly text: string } | { readonly unreadable: UnreadableReason }

export interface DiscoveredFiles {
  /** Paths from the root, sorted, of all files that are not left out. */
  readonly files: readonly string[]
  /** Links that were not followed. */
  readonly links: readonly string[]
  /** Folders left out, for the settings page. */
  readonly excluded: readonly string[]
}

/**
 * The files that a reader may look at, by absolute path with `/`. Synchronous, because compilers ask for files in the
 * middle of their work. `packages/host` gives the one of this machine; tests give one in memory.
 */
export interface FileSource {
  readText(path: string): TextOutcome
  /** The bytes of a file that is no text, such as an archive; undefined where it cannot be had. */
  readBytes(path: string): Uint8Array | undefined
  isFile(path: string): boolean
  isDirectory(path: string): boolean
  /** Names in a folder, sorted; empty where it cannot be read. Links are told as links and are not followed. */
  list(path: string): readonly { readonly name: string; readonly kind: 'file' | 'directory' | 'link' }[]
  /** The path without links; the path itself where it does not exist. */
  realPath(path: string): string
  /** Of a source that remembers its folders: what was found in them, for as long as it does. */
  readonly found?: Map<string, DiscoveredFiles>
}

/**
 * Text whose encoding is not known: what is no Unicode is taken for ISO-8859-1, in which every byte is a character. `foreign`
 * then, for it cannot be written back as it was read.
 */
export function readAnyText(source: FileSource, path: string): { readonly text: string; readonly foreign: boolean } | { readonly unreadable: UnreadableReason } {
  const outcome = source.readText(path)
  if ('text' in outcome) return { text: outcome.text, foreign: false }
  const bytes = outcome.unreadable === 'not-utf8' ? source.readBytes(path) : undefined
  return bytes ? { text: Buffer.from(bytes).toString('latin1'), foreign: true } : outcome
}

/** Files in memory, over another source that is asked for whatever is not there. */
export class OverlayFileSource implements FileSource {
  private readonly folders = new Set<string>()

  /** `texts`: absolute path to text; null where the file is to be gone. */
  constructor(private readonly texts: ReadonlyMap<string, string | null>, private readonly base?: FileSource) {
    for (const [path, text] of texts) {
      if (text === null) continue
      for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) this.folders.add(path.slice(0, at))
    }
  }

  readText(path: string): TextOutcome {
    const text = this.texts.get(path)
    if (text !== undefined) return text === null ? { unreadable: 'missing' } : { text }
    return this.base?.readText(path) ?? { unreadable: 'missing' }
  }

  readBytes(path: string): Uint8Array | undefined { return this.texts.has(path) ? undefined : this.base?.readBytes(path) }

  isFile(path: string): boolean {
    const text = this.texts.get(path)
    return text !== undefined ? text !== null : (this.base?.isFile(path) ?? false)
  }

  isDirectory(path: string): boolean {
    return this.folders.has(path) || (this.base?.isDirectory(path) ?? false)
  }

  list(path: string): { name: string; kind: 'file' | 'directory' | 'link' }[] {
    const entries = new Map((this.base?.list(path) ?? []).map(entry => [entry.name, entry.kind]))
    const prefix = path.endsWith('/') ? path : `${path}/`
    for (const [file, text] of this.texts) {
      if (!file.startsWith(prefix)) continue
      const rest = file.slice(prefix.length)
      const slash = rest.indexOf('/')
      if (slash >= 0) { if (text !== null) entries.set(rest.slice(0, slash), 'directory') }
      else if (text === null) entries.delete(rest)
      else entries.set(rest, 'file')
    }
    return [...entries].map(([name, kind]) => ({ name, kind })).sort((a, b) => (a.name < b.name ? -1 : 1))
  }

  realPath(path: string): string {
    return this.texts.has(path) ? path : (this.base?.realPath(path) ?? path)
  }
}

/** Deepest nesting of brackets in a text; strings and comments are not told apart, which only errs upward. O(n). */
export function bracketDepth(text: string): number {
  let depth = 0, deepest = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === 40 || code === 91 || code === 123) { if (++depth > deepest) deepest = depth }
    else if ((code === 41 || code === 93 || code === 125) && depth > 0) depth--
  }
  return deepest
}
