import type { ClassStub, MemberStub } from './class-file.js'

/** Classes of libraries by binary name, each read when it is first asked for. */
export interface StubSource {
  stub(binaryName: string): ClassStub | undefined
  /** Whether classes lie in a package, by its name with slashes. */
  hasPackage(name: string): boolean
  /** Names of all packages, with slashes. */
  packageNames(): string[]
}

/**
 * Many stubs in one text, small enough to be shipped: a line for each class, its members behind tabs. Classes are found by
 * the places of their lines and taken apart only when they are asked for.
 *
 *     name flags outer signature inner,... \t f|m flags name signature \t ...
 */
export function writeStubs(stubs: readonly ClassStub[]): string {
  const member = (kind: string) => (one: MemberStub) => `\t${kind}${one.flags.toString(36)} ${one.name} ${one.signature}`
  const sorted = [...stubs].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
  return sorted.map(stub => `${stub.name} ${stub.flags.toString(36)} ${stub.outer ?? '-'} ${stub.signature} ${stub.inner.join(',')}` +
    `${stub.fields.map(member('f')).join('')}${stub.methods.map(member('m')).join('')}\n`).join('')
}

export class StubIndex implements StubSource {
  private readonly places = new Map<string, number>()
  private readonly packages = new Set<string>()

  constructor(private readonly text: string) {
    for (let at = 0; at < text.length;) {
      const name = text.slice(at, text.indexOf(' ', at))
      this.places.set(name, at)
      this.packages.add(name.slice(0, Math.max(0, name.lastIndexOf('/'))))
      const end = text.indexOf('\n', at)
      at = end < 0 ? text.length : end + 1
    }
  }

  get size(): number { return this.places.size }

  hasPackage(name: string): boolean { return this.packages.has(name) }
  packageNames(): string[] { return [...this.packages] }

  stub(binaryName: string): ClassStub | undefined {
    const at = this.places.get(binaryName)
    if (at === undefined) return undefined
    const end = this.text.indexOf('\n', at)
    const [head, ...members] = this.text.slice(at, end < 0 ? undefined : end).split('\t')
    const [name, flags, outer, signature, inner] = head!.split(' ')
    const parse = (line: string): MemberStub => {
      const first = line.indexOf(' '), second = line.indexOf(' ', first + 1)
      return { flags: parseInt(line.slice(1, first), 36), name: line.slice(first + 1, second), signature: line.slice(second + 1) }
    }
    return {
      name: name!, flags: parseInt(flags!, 36), outer: outer === '-' ? null : outer!, signature: signature!, inner: inner ? inner.split(',') : [],
      fields: members.filter(line => line.startsWith('f')).map(parse), methods: members.filter(line => line.startsWith('m')).map(parse)
    }
  }
}
