// Kills a server at random moments over start and recovery, write, undo and commit to a branch, and the command line while it writes.
import { spawn, spawnSync } from 'node:child_process'
import { join } from 'node:path'
import sqlite from 'sqlite3'
import { CLI, command, environment, layProject, pause, planOn, REMEDY, removeAll, Server, stateOf, temporaryFolder, textsOf } from './setting.mjs'

/** Copies of the planned change that are laid in the database at once, so that planning is not repeated. */
const COPIES = 2000

export async function killServers({ kills, untilFromNow, random, findings }) {
  const data = temporaryFolder('data')
  const state = temporaryFolder('state')
  const folder = join(temporaryFolder('project'), 'lanterns')
  layProject(folder)
  const { first, states } = await prepared(data, state, folder)
  await copyChange(data, first)
  const counts = { kills: 0, start: 0, write: 0, undo: 0, branch: 0, undone: 0 }
  let change = first
  let startTime = 700
  let window = 150
  const commitsNamed = []
  const until = untilFromNow()
  while (counts.kills < kills && Date.now() < until) {
    const begun = Date.now()
    const server = new Server(data, state)
    if (random() < 0.25) {
      await pause(random() * startTime * 1.1)
      await server.kill()
      counts.kills++
      counts.start++
      continue
    }
    if (await server.address === null) {
      findings.add(`the server did not start again: ${server.printed}`)
      break
    }
    startTime = Date.now() - begun
    const { body: view } = await server.ask('GET', `/api/changes/${change}`)
    const expected = view.state === 'written' ? 'new' : 'old'
    const found = stateOf(folder, states)
    if (found !== expected) {
      findings.add(`after kill ${counts.kills} the change is ${view.state} and the files are ${found}`)
      break
    }
    findings.expectNothingLeft(folder, `after kill ${counts.kills}`)
    checkBranches(folder, commitsNamed, findings)
    if (view.state === 'undone') {
      counts.undone++
      change++
      await server.kill()
      continue
    }
    const name = `made-${counts.kills}`
    const act = view.state === 'written' ? 'undo' : random() < 0.2 ? 'branch' : 'write'
    if (act === 'branch') commitsNamed.push(name)
    const asked = Date.now()
    const answer = server.ask('POST', `/api/changes/${change}/${act}`, act === 'branch' ? { name, each: 'step' } : {}).catch(() => null)
    if (random() < 0.1) {
      // Now and then it comes to its end, so that it is known that it can.
      const { status, body } = await answer
      window = Math.max(60, Math.min(2000, Date.now() - asked))
      if (status >= 300) findings.add(`${act} answered ${status}: ${body?.message}`)
    } else await pause(random() * window * (act === 'branch' ? 3 : 1.2))
    await server.kill()
    counts.kills++
    counts[act]++
    if (counts.kills % 100 === 0) console.log(`  ${counts.kills} servers were killed`)
  }
  removeAll(data, state, join(folder, '..'))
  return counts
}

async function prepared(data, state, folder) {
  const server = new Server(data, state)
  const { change } = await planOn(server, folder)
  const old = textsOf(folder)
  await server.ask('POST', `/api/changes/${change}/write`, {})
  const fresh = textsOf(folder)
  await server.ask('POST', `/api/changes/${change}/undo`, {})
  await server.kill()
  const changed = [...fresh].filter(([path, text]) => old.get(path) !== text).length
  if (changed !== 31) throw new Error(`the change is of ${changed} files, not of 31`)
  return { first: change + 1, states: { old, new: fresh } }
}

function copyChange(data, first) {
  return new Promise((resolve, reject) => {
    const database = new sqlite.Database(join(data, 'hollowmoor.sqlite'))
    const columns = 'projectId, steps, refusal, files, parts, effects, decisions, problems, trial'
    const numbers = `WITH RECURSIVE numbers(id) AS (SELECT ${first} UNION ALL SELECT id + 1 FROM numbers WHERE id < ${first + COPIES})`
    const sql = `${numbers} INSERT INTO changes (id, state, ${columns}) SELECT numbers.id, 'planned', ${columns} FROM numbers, changes WHERE changes.id = ${first - 1}`
    database.exec(sql, error => database.close(() => (error ? reject(error) : resolve())))
  })
}

/** A branch is there with its commit, or not at all. */
function checkBranches(folder, names, findings) {
  const listed = spawnSync('git', ['for-each-ref', '--format=%(refname:short)', 'refs/heads/made-*'], { cwd: folder, encoding: 'utf8' }).stdout.split('\n').filter(name => name !== '')
  for (const name of listed) {
    const files = spawnSync('git', ['diff', '--name-only', 'main', name], { cwd: folder, encoding: 'utf8' }).stdout.trim().split('\n').length
    if (files !== 31 || !names.includes(name)) findings.add(`branch ${name} holds ${files} changed files`)
    spawnSync('git', ['branch', '-q', '-D', name], { cwd: folder })
  }
}

/** Kills `apply --write` around the moment at which it writes; then `measure` has to find files of one state. */
export async function killCommands({ kills, untilFromNow, random, findings }) {
  const state = temporaryFolder('state')
  const folder = join(temporaryFolder('project'), 'lanterns')
  layProject(folder)
  const old = textsOf(folder)
  const args = ['apply', folder, REMEDY, '--set', 'name=Light', '--write']
  const begun = Date.now()
  if (command(args, state).status !== 0) throw new Error('apply does not work')
  let length = Date.now() - begun
  const states = { old, new: textsOf(folder) }
  const until = untilFromNow()
  const counts = { kills: 0, old: 0, new: 0, recovered: 0 }
  while (counts.kills < kills && Date.now() < until) {
    spawnSync('git', ['clean', '-qfd'], { cwd: folder })
    spawnSync('git', ['checkout', '-q', '.'], { cwd: folder })
    const started = Date.now()
    const child = spawn(process.execPath, [CLI, ...args], { env: environment(state), stdio: 'ignore' })
    const ended = new Promise(resolve => child.once('exit', resolve))
    await Promise.race([ended, untilWriting(state, ended).then(() => pause(random() * 120)), pause(length * 3)])
    child.kill('SIGKILL')
    await ended
    length = Math.max(length * 0.9, Date.now() - started)
    counts.kills++
    const measured = command(['measure', folder], state)
    const found = stateOf(folder, states)
    if (measured.status !== 0 || !(found in states)) findings.add(`apply killed ${counts.kills}: measure ended ${measured.status}, files ${found}: ${measured.stderr}`)
    else counts[found]++
    if (/interrupted/.test(measured.stderr)) counts.recovered++
    findings.expectNothingLeft(folder, `after apply was killed ${counts.kills}`)
  }
  removeAll(state, join(folder, '..'))
  return counts
}

/** Waits until a write has begun: its lock is the first that is seen of it. */
async function untilWriting(state, ended) {
  let isOver = false
  void ended.then(() => { isOver = true })
  const { readdirSync } = await import('node:fs')
  while (!isOver) {
    try {
      const [key] = readdirSync(join(state, 'writes'))
      if (readdirSync(join(state, 'writes', key)).some(name => name.length === 32)) return
    } catch {
      // Not yet.
    }
    await pause(1)
  }
}
