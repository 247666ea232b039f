// Writes changes as a user with no rights but their own, over every combination of permissions; prints one line of JSON for each.
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { HeldLock } from '../dist/held-lock.js'
import { writeChange } from '../dist/journalled-write.js'
import { undoChange } from '../dist/undo.js'
import { recoverProject } from '../dist/write-recovery.js'

const NOBODY = 65534
// What is loaded on demand is loaded while it may still be read.
await (await HeldLock.tryAcquire(join(mkdtempSync(join(tmpdir(), 'hollowmoor-lock-')), 'lock'))).release()
if (process.getuid() === 0) {
  process.setgroups([])
  process.setgid(NOBODY)
  process.setuid(NOBODY)
}
process.env.HOLLOWMOOR_STATE = mkdtempSync(join(tmpdir(), 'hollowmoor-state-'))

const CHANGES = {
  modify: [{ path: 'open/a.ts', before: 'old\n', after: 'new\n' }, { path: 'shut/b.ts', before: 'old\n', after: 'new\n' }, { path: 'open/c.ts', before: null, after: 'new\n' }],
  create: [{ path: 'open/a.ts', before: 'old\n', after: 'new\n' }, { path: 'shut/new.ts', before: null, after: 'new\n' }, { path: 'open/c.ts', before: null, after: 'new\n' }],
  remove: [{ path: 'open/a.ts', before: 'old\n', after: 'new\n' }, { path: 'shut/b.ts', before: 'old\n', after: null }, { path: 'open/c.ts', before: null, after: 'new\n' }],
  nested: [{ path: 'open/a.ts', before: 'old\n', after: 'new\n' }, { path: 'shut/deep/new.ts', before: null, after: 'new\n' }, { path: 'open/c.ts', before: null, after: 'new\n' }]
}

const textOf = path => (existsSync(path) ? readFileSync(path, 'utf8') : null)
const open = root => {
  for (const path of ['shut', 'shut/b.ts']) if (existsSync(join(root, path))) chmodSync(join(root, path), 0o755)
}

/** Sets the permissions, acts, opens all again, and tells what the files are. */
async function acted(root, modes, changes, act) {
  chmodSync(join(root, 'open'), modes.other)
  if (existsSync(join(root, 'shut/b.ts'))) chmodSync(join(root, 'shut/b.ts'), modes.file)
  chmodSync(join(root, 'shut'), modes.folder)
  const outcome = await act().catch(error => ({ thrown: error.message }))
  const recovered = await recoverProject(root).catch(error => ({ thrown: error.message }))
  chmodSync(join(root, 'open'), 0o755)
  open(root)
  const left = [...readdirSync(join(root, 'open')), ...readdirSync(join(root, 'shut')), ...readdirSync(root)].filter(name => name.startsWith('.hollowmoor'))
  return { refused: outcome.refused ?? null, subject: outcome.subject ?? null, thrown: outcome.thrown ?? recovered.thrown ?? null, recovered, left, texts: changes.map(({ path }) => textOf(join(root, path))) }
}

for (const [kind, changes] of Object.entries(CHANGES)) {
  for (const order of ['forward', 'reverse']) {
    for (const file of [0o644, 0o444, 0o000]) for (const folder of [0o755, 0o555, 0o000]) for (const other of [0o755, 0o555]) {
      const root = realpathSync(mkdtempSync(join(tmpdir(), 'hollowmoor-modes-')))
      for (const name of ['open', 'shut']) mkdirSync(join(root, name))
      writeFileSync(join(root, 'open/a.ts'), 'old\n')
      writeFileSync(join(root, 'shut/b.ts'), 'old\n')
      const ordered = order === 'forward' ? changes : [...changes].reverse()
      const modes = { file, folder, other }
      const write = await acted(root, modes, ordered, () => writeChange(root, ordered))
      // Undone under the same permissions, from a write that was possible.
      if (write.refused !== null) await writeChange(root, ordered)
      const undo = await acted(root, modes, ordered, () => undoChange(root, ordered, []))
      const name = `${kind} ${order}, file ${file.toString(8)}, folder ${folder.toString(8)}, other ${other.toString(8)}`
      const row = { name, write, undo, before: ordered.map(one => one.before), after: ordered.map(one => one.after) }
      process.stdout.write(`${JSON.stringify(row)}\n`)
      rmSync(root, { recursive: true, force: true })
    }
  }
}
