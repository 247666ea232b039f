// Loaded before a program's own code (`node --import`): writes down each outside effect with the lines of code that led to
// it, as JSON lines in the file that HOLLOWMOOR_RECORD names. Only the runtime is asked; nothing of the program is read.
import childProcess from 'node:child_process'
import crypto from 'node:crypto'
import dgram from 'node:dgram'
import dns from 'node:dns'
import fs from 'node:fs'
import { syncBuiltinESMExports } from 'node:module'
import net from 'node:net'

const file = process.env.HOLLOWMOOR_RECORD
const root = process.env.HOLLOWMOOR_ROOT
const append = fs.appendFileSync
const seen = new Set()
let recording = false

/** Frames of the project's own files, innermost first, as `path:line`. */
function framesOf(stack) {
  return stack.split('\n').slice(1).flatMap(line => {
    const found = /(?:file:\/\/)?(\/[^\s()]+?):(\d+):\d+\)?$/.exec(line)
    return found && found[1].startsWith(`${root}/`) && !found[1].includes('/node_modules/') ? [`${found[1].slice(root.length + 1)}:${found[2]}`] : []
  })
}

function record(kind) {
  if (recording) return
  recording = true
  try {
    const limit = Error.stackTraceLimit
    Error.stackTraceLimit = 200
    const frames = framesOf(new Error('here').stack)
    Error.stackTraceLimit = limit
    const key = `${kind} ${frames.join(' ')}`
    if (frames.length > 0 && !seen.has(key)) { seen.add(key); append(file, `${JSON.stringify({ kind, frames })}\n`) }
  } finally { recording = false }
}

function wrap(holder, name, kind) {
  const original = holder[name]
  if (typeof original !== 'function') return
  const wrapped = function (...args) { record(kind); return new.target ? Reflect.construct(original, args, new.target) : Reflect.apply(original, this, args) }
  Object.defineProperties(wrapped, Object.getOwnPropertyDescriptors(original))
  try { holder[name] = wrapped } catch { /* some are read-only; they are not recorded */ }
}

for (const name of Object.keys(fs)) if (typeof fs[name] === 'function' && /^[a-z]/.test(name) && !name.startsWith('_')) wrap(fs, name, 'file-system')
for (const name of Object.keys(fs.promises)) wrap(fs.promises, name, 'file-system')
for (const name of ['exec', 'execFile', 'execFileSync', 'execSync', 'fork', 'spawn', 'spawnSync']) wrap(childProcess, name, 'process')
for (const name of ['randomBytes', 'randomUUID', 'randomInt', 'randomFill', 'randomFillSync']) wrap(crypto, name, 'randomness')
for (const name of ['lookup', 'resolve']) wrap(dns, name, 'network')
wrap(dgram, 'createSocket', 'network')
for (const name of ['createServer', 'connect', 'createConnection']) wrap(net, name, 'network')
wrap(net.Socket.prototype, 'connect', 'network')
wrap(globalThis, 'fetch', 'network')
for (const name of ['setTimeout', 'setInterval', 'setImmediate']) wrap(globalThis, name, 'threads-and-timers')
wrap(Math, 'random', 'randomness')
wrap(performance, 'now', 'clock')
wrap(process, 'hrtime', 'clock')
wrap(process, 'exit', 'process')
for (const name of ['log', 'info', 'warn', 'error', 'debug', 'table']) wrap(console, name, 'console')
for (const stream of [process.stdout, process.stderr]) wrap(stream, 'write', 'console')

const RealDate = Date
globalThis.Date = new Proxy(RealDate, {
  construct(target, args, newTarget) { if (args.length === 0) record('clock'); return Reflect.construct(target, args, newTarget) },
  get(target, name) { return name === 'now' ? () => { record('clock'); return target.now() } : Reflect.get(target, name) }
})
process.env = new Proxy(process.env, { get(target, name) { if (typeof name === 'string') record('environment'); return Reflect.get(target, name) } })
syncBuiltinESMExports()
