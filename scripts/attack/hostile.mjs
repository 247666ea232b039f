// Opens folders that a stranger made, with the server and the command line; a program of theirs that runs leaves a canary.
import { spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, renameSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { command, layProject, pause, planOn, removeAll, Server, stateOf, temporaryFolder, textsOf } from './setting.mjs'

export async function openHostile({ until, findings }) {
  const base = temporaryFolder('hostile')
  const state = temporaryFolder('state')
  const data = temporaryFolder('data')
  const canary = join(base, 'canary')
  const program = join(base, 'program.sh')
  writeFileSync(program, `#!/bin/sh\ntouch '${canary}'\ncat\n`)
  chmodSync(program, 0o755)
  writeFileSync(join(base, 'outside.txt'), 'key\n')
  const counts = { folders: 0, requests: 0 }
  let server = new Server(data, state)
  for (const [name, prepare] of Object.entries(FOLDERS)) {
    if (Date.now() > until) break
    const folder = join(base, name.replaceAll(' ', '-'))
    layProject(folder)
    prepare(folder, program, base)
    const before = textsOf(folder)
    counts.requests += await visit(server, folder)
    command(name.startsWith('journal') ? ['measure', folder] : ['check', folder, '--against', 'main'], state)
    // What is believed at a start would be done now.
    await server.kill()
    server = new Server(data, state)
    if (await server.address === null) {
      findings.add(`${name}: the server does not start any more: ${server.printed}`)
      break
    }
    await pause(300)
    if (existsSync(canary)) findings.add(`${name}: a program of the folder ran`)
    if (stateOf(folder, { old: before }) !== 'old') findings.add(`${name}: files of the folder were changed`)
    counts.folders++
  }
  await server.kill()
  if (!existsSync(join(base, 'outside.txt'))) findings.add('a file outside of the projects is gone')
  removeAll(base, state, data)
  return counts
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
