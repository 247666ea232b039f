import { readdirSync, readFileSync, realpathSync, statSync } from 'node:fs'
import type { DiscoveredFiles, FileSource, TextOutcome } from '@hollowmoor/core/read/file-source'

/** Largest file that is read as source. Declaration files of libraries may be larger. */
const LARGEST = 2 * 1024 * 1024

/** Largest archive whose classes are looked at. */
const LARGEST_ARCHIVE = 256 * 1024 * 1024

/** The files of this machine, read only. Answers are remembered until `forget`, since compilers ask the same again and again. */
export class DiskSource implements FileSource {
  private readonly texts = new Map<string, { stamp: string; outcome: TextOutcome }>()
  private readonly kinds = new Map<string, 'file' | 'directory' | 'none'>()
  private readonly lists = new Map<string, ReturnType<FileSource['list']>>()
  readonly found = new Map<string, DiscoveredFiles>()

  readText(path: string): TextOutcome {
    let stamp: string
    try {
      const stat = statSync(path)
      if (!stat.isFile()) return { unreadable: 'missing' }
      stamp = `${stat.mtimeMs} ${stat.size} ${stat.ino}`
      if (stat.size > LARGEST && !(path.endsWith('.d.ts') && stat.size < 8 * LARGEST)) return { unreadable: 'too-large' }
    } catch (error) {
      return { unreadable: (error as NodeJS.ErrnoException).code === 'EACCES' ? 'not-permitted' : 'missing' }
    }
    const known = this.texts.get(path)
    if (known?.stamp === stamp) return known.outcome
    const outcome = readDecoded(path)
    this.texts.set(path, { stamp, outcome })
    return outcome
  }

  readBytes(path: string): Uint8Array | undefined {
    return safely(() => statSync(path).size <= LARGEST_ARCHIVE ? readFileSync(path) : undefined, undefined)
  }

  private kind(path: string): 'file' | 'directory' | 'none' {
    let kind = this.kinds.get(path)
    if (!kind) {
      const stat = statSync(path, { throwIfNoEntry: false })
      kind = stat?.isFile() ? 'file' : stat?.isDirectory() ? 'directory' : 'none'
      this.kinds.set(path, kind)
    }
    return kind
  }

  isFile(path: string): boolean { return safely(() => this.kind(path), 'none') === 'file' }
  isDirectory(path: string): boolean { return safely(() => this.kind(path), 'none') === 'directory' }

  list(path: string): ReturnType<FileSource['list']> {
    let entries = this.lists.get(path)
    if (!entries) {
      entries = safely(() => readdirSync(path, { withFileTypes: true }), [])
        .filter(entry => entry.isFile() || entry.isDirectory() || entry.isSymbolicLink())
        .map(entry => ({ name: entry.name, kind: entry.isFile() ? 'file' as const : entry.isDirectory() ? 'directory' as const : 'link' as const }))
        .sort((a, b) => (a.name < b.name ? -1 : 1))
      this.lists.set(path, entries)
    }
    return entries
  }

  realPath(path: string): string { return safely(() => realpathSync(path), path) }

  /** Looks at folders and kinds of files anew; texts are looked at again by their time and size anyway. */
  forget(): void {
    this.kinds.clear()
    this.lists.clear()
    this.found.clear()
  }
}

function safely<T>(action: () => T, otherwise: T): T {
  try { return action() } catch { return otherwise }
}

function readDecoded(path: string): TextOutcome {
  let bytes: Buffer
  try {
    bytes = readFileSync(path)
  } catch (error) {
    return { unreadable: (error as NodeJS.ErrnoException).code === 'EACCES' ? 'not-permitted' : 'missing' }
  }
  return decodeText(bytes)
}

/** Text of a file's bytes: UTF-8, or UTF-16 with its mark. A mark at the start is kept, so that nothing is lost in writing. */
export function decodeText(bytes: Uint8Array): TextOutcome {
  const marked = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : null
  if (!marked && bytes.subarray(0, 8192).includes(0)) return { unreadable: 'binary' }
  try {
    return { text: new TextDecoder(marked ?? 'utf-8', { fatal: true, ignoreBOM: true }).decode(bytes) }
  } catch {
    return { unreadable: 'not-utf8' }
  }
}
