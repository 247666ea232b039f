import { zipSync } from 'fflate'
import { readClassFile } from './class-file.js'
import { Jar } from './jar.js'
import { StubIndex, writeStubs } from './stub-index.js'

/** Writes class files, as much of the format as the tests need. */
class ClassWriter {
  private readonly constants: number[][] = []
  private readonly known = new Map<string, number>()

  utf8(text: string | number[]): number {
    const bytes = typeof text === 'string' ? [...new TextEncoder().encode(text)] : text
    return this.constant(`u${bytes.join()}`, [1, ...u2(bytes.length), ...bytes])
  }

  classOf(name: string): number { return this.constant(`c${name}`, [7, ...u2(this.utf8(name))]) }

  /** A long fills two places of the table. */
  long(): number { const at = this.constant(`l${this.constants.length}`, [5, 0, 0, 0, 0, 0, 0, 0, 1]); this.constants.push([]); return at }

  private constant(key: string, bytes: number[]): number {
    let at = this.known.get(key)
    if (at === undefined) { this.constants.push(bytes); at = this.constants.length; this.known.set(key, at) }
    return at
  }

  attribute(name: string, content: number[]): number[] { return [...u2(this.utf8(name)), ...u4(content.length), ...content] }
  member(flags: number, name: string, descriptor: string, attributes: number[][] = []): number[] {
    return [...u2(flags), ...u2(this.utf8(name)), ...u2(this.utf8(descriptor)), ...u2(attributes.length), ...attributes.flat()]
  }

  write(flags: number, name: string, parent: string, interfaces: string[], fields: number[][], methods: number[][], attributes: number[][]): Uint8Array {
    const body = [
      ...u2(flags), ...u2(this.classOf(name)), ...u2(this.classOf(parent)), ...u2(interfaces.length), ...interfaces.flatMap(one => u2(this.classOf(one))),
      ...u2(fields.length), ...fields.flat(), ...u2(methods.length), ...methods.flat(), ...u2(attributes.length), ...attributes.flat()
    ]
    return Uint8Array.from([0xca, 0xfe, 0xba, 0xbe, 0, 0, 0, 61, ...u2(this.constants.length + 1), ...this.constants.flat(), ...body])
  }
}

const u2 = (value: number) => [value >> 8, value & 0xff]
const u4 = (value: number) => [...u2(value >>> 16), ...u2(value & 0xffff)]

function gate(): Uint8Array {
  const w = new ClassWriter()
  w.long()
  const fields = [w.member(0x1, 'levels', 'Ljava/util/List;', [w.attribute('Signature', u2(w.utf8('Ljava/util/List<TT;>;')))]), w.member(0x2, 'hidden', 'I')]
  const methods = [
    w.member(0x1, '<init>', '(I)V'), w.member(0x8, '<clinit>', '()V'), w.member(0x1041, 'bridge', '()V'),
    w.member(0x81, 'open', '([I)Z', [w.attribute('Code', [1, 2, 3, 4]), w.attribute('Exceptions', [0, 0])])
  ]
  const inner = [...u2(w.classOf('water/Gate$Side')), ...u2(w.classOf('water/Gate')), ...u2(w.utf8('Side')), ...u2(0x4019), ...u2(w.classOf('water/Gate$1')), 0, 0, 0, 0, 0, 0]
  const attributes = [w.attribute('Signature', u2(w.utf8('<T:Ljava/lang/Object;>Lwater/Base;Ljava/lang/Runnable;'))), w.attribute('InnerClasses', [...u2(2), ...inner])]
  return w.write(0x21, 'water/Gate', 'water/Base', ['java/lang/Runnable'], fields, methods, attributes)
}

function nested(holder: boolean): Uint8Array {
  const w = new ClassWriter()
  const entry = [...u2(w.classOf('water/Gate$Side')), ...(holder ? u2(w.classOf('water/Gate')) : [0, 0]), ...u2(w.utf8('Side')), ...u2(0x4019)]
  return w.write(0x4030, 'water/Gate$Side', 'java/lang/Enum', [], [w.member(0x4019, 'UPPER', 'Lwater/Gate$Side;')], [], [w.attribute('InnerClasses', [...u2(1), ...entry])])
}

const GATE = {
  name: 'water/Gate', flags: 0x21, outer: null, signature: '<T:Ljava/lang/Object;>Lwater/Base;Ljava/lang/Runnable;', inner: ['water/Gate$Side'],
  fields: [{ name: 'levels', flags: 1, signature: 'Ljava/util/List<TT;>;' }],
  methods: [{ name: '<init>', flags: 1, signature: '(I)V' }, { name: 'open', flags: 0x81, signature: '([I)Z' }]
}

describe('a class file', () => {
  test('tells names, flags and generic signatures; private and synthetic members are left out', () => expect(readClassFile(gate())).toEqual(GATE))

  test('of a member class has its holder and the flags that the source gave it', () => {
    expect(readClassFile(nested(true))).toMatchObject({ name: 'water/Gate$Side', outer: 'water/Gate', flags: 0x4039 })
  })

  test('of a local class is none that code elsewhere could name', () => expect(readClassFile(nested(false))).toBeUndefined())

  test('cut off anywhere, or not one at all, is told apart and throws nothing', () => {
    const whole = gate()
    for (let length = 0; length < whole.length; length++) expect(() => readClassFile(whole.subarray(0, length))).not.toThrow()
    expect(readClassFile(new TextEncoder().encode('no class file, but long enough to look at'))).toBeUndefined()
  })

  test('has names in the form of UTF-8 that class files use', () => {
    const w = new ClassWriter()
    const field = (name: number[]) => [...u2(1), ...u2(w.utf8(name)), ...u2(w.utf8('I')), 0, 0]
    const fields = [field([0xc3, 0xa9]), field([0xe2, 0x82, 0xac]), field([0xed, 0xa0, 0xb5, 0xed, 0xb2, 0xb3])]
    expect(readClassFile(w.write(1, 'A', 'java/lang/Object', [], fields, [], []))?.fields.map(one => one.name)).toEqual(['é', '€', '𝒳'.replace('𝒳', '\ud835\udcb3')])
  })
})

describe('an index of classes', () => {
  const other = { ...GATE, name: 'B', inner: [], fields: [], methods: [], outer: null, signature: 'Ljava/lang/Object;' }

  test('gives back what was put in, by name', () => {
    const index = new StubIndex(writeStubs([GATE, other]))
    expect([index.size, index.stub('water/Gate'), index.stub('B'), index.stub('water/Ga')]).toEqual([2, GATE, other, undefined])
    expect([index.hasPackage('water'), index.hasPackage('wat'), index.packageNames().sort()]).toEqual([true, false, ['', 'water']])
  })

  test('is the same whatever order it was made in', () => expect(writeStubs([GATE, other])).toBe(writeStubs([other, GATE])))
})

describe('an archive', () => {
  const jar = Jar.open(zipSync({ 'water/Gate.class': gate(), 'water/Gate$Side.class': nested(true), 'META-INF/versions/9/water/Gate.class': nested(true), 'module-info.class': gate(), 'read.me': new Uint8Array(3) }))!

  test('gives its classes, but not those for particular versions', () => {
    expect(jar.packageNames()).toEqual(['water'])
    expect([jar.stub('water/Gate')?.name, jar.stub('water/Gate$Side')?.outer, jar.stub('water/Gone'), jar.stub('air/Gate')]).toEqual(['water/Gate', 'water/Gate', undefined, undefined])
  })

  test('that is none is told apart', () => expect(Jar.open(new TextEncoder().encode('not a zip'))).toBeUndefined())
})
