import { readFileSync } from 'node:fs'
import { workerData } from 'node:worker_threads'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import type { ParserAnswer, ParserStart, ParserTask } from './parser-messages.js'

// Parses what it is sent, in a thread of its own.
const { wasm, port, answers } = workerData as ParserStart
const counter = new Int32Array(answers)
const grammar = await Grammar.load(readFileSync(wasm), JAVA_GRAMMAR)

port.on('message', ({ id, texts }: ParserTask) => {
  const records = texts.map(text => grammar.records(text))
  port.postMessage({ id, records } satisfies ParserAnswer, records.map(one => one.buffer as ArrayBuffer))
  Atomics.add(counter, 0, 1)
  Atomics.notify(counter, 0)
})
