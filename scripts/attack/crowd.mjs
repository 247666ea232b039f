// Two servers and two command lines write and undo in one project at once; whenever all are quiet, every file is of one state.
import { spawn, spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { CLI, command, environment, layProject, pause, planOn, REMEDY, removeAll, Server, stateOf, temporaryFolder, textsOf } from './setting.mjs'

const LONGEST = 60_000

export async function crowd({ untilFromNow, random, findings }) {
  const state = temporaryFolder('state')
  const folders = [temporaryFolder('data'), temporaryFolder('data')]
  const project = join(temporaryFolder('project'), 'lanterns')
  layProject(project)
  const old = textsOf(project)
  command(['apply', project, REMEDY, '--set', 'name=Light', '--write'], state)
  const states = { old, new: textsOf(project) }
  putBack(project)
  await expectOneServer(folders[0], state, findings)
  const servers = folders.map(folder => new Server(folder, state))
  const changes = []
  for (const server of servers) changes.push((await planOn(server, project)).change)
  const counts = { rounds: 0, answers: {}, commands: 0 }
  const end = Math.min(untilFromNow(), Date.now() + LONGEST)
  while (Date.now() < end) {
    const commands = [0, 1].map(() => spawn(process.execPath, [CLI, 'apply', project, REMEDY, '--set', 'name=Light', '--write'], { env: environment(state), stdio: 'ignore' }))
    const ended = Promise.all(commands.map(child => new Promise(resolve => child.once('exit', resolve))))
    let isOver = false
    void ended.then(() => { isOver = true })
    while (!isOver) {
      await Promise.all(servers.map(async (server, index) => {
        const act = random() < 0.5 ? 'write' : 'undo'
        const { status } = await server.ask('POST', `/api/changes/${changes[index]}/${act}`, {})
        counts.answers[`${act} ${status}`] = (counts.answers[`${act} ${status}`] ?? 0) + 1
        if (status === 500) findings.add(`${act} answered 500`)
      }))
      const found = stateOf(project, states)
      // A command line may be writing at this very moment; a mixture that stays is none.
      if (!(found in states)) await pause(300)
      await renewWhereUndone(servers, changes, project)
      if (stateOf(project, states) === 'new' && random() < 0.5 && isOver) putBack(project)
      await pause(20)
    }
    counts.rounds++
    counts.commands += 2
    const found = stateOf(project, states)
    if (!(found in states)) findings.add(`round ${counts.rounds}: ${found}`)
    findings.expectNothingLeft(project, `round ${counts.rounds}`)
    if (found === 'new' && !(await isWrittenByServer(servers, changes))) putBack(project)
  }
  for (const server of servers) await server.kill()
  removeAll(state, ...folders, join(project, '..'))
  return counts
}

/** A second server on a data folder names the first and ends. */
async function expectOneServer(data, state, findings) {
  const first = new Server(data, state)
  const address = await first.address
  const second = spawnSync(process.execPath, [CLI, 'serve', '--port', '0', '--data', data], { env: environment(state), encoding: 'utf8', timeout: 60_000 })
  if (second.status !== 0 || !second.stdout.includes(address)) findings.add(`a second server on one data folder: ${second.status} ${second.stdout}${second.stderr}`)
  await first.kill()
}

function putBack(project) {
  spawnSync('git', ['clean', '-qfd'], { cwd: project })
  spawnSync('git', ['checkout', '-q', '.'], { cwd: project })
}

async function isWrittenByServer(servers, changes) {
  const views = await Promise.all(servers.map((server, index) => server.ask('GET', `/api/changes/${changes[index]}`)))
  return views.some(({ body }) => body.state === 'written')
}

/** A change that was undone is over; the next is planned where the files are the old ones. */
async function renewWhereUndone(servers, changes, project) {
  for (const [index, server] of servers.entries()) {
    const { body } = await server.ask('GET', `/api/changes/${changes[index]}`)
    if (body.state !== 'undone') continue
    try {
      changes[index] = (await planOn(server, project)).change
    } catch {
      // The files are the new ones just now: there is nothing to plan.
    }
  }
}
