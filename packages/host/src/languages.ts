import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { homedir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { StubIndex } from '@hollowmoor/core/read/classfile/stub-index'
import type { StubSource } from '@hollowmoor/core/read/classfile/stub-index'
import { discoverFiles } from '@hollowmoor/core/read/discover'
import type { FileSource } from '@hollowmoor/core/read/file-source'
import type { JavaTools } from '@hollowmoor/core/read/java/java-session'
import { JavaLanguage } from '@hollowmoor/core/read/java/write/java-language'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import { ProjectSession } from '@hollowmoor/core/read/project-session'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import { cutsInThreads } from './cut-work.js'
import { parseInThreads } from './parser-threads.js'
import { LIBRARY_FOLDER } from './project-folder.js'
import { WorkThreads } from './work-threads.js'

const require = createRequire(import.meta.url)

/** The JDK's signatures, unpacked when the first Java source wants them. */
class ShippedJdk implements StubSource {
  private loaded: StubIndex | undefined

  private get index(): StubIndex {
    if (!this.loaded) {
      // `core` is a package beside this one; its data lies in the package, not in what is built from it.
      const core = dirname(dirname(fileURLToPath(import.meta.resolve('@hollowmoor/core/survey'))))
      this.loaded = new StubIndex(gunzipSync(readFileSync(join(core, 'data/jdk.stubs.gz'))).toString())
    }
    return this.loaded
  }

  stub(binaryName: string) { return this.index.stub(binaryName) }
  hasPackage(name: string) { return this.index.hasPackage(name) }
  packageNames() { return this.index.packageNames() }
}

const WASM = require.resolve('@repomix/tree-sitter-wasms/out/tree-sitter-java.wasm')
const threads = new WorkThreads(WASM)

/** Finds the best cuts of a survey, the large ones on all processors. */
export const solveCuts = cutsInThreads(threads)

let tools: Promise<JavaTools> | undefined

/** What reading Java needs, loaded once a thread. */
export function javaTools(): Promise<JavaTools> {
  return tools ??= (async () => {
    const grammar = await Grammar.load(readFileSync(WASM), JAVA_GRAMMAR)
    return { grammar, parseAll: (texts, done) => parseInThreads(grammar, threads, texts, done), jdk: new ShippedJdk(), home: homedir() }
  })()
}

/** What the reader of TypeScript has something to say of. */
const WEB = /\.([cm]?[jt]sx?|vue|svelte)$/

/**
 * Whether a project holds what TypeScript's reader reads, or nothing that any other does. Its compiler takes a second to load,
 * which a project in another language need not wait for.
 */
export function wantsTypeScript(root: string, settings: ProjectSettings, source: FileSource): boolean {
  const { files } = discoverFiles(source, root, settings)
  return files.some(path => WEB.test(path)) || !files.some(path => path.endsWith('.java'))
}

/** A session that reads a project in all languages that it is written in. */
export async function sessionFor(root: string, settings: ProjectSettings, typeScript = true): Promise<ProjectSession> {
  const java = new JavaLanguage(root, settings, await javaTools())
  if (!typeScript) return new ProjectSession(root, [java], settings)
  const { TypeScriptLanguage } = await import('@hollowmoor/core/read/typescript/write/typescript-language')
  return new ProjectSession(root, [new TypeScriptLanguage(root, settings, LIBRARY_FOLDER), java], settings)
}
