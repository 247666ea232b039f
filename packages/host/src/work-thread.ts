import { readFileSync } from 'node:fs'
import { workerData } from 'node:worker_threads'
import { bestCut } from '@hollowmoor/core/graph/feedback-arcs'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import { arcsOf } from './cut-work.js'
import type { WorkAnswer, WorkStart, WorkTask } from './work-messages.js'

// Parses what it is sent, and finds best cuts, in a thread of its own.
const { wasm, port, answers } = workerData as WorkStart
const counter = new Int32Array(answers)
let grammar: Promise<Grammar> | undefined

port.on('message', async ({ id, work }: WorkTask) => {
  if ('texts' in work) {
    const loaded = await (grammar ??= Grammar.load(readFileSync(wasm), JAVA_GRAMMAR))
    const answer = work.texts.map(text => loaded.records(text))
    port.postMessage({ id, answer } satisfies WorkAnswer, answer.map(one => one.buffer as ArrayBuffer))
  } else port.postMessage({ id, answer: bestCut(work.nodeCount, arcsOf(work)) } satisfies WorkAnswer)
  Atomics.add(counter, 0, 1)
  Atomics.notify(counter, 0)
})
