import { unzipSync } from 'fflate'
import type { ClassStub } from './class-file.js'
import { readClassFile } from './class-file.js'
import type { StubSource } from './stub-index.js'

/** The classes of an archive. Its list of names is read at once, a package's classes when one of them is first asked for. */
export class Jar implements StubSource {
  private readonly packages = new Map<string, Map<string, Uint8Array> | null>()

  private constructor(private readonly bytes: Uint8Array) {}

  /** Undefined where the bytes are no archive that can be read. */
  static open(bytes: Uint8Array): Jar | undefined {
    const jar = new Jar(bytes)
    try {
      unzipSync(bytes, { filter: ({ name }) => { if (isClass(name)) jar.packages.set(packageOf(name), null); return false } })
      return jar
    } catch {
      return undefined
    }
  }

  hasPackage(name: string): boolean { return this.packages.has(name) }
  packageNames(): string[] { return [...this.packages.keys()] }

  stub(binaryName: string): ClassStub | undefined {
    const within = packageOf(binaryName)
    let classes = this.packages.get(within)
    if (classes === undefined) return undefined
    if (classes === null) {
      const found = unzipSync(this.bytes, { filter: ({ name }) => isClass(name) && packageOf(name) === within })
      this.packages.set(within, classes = new Map(Object.entries(found)))
    }
    const content = classes.get(`${binaryName}.class`)
    return content && readClassFile(content)
  }
}

/** Classes for particular versions, below META-INF, and module descriptions are left out. */
function isClass(name: string): boolean { return name.endsWith('.class') && !name.startsWith('META-INF/') && !name.endsWith('module-info.class') }
function packageOf(name: string): string { return name.slice(0, Math.max(0, name.lastIndexOf('/'))) }
