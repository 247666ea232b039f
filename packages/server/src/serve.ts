import { cpSync, existsSync, rmSync, symlinkSync } from 'node:fs'
import type { Server } from 'node:http'
import { homedir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import { recoverWrites } from '@hollowmoor/host/journalled-write'
import { createApp } from './app.js'
import { Changes, journalFolder } from './changes.js'
import { Jobs } from './jobs.js'
import { History } from './history.js'
import { Projects } from './projects.js'
import { Watching } from './watching.js'
import { openDatabase, ProjectRecord } from './store/database.js'

export interface ServeOptions {
  readonly port: number
  /** Where projects and surveys are kept; a folder of the user's by default. */
  readonly dataFolder?: string
  /** A folder to register and open on. */
  readonly open?: string
  /** Demos as they are delivered; a copy of each is registered, and the first is opened. */
  readonly demos?: readonly Demo[]
}

/** A code base that ships with Hollowmoor. */
export interface Demo {
  readonly folder: string
  /** What its copy is named, on disk and on screen. */
  readonly name: string
  readonly title: string
  readonly compile: string
  readonly test: string
}

/** The demos in a folder: the same office in each language. */
export function withymereIn(folder: string): Demo[] {
  return [
    { folder: join(folder, 'typescript'), name: 'withymere', title: 'Withymere Navigation', compile: 'npm run compile', test: 'npm test' },
    { folder: join(folder, 'java'), name: 'withymere-java', title: 'Withymere Navigation, in Java', compile: 'sh compile.sh', test: 'sh test.sh' }
  ]
}

export interface Started {
  readonly address: string
  readonly server: Server
  readonly closed: Promise<void>
  readonly stop: () => Promise<void>
  readonly idle: () => Promise<void>
}

/** Where projects and surveys are kept if nothing else is said. */
export function defaultDataFolder(): string {
  return process.env.HOLLOWMOOR_DATA ?? join(process.env.XDG_DATA_HOME ?? join(homedir(), '.local', 'share'), 'hollowmoor')
}

/** Starts the server on 127.0.0.1, on the given port or the next free one. */
export async function serve(options: ServeOptions): Promise<Started | Refusal> {
  const dataFolder = options.dataFolder ?? defaultDataFolder()
  const database = await openDatabase(dataFolder)
  const jobs = new Jobs()
  const history = new History(jobs)
  const projects = new Projects(jobs, history)
  const watching = new Watching(projects)
  const changes = new Changes(jobs, projects)
  // A write that a crash interrupted is finished, or put back, before anything is read.
  for (const record of await ProjectRecord.findAll()) if (existsSync(record.path)) recoverWrites(record.path, journalFolder(record.path))

  let first: ProjectRecord | undefined
  const delivered = new Map<number, { demo: Demo; copy: string }>()
  for (const demo of options.demos ?? []) {
    const copy = join(dataFolder, 'demo', demo.name)
    if (!existsSync(copy)) copyDemo(demo.folder, copy)
    const added = await projects.add(copy, demo.title, true)
    if (isRefusal(added)) return added
    if (!added.commands) await added.update({ commands: { compile: demo.compile, test: demo.test, seconds: 120, confirmed: false } })
    delivered.set(added.id, { demo, copy })
    first ??= added
  }
  const resetDemo = delivered.size === 0 ? null : async (project: ProjectRecord): Promise<Refusal | undefined> => {
    const known = delivered.get(project.id)
    if (!known) return refusal('REQUEST_INVALID', `${project.name} is no demo; only a demo can be laid anew.`)
    copyDemo(known.demo.folder, known.copy)
    await projects.survey(project)
    return undefined
  }
  if (options.open) {
    const added = await projects.add(options.open)
    if (isRefusal(added)) { await database.close(); return added }
    first = added
  }
  const app = createApp({ projects, changes, history, watching, jobs, resetDemo, pages: fileURLToPath(new URL('../../web/dist', import.meta.url)) })
  let server: Server | undefined
  for (let port = options.port; port < options.port + 20 && !server; port++) server = await listen(app, port)
  if (!server) { await database.close(); return refusal('REQUEST_INVALID', `Ports ${options.port} to ${options.port + 19} are all in use; name another with --port.`) }
  const address = server.address()
  const port = typeof address === 'object' && address !== null ? address.port : options.port
  for (const { copy } of delivered.values()) { const added = await projects.add(copy); if (!isRefusal(added) && added.id !== first?.id) await projects.survey(added) }
  if (first) await projects.survey(first)
  const listening = server
  const closed = new Promise<void>(resolve => listening.on('close', resolve))
  return {
    address: `http://127.0.0.1:${port}/${first ? `projects/${first.id}` : ''}`, server, closed, idle: async () => { await jobs.idle(); await projects.stored() },
    async stop() {
      jobs.close()
      listening.close()
      listening.closeAllConnections()
      await watching.close()
      await projects.close()
      await closed
      await database.close()
    }
  }
}

function listen(app: ReturnType<typeof createApp>, port: number): Promise<Server | undefined> {
  return new Promise((resolve, reject) => {
    const server = app.listen(port, '127.0.0.1')
    server.once('listening', () => resolve(server))
    server.once('error', (error: NodeJS.ErrnoException) => (error.code === 'EADDRINUSE' && port !== 0 ? resolve(undefined) : reject(error)))
  })
}

/** Lays the demo anew, with the dependencies that Hollowmoor itself has installed. */
function copyDemo(from: string, to: string): void {
  rmSync(to, { recursive: true, force: true })
  cpSync(from, to, { recursive: true, filter: path => !path.slice(from.length).includes('node_modules') })
  const modules = fileURLToPath(new URL('../../../node_modules', import.meta.url))
  if (existsSync(modules) && existsSync(join(from, 'package.json'))) symlinkSync(modules, join(to, 'node_modules'))
}
