import { FlatTree } from '@hollowmoor/core/read/syntax/flat-tree'
import type { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import type { WorkThreads } from './work-threads.js'

/** Text that goes to a thread at once, in characters: enough that sending it costs little beside parsing it. */
const CHUNK = 400_000
/** Less text than this is parsed here: a thread takes longer to start. */
const LEAST = 4_000_000

/** Parses many texts on all processors. Trees in the order of the texts; `done` is told how many are ready, and may throw to stop. */
export function parseInThreads(grammar: Grammar, threads: WorkThreads, texts: readonly string[], done: (count: number) => void): FlatTree[] {
  const trees = new Array<FlatTree | undefined>(texts.length)
  let ready = 0
  const take = (chunk: readonly number[], records: readonly Int32Array[]): void => {
    chunk.forEach((at, index) => { trees[at] = new FlatTree(texts[at]!, records[index]!) })
    ready += chunk.length
    done(ready)
  }
  const here = (chunk: readonly number[]): Int32Array[] => chunk.map(at => grammar.records(texts[at]!))
  const chunks = chunksOf(texts)
  if (texts.reduce((sum, text) => sum + text.length, 0) < LEAST) for (const chunk of chunks) take(chunk, here(chunk))
  else threads.run(chunks, chunk => ({ texts: chunk.map(at => texts[at]!) }), here, (chunk, records) => take(chunk, records as readonly Int32Array[]))
  return trees as FlatTree[]
}

function chunksOf(texts: readonly string[]): number[][] {
  const chunks: number[][] = []
  let size = Infinity
  texts.forEach((text, at) => {
    if (size >= CHUNK) { chunks.push([]); size = 0 }
    chunks[chunks.length - 1]!.push(at)
    size += text.length
  })
  return chunks
}
