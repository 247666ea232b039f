import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { homedir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { StubIndex } from '@hollowmoor/core/read/classfile/stub-index'
import type { StubSource } from '@hollowmoor/core/read/classfile/stub-index'
import type { JavaTools } from '@hollowmoor/core/read/java/java-language'
import { JavaLanguage } from '@hollowmoor/core/read/java/java-language'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import { ProjectSession } from '@hollowmoor/core/read/project-session'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import { TypeScriptLanguage } from '@hollowmoor/core/read/typescript/write/typescript-language'
import { ParserThreads } from './parser-threads.js'
import { LIBRARY_FOLDER } from './project-folder.js'

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

let tools: Promise<JavaTools> | undefined

/** What reading Java needs, loaded once a thread. */
export function javaTools(): Promise<JavaTools> {
  return tools ??= (async () => {
    const wasm = require.resolve('@repomix/tree-sitter-wasms/out/tree-sitter-java.wasm')
    const grammar = await Grammar.load(readFileSync(wasm), JAVA_GRAMMAR)
    const threads = new ParserThreads(grammar, wasm)
    return { grammar, parseAll: (texts, done) => threads.parseAll(texts, done), jdk: new ShippedJdk(), home: homedir() }
  })()
}

/** A session that reads a project in all languages there are. */
export async function sessionFor(root: string, settings: ProjectSettings): Promise<ProjectSession> {
  return new ProjectSession(root, [new TypeScriptLanguage(root, settings, LIBRARY_FOLDER), new JavaLanguage(root, settings, await javaTools())])
}
