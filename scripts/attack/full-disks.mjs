// Fills the disk of the project, of the data folder and of the state folder, leaving a little more each time, and writes and undoes.
import { spawnSync } from 'node:child_process'
import { mkdirSync, rmSync, writeFileSync, openSync, writeSync, closeSync, statfsSync } from 'node:fs'
import { join } from 'node:path'
import { layProject, planOn, removeAll, Server, stateOf, temporaryFolder, textsOf } from './setting.mjs'

const LEFT = [0, 4, 8, 16, 32, 48, 64, 96, 128, 192, 256, 512]
const DISK = '48m'

export async function fillDisks({ untilFromNow, findings }) {
  const base = temporaryFolder('disks')
  const disks = ['project', 'data', 'state'].map(name => join(base, name))
  for (const disk of disks) {
    mkdirSync(disk)
    if (spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK}`, 'tmpfs', disk]).status !== 0) {
      release(base, disks)
      return { skipped: 'no disk of its own can be mounted here' }
    }
  }
  try {
    return await onDisks(base, untilFromNow, findings)
  } finally {
    release(base, disks)
  }
}

function release(base, disks) {
  for (const disk of disks) spawnSync('umount', ['-l', disk], { stdio: 'ignore' })
  removeAll(base)
}

async function onDisks(base, untilFromNow, findings) {
  const [project, data, state] = [join(base, 'project/lanterns'), join(base, 'data/kept'), join(base, 'state/kept')]
  layProject(project)
  let server = new Server(data, state)
  let { change } = await planOn(server, project)
  const old = textsOf(project)
  await server.ask('POST', `/api/changes/${change}/write`, {})
  const states = { old, new: textsOf(project) }
  const counts = { tried: 0, done: 0, refused: 0, restarts: 0 }
  let isWritten = true
  const until = untilFromNow()
  for (const disk of ['project', 'data', 'state']) {
    for (const left of LEFT) {
      for (const restart of [false, true]) {
        if (Date.now() > until) return counts
        if (!isWritten) change = (await planOn(server, project)).change
        const act = isWritten ? 'undo' : 'write'
        fill(join(base, disk), left)
        const { status, body } = await server.ask('POST', `/api/changes/${change}/${act}`, {})
        counts.tried++
        counts[status < 300 ? 'done' : 'refused']++
        const when = `${act} with ${left} KB left on the disk of the ${disk}`
        if (status >= 300 && body?.code !== 'DISK_FULL') findings.add(`${when}: ${status} ${body?.code} ${body?.message}`)
        if (restart) {
          counts.restarts++
          await server.kill()
          server = new Server(data, state)
          if (await server.address === null) {
            findings.add(`${when}: the server did not start again: ${server.printed}`)
            rmSync(join(base, disk, 'filler'), { force: true })
            server = new Server(data, state)
          }
        }
        const { body: view } = await server.ask('GET', `/api/changes/${change}`)
        isWritten = view.state === 'written'
        const found = stateOf(project, states)
        if (found !== (isWritten ? 'new' : 'old')) findings.add(`${when}: the change is ${view.state}, the files are ${found}`)
        if (status < 300 && (act === 'write') !== isWritten) findings.add(`${when}: answered ${status}, and the change is ${view.state}`)
        findings.expectNothingLeft(project, when)
        rmSync(join(base, disk, 'filler'), { force: true })
      }
    }
  }
  await server.kill()
  return counts
}

/** Fills a disk but for some kilobytes. */
function fill(disk, left) {
  const { bavail, bsize } = statfsSync(disk)
  const filler = join(disk, 'filler')
  writeFileSync(filler, '')
  const handle = openSync(filler, 'a')
  const piece = Buffer.alloc(4096)
  try {
    for (let written = 0; written < bavail * bsize - left * 1024; written += piece.length) writeSync(handle, piece)
  } catch {
    // Full.
  } finally {
    closeSync(handle)
  }
}
