import { once } from 'node:events'
import { closeSync, openSync, writeSync } from 'node:fs'
import { finished } from 'node:stream/promises'
import type { Writable } from 'node:stream'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'

/** Where a command writes. */
export interface Streams { readonly out: Writable; readonly err: Writable }

/** Writes pieces to a file, or to standard output for `-`, without holding them all. */
export async function writePieces(target: string, pieces: Iterable<string>, streams: Streams): Promise<Refusal | undefined> {
  if (target === '-') {
    for (const piece of pieces) if (!streams.out.write(piece)) await Promise.race([once(streams.out, 'drain'), finished(streams.out).catch(() => undefined)])
    return undefined
  }
  let handle: number
  try {
    handle = openSync(target, 'w')
  } catch (error) {
    return refusal('OUTPUT_FAILED', `${target} cannot be written: ${(error as Error).message}`, target)
  }
  try {
    for (const piece of pieces) writeSync(handle, piece)
  } catch (error) {
    return refusal('OUTPUT_FAILED', `${target} cannot be written: ${(error as Error).message}`, target)
  } finally {
    closeSync(handle)
  }
  return undefined
}
