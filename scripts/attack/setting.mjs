// What the attacks work on: a project whose change is of 31 files, servers and command lines that can be killed, and checks.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { root as repository } from '../root.mjs'

export const CLI = join(repository, 'packages/cli/bin/hollowmoor.mjs')
/** An interface for this class changes its own file and those of 29 clients, and makes one. */
export const REMEDY = 'extract-interface:src/lantern.ts#Lantern'
const CLIENTS = 29

/** Numbers from 0 to 1 that are the same for the same seed. */
export function randomFrom(seed) {
  let state = seed >>> 0
  return () => {
    state = (state * 1664525 + 1013904223) >>> 0
    return state / 4294967296
  }
}

export function temporaryFolder(name) {
  return realpathSync(mkdtempSync(join(tmpdir(), `hollowmoor-attack-${name}-`)))
}

/** Lays the project in a folder, with a commit. */
export function layProject(folder) {
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(join(folder, 'src'), { recursive: true })
  writeFileSync(join(folder, 'tsconfig.json'), '{ "compilerOptions": { "strict": true, "target": "es2022", "module": "nodenext" } }\n')
  writeFileSync(join(folder, 'package.json'), '{ "name": "lanterns", "type": "module" }\n')
  writeFileSync(join(folder, 'src/lantern.ts'), 'export class Lantern {\n  light(): void {}\n  dim(): void {}\n}\n')
  for (let number = 1; number <= CLIENTS; number++) {
    const text = `import { Lantern } from './lantern.js'\n\nexport class Keeper${number} {\n  constructor(private readonly lantern: Lantern) {}\n\n  evening(): void {\n    this.lantern.light()\n  }\n}\n`
    writeFileSync(join(folder, `src/keeper-${number}.ts`), text)
  }
  const git = (...args) => spawnSync('git', ['-c', 'user.name=Tester', '-c', 'user.email=tester@localhost', ...args], { cwd: folder })
  git('init', '-q', '-b', 'main')
  git('config', 'user.name', 'Tester')
  git('config', 'user.email', 'tester@localhost')
  git('add', '-A')
  git('commit', '-q', '-m', 'Light the lanterns')
}

/** All files of the project, with their texts, git's own left out. */
export function textsOf(folder) {
  const texts = new Map()
  const visit = path => {
    for (const entry of readdirSync(join(folder, path), { withFileTypes: true })) {
      const inside = path === '' ? entry.name : `${path}/${entry.name}`
      // Git keeps what is its own in the second, too, in one of the hostile folders.
      if (entry.name === '.git' || entry.name === 'settings') continue
      if (entry.isDirectory()) visit(inside)
      else if (entry.isFile()) texts.set(inside, textOf(join(folder, inside)))
    }
  }
  visit('')
  return texts
}

/** Which of the known states the files are in, by its name; what is in none is told. */
export function stateOf(folder, states) {
  const now = textsOf(folder)
  for (const [name, texts] of Object.entries(states)) {
    if (texts.size === now.size && [...texts].every(([path, text]) => now.get(path) === text)) return name
  }
  const { old } = states
  const differing = [...now].filter(([path, text]) => old?.get(path) !== text).map(([path]) => path)
  return `mixed: ${differing.length} of ${now.size} files are not the old ones (${differing.slice(0, 4).join(', ')})`
}

/** A file that goes while a write is under way has no text. */
function textOf(path) {
  try {
    return readFileSync(path, 'utf8')
  } catch (error) {
    if (error.code === 'ENOENT') return null
    throw error
  }
}

export function environment(state) {
  return { ...process.env, HOLLOWMOOR_STATE: state }
}

/** Runs the command line to its end. */
export function command(args, state) {
  return spawnSync(process.execPath, [CLI, ...args], { env: environment(state), encoding: 'utf8', timeout: 120_000 })
}

/** The same, while others run. */
export function commandEnded(args, state) {
  const child = spawn(process.execPath, [CLI, ...args], { env: environment(state), stdio: 'ignore', timeout: 120_000 })
  return new Promise(resolve => child.once('exit', resolve))
}

/** A server in a process of its own. */
export class Server {
  constructor(data, state) {
    this.child = spawn(process.execPath, [CLI, 'serve', '--port', '0', '--data', data], { env: environment(state), stdio: ['ignore', 'pipe', 'pipe'] })
    this.printed = ''
    this.ended = new Promise(resolve => this.child.once('exit', resolve))
    this.child.stderr.on('data', text => { this.printed += text })
    this.address = new Promise(resolve => {
      this.child.stdout.on('data', text => {
        this.printed += text
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(this.printed)
        if (found) resolve(found[0])
      })
      void this.ended.then(() => resolve(null))
    })
  }

  async ask(method, path, body) {
    const address = await this.address
    if (address === null) throw new Error(`the server did not start: ${this.printed}`)
    const init = { method, headers: { 'Content-Type': 'application/json' }, ...(body === undefined ? {} : { body: JSON.stringify(body) }) }
    const response = await fetch(`${address}${path}`, init)
    const text = await response.text()
    return { status: response.status, body: text === '' ? null : JSON.parse(text) }
  }

  async kill() {
    this.child.kill('SIGKILL')
    await this.ended
  }
}

/** Registers the project with a server and plans the change; the number of both. */
export async function planOn(server, folder) {
  const project = (await server.ask('POST', '/api/projects', { path: folder })).body.id
  const change = (await server.ask('POST', `/api/projects/${project}/changes`, { steps: [{ id: REMEDY, choices: { name: 'Light' } }] })).body.id
  for (let waited = 0; waited < 600; waited++) {
    const { body } = await server.ask('GET', `/api/changes/${change}`)
    if (body.state === 'planned') return { project, change }
    if (body.state === 'refused') throw new Error(`the change was refused: ${body.refusal}`)
    await pause(100)
  }
  throw new Error('the change was not planned in time')
}

export function pause(milliseconds) {
  return new Promise(resolve => setTimeout(resolve, milliseconds))
}

/** Adds a line to what did not hold, and prints it. */
export class Findings {
  constructor() {
    this.lines = []
  }

  add(line) {
    this.lines.push(line)
    console.log(`  NOT HELD: ${line}`)
  }

  /** Temporary files of writes that are left beside those of the project. */
  expectNothingLeft(folder, when) {
    const left = [...textsOf(folder).keys()].filter(path => path.includes('.hollowmoor'))
    if (left.length > 0) this.add(`${when}: left ${left.slice(0, 3).join(', ')}`)
  }
}

export function removeAll(...folders) {
  for (const folder of folders) if (existsSync(folder)) rmSync(folder, { recursive: true, force: true })
}
