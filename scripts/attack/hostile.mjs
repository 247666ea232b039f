// Opens folders that a stranger made, with the server and the command line; a program of theirs that runs leaves a canary file.
import { spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, renameSync, rmSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { commandEnded, layProject, pause, planOn, removeAll, Server, stateOf, temporaryFolder, textsOf } from './setting.mjs'

export async function openHostile({ untilFromNow, findings }) {
  const base = temporaryFolder('hostile')
  const state = temporaryFolder('state')
  const data = temporaryFolder('data')
  const attack = { base, state, canary: join(base, 'canary'), program: join(base, 'program.sh'), findings }
  writeFileSync(attack.program, `#!/bin/sh\ntouch '${attack.canary}'\ncat\n`)
  chmodSync(attack.program, 0o755)
  writeFileSync(join(base, 'outside.txt'), 'key\n')
  const server = new Server(data, state)
  await server.address
  const until = untilFromNow()
  const opened = []
  let requests = 0
  let commands = Promise.resolve()
  for (const [name, prepare] of Object.entries(FOLDERS)) {
    if (Date.now() > until) break
    const folder = join(base, name.replaceAll(' ', '-'))
    layProject(folder)
    prepare(folder, attack.program, base)
    const before = textsOf(folder)
    opened.push({ name, folder, before })
    requests += await visit(server, folder)
    const args = name.startsWith('journal') ? ['measure', folder] : ['check', folder, '--against', 'main']
    // The command line opens one folder while the server opens the next.
    commands = commands.then(() => commandEnded(args, state)).then(() => expectUntouched(attack, { name, folder, before }, 'was opened'))
    expectUntouched(attack, opened.at(-1), 'was opened')
  }
  await commands
  await server.kill()
  await startAgain(attack, data, opened)
  removeAll(base, state, data)
  return { folders: opened.length, requests }
}

/** A start recovers the projects that it knows: what is believed there is done now. */
async function startAgain(attack, data, opened) {
  const server = new Server(data, attack.state)
  if (await server.address === null) attack.findings.add(`the server does not start any more: ${server.printed}`)
  else await server.ask('GET', '/api/projects')
  await pause(1000)
  for (const one of opened) expectUntouched(attack, one, 'was known at a start')
  await server.kill()
}

function expectUntouched({ base, canary, findings }, { name, folder, before }, when) {
  if (existsSync(canary)) findings.add(`${name}: a program ran after the folder ${when}`)
  rmSync(canary, { force: true })
  if (stateOf(folder, { old: before }) !== 'old') findings.add(`${name}: files were changed after the folder ${when}`)
  if (!existsSync(join(base, 'outside.txt'))) findings.add(`${name}: a file outside of the projects is gone after the folder ${when}`)
}

/** Asks for everything that has to do with git or with writes. */
async function visit(server, folder) {
  const { project, change } = await planOn(server, folder)
  const asked = [
    ['GET', `/api/projects/${project}`], ['GET', `/api/projects/${project}/git`], ['GET', `/api/projects/${project}/branch`], ['GET', `/api/projects/${project}/changing`],
    ['POST', `/api/changes/${change}/branch`, { name: 'made', each: 'step' }], ['POST', `/api/projects/${project}/history`, { commits: 3 }]
  ]
  for (const [method, path, body] of asked) await server.ask(method, path, body).catch(() => null)
  await pause(500)
  return asked.length + 2
}

const git = (folder, ...args) => spawnSync('git', args, { cwd: folder })
const touch = folder => {
  const later = new Date(Date.now() + 5000)
  for (let number = 1; number < 5; number++) utimesSync(join(folder, `src/keeper-${number}.ts`), later, later)
}
const inJournal = text => folder => {
  mkdirSync(join(folder, '.hollowmoor'))
  writeFileSync(join(folder, '.hollowmoor/journal.json'), text)
}

const FOLDERS = {
  'filter and attributes': (folder, program) => {
    git(folder, 'config', 'filter.evil.clean', program)
    git(folder, 'config', 'filter.evil.process', program)
    writeFileSync(join(folder, '.gitattributes'), '* filter=evil diff=evil\n')
    git(folder, 'config', 'diff.evil.textconv', program)
    touch(folder)
  },
  'monitor and hooks': (folder, program) => {
    for (const name of ['core.fsmonitor', 'core.pager', 'core.sshCommand', 'gpg.program', 'diff.external']) git(folder, 'config', name, program)
    mkdirSync(join(folder, 'tools'))
    for (const hook of ['post-index-change', 'reference-transaction', 'pre-commit']) symlinkSync(program, join(folder, 'tools', hook))
    git(folder, 'config', 'core.hooksPath', 'tools')
  },
  'bare repository as files': (folder, program) => {
    git(folder, 'config', 'core.fsmonitor', program)
    git(folder, 'config', 'core.worktree', '.')
    for (const name of ['HEAD', 'config', 'index', 'objects', 'refs']) renameSync(join(folder, '.git', name), join(folder, name))
    removeAll(join(folder, '.git'))
  },
  'git file into the project': (folder, program) => {
    git(folder, 'config', 'core.fsmonitor', program)
    renameSync(join(folder, '.git'), join(folder, 'settings'))
    writeFileSync(join(folder, '.git'), 'gitdir: settings\n')
  },
  'journal that deletes': inJournal(JSON.stringify({ version: 1, entries: [{ path: 'src/lantern.ts', staged: null, kept: null }], madeFolders: ['src'] })),
  'journal that moves from outside': inJournal(JSON.stringify({ version: 1, entries: [{ path: 'src/key.ts', staged: '../../outside.txt', kept: null }], madeFolders: [] })),
  'journal that is empty': inJournal(''),
  'journal that is no journal': inJournal('{}'),
  'journal that is a folder': folder => mkdirSync(join(folder, '.hollowmoor/journal.json'), { recursive: true }),
  'link in place of our folder': (folder, _program, base) => {
    mkdirSync(join(base, 'elsewhere'), { recursive: true })
    writeFileSync(join(base, 'elsewhere/a.old'), 'kept\n')
    symlinkSync(join(base, 'elsewhere'), join(folder, '.hollowmoor'))
  }
}
