import type { Language, Tree } from 'web-tree-sitter'
import { NODE_WIDTH } from './flat-tree.js'

/** Memory of a wasm runtime; its buffer becomes another when it grows. */
export interface WasmMemory { readonly buffer: ArrayBuffer }

/** What a language makes of a grammar's own numbers: its kinds and fields by the grammar's symbol and field numbers. */
export interface Numbering {
  /** By the grammar's public symbol; -1 where nodes of that kind are left out (comments). */
  readonly kinds: Int32Array
  readonly fields: Int32Array
  readonly errorKind: number
}

/**
 * Reads trees straight from the parser's memory. Walking through the parser's own cursor costs more than parsing does:
 * each step is a call into wasm. The layout of that memory (wasm32, runtime 0.27) is not documented, so the version is
 * pinned, and `Grammar` compares with the cursor once at start and falls back to it where they differ.
 */
export class TreeMemory {
  private out = new Int32Array(1 << 16)
  private stack = new Int32Array(1 << 12)
  private u8 = new Uint8Array(0)
  private u16 = new Uint16Array(0)
  private u32 = new Uint32Array(0)
  private readonly named: Uint8Array
  private readonly publicSymbol: Uint16Array
  /** Field and alias of a child, by production and index among the structural children. */
  private readonly fieldOf: Uint16Array
  private readonly aliasOf: Uint16Array
  private readonly width: number

  constructor(private readonly memory: WasmMemory, language: Language, private readonly numbering: Numbering) {
    this.refresh()
    const { u8, u16, u32 } = this
    const address = (language as unknown as { 0: number })[0]
    const at = address >> 2
    const symbols = u32[at + 1]! + u32[at + 2]!
    const productions = u32[at + 7]!
    const longestAlias = u16[(address + 36) >> 1]!
    const slices = u32[at + 16]!, entries = u32[at + 17]!, metadata = u32[at + 18]!, publics = u32[at + 19]!, aliases = u32[at + 21]!
    this.named = new Uint8Array(symbols)
    this.publicSymbol = new Uint16Array(symbols)
    for (let symbol = 0; symbol < symbols; symbol++) {
      this.named[symbol] = u8[metadata + symbol * 3 + 1]!
      this.publicSymbol[symbol] = u16[(publics >> 1) + symbol]!
    }
    let width = longestAlias
    const each = (act: (production: number, field: number, child: number, inherited: boolean) => void): void => {
      if (slices === 0) return
      for (let production = 0; production < productions; production++) {
        const index = u16[(slices >> 1) + production * 2]!, length = u16[(slices >> 1) + production * 2 + 1]!
        // Backwards, so that of several fields the first is the one that stays.
        for (let k = length - 1; k >= 0; k--) {
          const entry = entries + (index + k) * 4
          act(production, u16[entry >> 1]!, u8[entry + 2]!, u8[entry + 3] !== 0)
        }
      }
    }
    each((_, __, child) => { width = Math.max(width, child + 1) })
    this.width = width
    this.fieldOf = new Uint16Array(productions * width)
    this.aliasOf = new Uint16Array(productions * width)
    each((production, field, child, inherited) => { if (!inherited) this.fieldOf[production * width + child] = field })
    if (aliases !== 0) {
      for (let production = 1; production < productions; production++) {
        for (let child = 0; child < longestAlias; child++) this.aliasOf[production * width + child] = u16[(aliases >> 1) + production * longestAlias + child]!
      }
    }
  }

  /** The memory's buffer is another one after it has grown. */
  private refresh(): void {
    const { buffer } = this.memory
    if (buffer === this.u8.buffer) return
    this.u8 = new Uint8Array(buffer)
    this.u16 = new Uint16Array(buffer)
    this.u32 = new Uint32Array(buffer)
  }

  /** The tree's records, as `FlatTree` has them. Linear in the tree; no recursion. */
  read(tree: Tree): Int32Array {
    this.refresh()
    const { u8, u16, u32, named, publicSymbol, fieldOf, aliasOf, width } = this
    const { kinds, fields, errorKind } = this.numbering
    let { out, stack } = this
    let length = 0, depth = 0
    // The subtree at hand: where its next child is, how many are left, and what its production says of them.
    let child = (tree as unknown as { 0: number })[0], left = 1, structural = 0, production = 0, inheritedField = 0
    let position = 0, open = -1, root = true
    for (;;) {
      if (left === 0) {
        if (depth === 0) break
        if (open >= 0) out[open + 4] = length
        depth -= 7
        child = stack[depth]!; left = stack[depth + 1]!; structural = stack[depth + 2]!; production = stack[depth + 3]!
        inheritedField = stack[depth + 4]!; position = stack[depth + 5]!; open = stack[depth + 6]!
        continue
      }
      const at = child
      child += 8
      left--
      if (length + NODE_WIDTH > out.length) { out = this.out = grown(out) }
      const first = u8[at]!
      if (first & 1) {
        // A leaf that is held in the pointer itself.
        let symbol = u8[at + 1]!, isVisible = first & 2, isNamed = first & 4, field = 0
        const start = position + u8[at + 6]!
        position = start + u8[at + 7]!
        if ((first & 8) === 0) {
          if (structural < width) {
            const alias = aliasOf[production * width + structural]!
            if (alias !== 0 && !root) { symbol = alias; isVisible = 1; isNamed = named[alias]! }
            field = fieldOf[production * width + structural]!
          }
          if (field === 0) field = inheritedField
          structural++
        }
        if (isVisible && isNamed) {
          const kind = kinds[publicSymbol[symbol]!]!
          if (kind >= 0) {
            out[length] = kind; out[length + 1] = fields[field]!; out[length + 2] = start >> 1; out[length + 3] = position >> 1
            length += NODE_WIDTH
            out[length - 1] = length
          }
        }
        continue
      }
      const pointer = u32[at >> 2]!, word = pointer >> 2
      const flags = u16[(pointer + 44) >> 1]!
      let symbol = u16[(pointer + 40) >> 1]!, isVisible = flags & 1, isNamed = flags & 2, field = 0
      const start = position + u32[word + 1]!, end = start + u32[word + 4]!, children = u32[word + 9]!
      if (root) root = false
      else if ((flags & 4) === 0) {
        if (structural < width) {
          const alias = aliasOf[production * width + structural]!
          if (alias !== 0) { symbol = alias; isVisible = 1; isNamed = named[alias]! }
          field = fieldOf[production * width + structural]!
        }
        if (field === 0) field = inheritedField
        structural++
      }
      let record = -1
      if (isVisible && isNamed) {
        const kind = symbol >= 65534 ? errorKind : kinds[publicSymbol[symbol]!]!
        if (kind < 0) { position = end; continue }
        out[length] = kind; out[length + 1] = fields[field]!; out[length + 2] = start >> 1; out[length + 3] = end >> 1; out[length + 4] = length + NODE_WIDTH
        record = length
        length += NODE_WIDTH
      }
      if (children === 0) { position = end; continue }
      if (depth + 7 > stack.length) stack = this.stack = grown(stack)
      stack[depth] = child; stack[depth + 1] = left; stack[depth + 2] = structural; stack[depth + 3] = production
      stack[depth + 4] = inheritedField; stack[depth + 5] = end; stack[depth + 6] = open
      depth += 7
      child = pointer - children * 8; left = children; structural = 0; production = u16[(pointer + 66) >> 1]!
      inheritedField = isVisible ? 0 : field
      open = record
      position = start - u32[word + 1]!
    }
    return out.slice(0, length)
  }
}

function grown(array: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(array.length * 2)
  larger.set(array)
  return larger
}
