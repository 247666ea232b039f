/**
 * What a compiled class tells of itself to those who compile against it: names, flags and generic signatures.
 * The format is chapter 4 of The Java Virtual Machine Specification. Bodies are skipped.
 */
export interface ClassStub {
  /** Binary name with slashes: `java/util/Map$Entry`. */
  readonly name: string
  /** Access flags as the language has them (those of the InnerClasses attribute for a nested class). */
  readonly flags: number
  /** Binary name of the class it is a member of; null at the top. */
  readonly outer: string | null
  /** Its generic signature: type parameters, superclass, interfaces. */
  readonly signature: string
  readonly fields: readonly MemberStub[]
  readonly methods: readonly MemberStub[]
  /** Binary names of its member classes. */
  readonly inner: readonly string[]
}

export interface MemberStub {
  readonly name: string
  readonly flags: number
  /** Generic signature, or the descriptor where it has none. */
  readonly signature: string
}

const PRIVATE = 0x2, SYNTHETIC = 0x1000

/**
 * Reads one class file. Private and synthetic members are left out. Undefined for what is no class file, a local or
 * anonymous class, a module or package description; throws nothing.
 */
export function readClassFile(bytes: Uint8Array): ClassStub | undefined {
  try {
    return new ClassFileReader(bytes).read()
  } catch (error) {
    if (error instanceof RangeError) return undefined
    throw error
  }
}

class ClassFileReader {
  private readonly view: DataView
  private at = 0
  private readonly strings: (string | undefined)[] = []
  private readonly classNames: number[] = []

  constructor(private readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  }

  private u1(): number { return this.view.getUint8(this.at++) }
  private u2(): number { const value = this.view.getUint16(this.at); this.at += 2; return value }
  private u4(): number { const value = this.view.getUint32(this.at); this.at += 4; return value }
  private string(index: number): string { return this.strings[index] ?? '' }
  private className(index: number): string { return this.string(this.classNames[index] ?? 0) }

  read(): ClassStub | undefined {
    if (this.bytes.length < 24 || this.u4() !== 0xcafebabe) return undefined
    this.at = 8
    this.readConstants()
    let flags = this.u2()
    const name = this.className(this.u2())
    const superIndex = this.u2()
    const parents = [superIndex === 0 ? 'java/lang/Object' : this.className(superIndex)]
    for (let count = this.u2(); count > 0; count--) parents.push(this.className(this.u2()))
    if (flags & 0x8000 || name.endsWith('package-info')) return undefined
    const fields = this.readMembers(), methods = this.readMembers()
    let signature = parents.map(parent => `L${parent};`).join('')
    let outer: string | null = null
    let local = false
    const inner: string[] = []
    this.attributes((attribute, end) => {
      if (attribute === 'Signature') signature = this.string(this.u2())
      else if (attribute === 'EnclosingMethod') local = true
      else if (attribute === 'InnerClasses') {
        for (let count = this.u2(); count > 0; count--) {
          const own = this.className(this.u2()), holder = this.u2(), simple = this.u2(), innerFlags = this.u2()
          if (own === name) {
            flags = (flags & ~7) | innerFlags
            if (holder === 0 || simple === 0) local = true
            else outer = this.className(holder)
          } else if (holder !== 0 && simple !== 0 && this.className(holder) === name && !(innerFlags & SYNTHETIC)) inner.push(own)
        }
      }
      this.at = end
    })
    return local || flags & SYNTHETIC ? undefined : { name, flags, outer, signature, fields, methods, inner }
  }

  private readConstants(): void {
    const count = this.u2()
    const decoder = new Utf8()
    for (let index = 1; index < count; index++) {
      const tag = this.u1()
      switch (tag) {
        case 1: {
          const length = this.u2()
          this.strings[index] = decoder.decode(this.bytes, this.at, this.at + length)
          this.at += length
          break
        }
        case 7: this.classNames[index] = this.u2(); break
        case 3: case 4: case 9: case 10: case 11: case 12: case 17: case 18: this.at += 4; break
        case 5: case 6: this.at += 8; index++; break
        case 8: case 16: case 19: case 20: this.at += 2; break
        case 15: this.at += 3; break
        default: throw new RangeError(`constant ${tag}`)
      }
    }
  }

  private readMembers(): MemberStub[] {
    const members: MemberStub[] = []
    for (let count = this.u2(); count > 0; count--) {
      const flags = this.u2(), name = this.string(this.u2())
      let signature = this.string(this.u2())
      this.attributes((attribute, end) => {
        if (attribute === 'Signature') signature = this.string(this.u2())
        this.at = end
      })
      if (!(flags & (PRIVATE | SYNTHETIC)) && name !== '<clinit>') members.push({ name, flags, signature })
    }
    return members
  }

  private attributes(read: (name: string, end: number) => void): void {
    for (let count = this.u2(); count > 0; count--) {
      const name = this.string(this.u2()), length = this.u4()
      const end = this.at + length
      read(name, end)
      this.at = end
    }
  }
}

/** The class file's own form of UTF-8: two bytes for NUL, surrogates one by one. */
class Utf8 {
  decode(bytes: Uint8Array, from: number, to: number): string {
    let text = ''
    for (let at = from; at < to;) {
      const byte = bytes[at]!
      if (byte < 0x80) { text += String.fromCharCode(byte); at++ }
      else if ((byte & 0xe0) === 0xc0) { text += String.fromCharCode(((byte & 0x1f) << 6) | (bytes[at + 1]! & 0x3f)); at += 2 }
      else { text += String.fromCharCode(((byte & 0x0f) << 12) | ((bytes[at + 1]! & 0x3f) << 6) | (bytes[at + 2]! & 0x3f)); at += 3 }
    }
    return text
  }
}
