import { Language, Parser } from 'web-tree-sitter'
import type { Tree, TreeCursor } from 'web-tree-sitter'
import { CommentFree } from './comment-free.js'
import { FlatTree, NODE_WIDTH } from './flat-tree.js'
import type { Numbering, WasmMemory } from './tree-memory.js'
import { TreeMemory } from './tree-memory.js'

/** What a language says of its grammar: names of the kinds and fields it knows, each at its own number; 0 is any other. */
export interface GrammarNames {
  readonly kinds: readonly string[]
  readonly fields: readonly string[]
  /** Kinds that are left out of the tree, subtree and all. */
  readonly skipped: readonly string[]
  /** The number of the kind for text that could not be parsed. */
  readonly errorKind: number
  /** Where comments are, as `CommentFree` takes it; where it is left out, the parser goes through comments too. */
  readonly comments?: { readonly tokens: RegExp; readonly unsure: string }
  /** A text that uses much of the language, on which the two ways of reading a tree are compared. */
  readonly sample: string
}

/** Typed here because the core is compiled without a browser's or Node's own types. */
const { WebAssembly } = globalThis as unknown as { WebAssembly: { Memory: new (size: { initial: number; maximum: number }) => WasmMemory } }

let runtime: Promise<WasmMemory> | undefined

/** The parser's runtime, started once a thread, on a memory that is ours to read. */
function startRuntime(): Promise<WasmMemory> {
  return runtime ??= (async () => {
    const wasmMemory = new WebAssembly.Memory({ initial: 512, maximum: 32768 })
    await Parser.init({ wasmMemory })
    return wasmMemory
  })()
}

/** A parser for one language. Not to be shared between threads. */
export class Grammar {
  private constructor(private readonly parser: Parser, private readonly numbering: Numbering, private memory: TreeMemory | null, private readonly commentFree: CommentFree | undefined) {}

  /** `wasm`: the grammar as it is in its package. */
  static async load(wasm: Uint8Array, names: GrammarNames): Promise<Grammar> {
    const memory = await startRuntime()
    const language = await Language.load(wasm)
    const parser = new Parser()
    parser.setLanguage(language)
    const numbering = numberingOf(language, names)
    const grammar = new Grammar(parser, numbering, new TreeMemory(memory, language, numbering), names.comments && new CommentFree(names.comments.tokens, names.comments.unsure))
    if (!grammar.agrees(names.sample)) grammar.memory = null
    return grammar
  }

  /** True where trees are read from memory, false where the cursor has to do it. */
  get direct(): boolean { return this.memory !== null }

  parse(text: string): FlatTree { return new FlatTree(text, this.records(text)) }

  /** The records of a text's tree, as `FlatTree` takes them: what is sent from thread to thread. */
  records(text: string): Int32Array { return this.recordsWithoutComments(text) ?? this.recordsOfWhole(text) }

  /** The same, the comments parsed too. */
  recordsOfWhole(text: string): Int32Array {
    const tree = this.parser.parse(text)!
    try {
      return this.memory ? this.memory.read(tree) : this.readByCursor(tree)
    } finally {
      tree.delete()
    }
  }

  /** Undefined where the text does not parse: how a parser goes on after an error may depend on a comment. */
  private recordsWithoutComments(text: string): Int32Array | undefined {
    const { commentFree, memory } = this
    const short = memory ? commentFree?.shorten(text) : undefined
    if (short === undefined) return undefined
    const tree = this.parser.parse(short)!
    try {
      if (tree.rootNode.hasError) return undefined
      const records = memory!.read(tree)
      // The root begins and ends with comments, too.
      const begin = text.search(/\S/), end = records[3] === short.length ? text.length : undefined
      for (let record = 0; record < records.length; record += NODE_WIDTH) {
        records[record + 2] = commentFree!.inWhole(records[record + 2]!)
        records[record + 3] = commentFree!.inWhole(records[record + 3]!)
      }
      if (begin >= 0) records[2] = begin
      if (end !== undefined) records[3] = end
      return records
    } finally {
      tree.delete()
    }
  }

  /** Whether both ways of reading give the same. */
  agrees(text: string): boolean {
    const tree = this.parser.parse(text)!
    try {
      const slow = this.readByCursor(tree)
      const fast = this.memory?.read(tree)
      return fast !== undefined && fast.length === slow.length && fast.every((value, index) => value === slow[index])
    } catch {
      return false
    } finally {
      tree.delete()
    }
  }

  private readByCursor(tree: Tree): Int32Array {
    const { kinds, fields, errorKind } = this.numbering
    const out: number[] = []
    const cursor: TreeCursor = tree.walk()
    const open: number[] = []
    for (;;) {
      const kind = cursor.nodeType === 'ERROR' ? errorKind : cursor.nodeIsNamed ? kinds[cursor.nodeTypeId]! : -1
      let entered = false
      if (kind >= 0) {
        const record = out.length
        out.push(kind, fields[cursor.currentFieldId]!, cursor.startIndex, cursor.endIndex, record + NODE_WIDTH)
        if (cursor.gotoFirstChild()) { open.push(record); entered = true }
      }
      if (entered) continue
      while (!cursor.gotoNextSibling()) {
        if (!cursor.gotoParent()) { cursor.delete(); return Int32Array.from(out) }
        out[open.pop()! + 4] = out.length
      }
    }
  }
}

function numberingOf(language: Language, names: GrammarNames): Numbering {
  const kinds = new Int32Array(language.nodeTypeCount)
  for (let id = 0; id < kinds.length; id++) {
    const name = language.nodeTypeForId(id)
    kinds[id] = name === null ? 0 : names.skipped.includes(name) ? -1 : Math.max(0, language.nodeTypeIsNamed(id) ? names.kinds.indexOf(name) : 0)
  }
  const fields = new Int32Array(language.fieldCount + 1)
  for (let id = 1; id <= language.fieldCount; id++) fields[id] = Math.max(0, names.fields.indexOf(language.fieldNameForId(id) ?? ''))
  return { kinds, fields, errorKind: names.errorKind }
}
