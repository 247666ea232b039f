import { cpSync, existsSync, rmSync, symlinkSync } from 'node:fs'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { homedir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import { removeLeftScratchFolders } from '@hollowmoor/host/scratch-folder'
import { systemRefusal } from '@hollowmoor/host/system-error'
import type { Sequelize } from 'sequelize'
import { createApp } from './app.js'
import { Changes } from './changes.js'
import { Jobs } from './jobs.js'
import { History } from './history.js'
import { Projects } from './projects.js'
import { cannotUse, DataFolder } from './running-server.js'
import { UnsettledWrites } from './unsettled-writes.js'
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

/** The parts of a server that serves requests. */
interface Services {
  readonly jobs: Jobs
  readonly history: History
  readonly projects: Projects
  readonly watching: Watching
  readonly changes: Changes
}

/**
 * Starts the server on this machine's own addresses, on the given port or the next free one. Refused with
 * DATA_FOLDER_IN_USE where another server has the data folder.
 */
export async function serve(options: ServeOptions): Promise<Started | Refusal> {
  const folder = await DataFolder.take(options.dataFolder ?? defaultDataFolder())
  if (isRefusal(folder)) return folder
  let database: Sequelize
  try {
    database = await openDatabase(folder.path)
  } catch (error) {
    await folder.leave()
    return cannotUse(folder.path, error)
  }
  const close = async (): Promise<void> => {
    await database.close()
    await folder.leave()
  }
  try {
    const started = await startServing(options, folder, close)
    if (isRefusal(started)) await close()
    return started
  } catch (error) {
    await close()
    const told = systemRefusal(error, 'The server did not start')
    if (told) return told
    throw error
  }
}

async function startServing(options: ServeOptions, folder: DataFolder, close: () => Promise<void>): Promise<Started | Refusal> {
  const services = await startServices(folder.path)
  const { jobs, history, projects, watching, changes } = services
  const demos = await registerDemos(options.demos ?? [], folder.path, projects)
  if (isRefusal(demos)) return demos
  const added = options.open ? await projects.add(options.open) : demos[0]?.project
  if (isRefusal(added)) return added
  const resetDemo = demos.length === 0 ? null : (project: ProjectRecord) => resetTo(demos, project, projects)
  const pages = fileURLToPath(new URL('../../web/dist', import.meta.url))
  const servers = await listenOnOwnAddresses(createApp({ projects, changes, history, watching, jobs, resetDemo, pages }), options.port)
  const [server] = servers
  if (!server) return refusal('REQUEST_INVALID', `Ports ${options.port} to ${options.port + 19} are all in use; name another with --port.`)
  const { port } = server.address() as AddressInfo
  folder.note(`http://127.0.0.1:${port}/`)
  for (const { project } of demos) if (project.id !== added?.id) await projects.survey(project)
  if (added) await projects.survey(added)
  const closed = new Promise<void>(resolve => server.on('close', resolve))
  return {
    address: `http://127.0.0.1:${port}/${added ? `projects/${added.id}` : ''}`, server, closed,
    idle: async () => {
      await jobs.idle()
      await projects.stored()
    },
    stop: () => stopServing(services, servers, closed, close)
  }
}

/** The services of a data folder, once what earlier processes left behind has been put right. */
async function startServices(data: string): Promise<Services> {
  const jobs = new Jobs()
  const history = new History(jobs)
  const unsettled = new UnsettledWrites(data)
  const projects = new Projects(jobs, history, unsettled)
  await removeLeftScratchFolders().catch(() => 0)
  for (const record of await ProjectRecord.findAll()) await projects.recover(record)
  return { jobs, history, projects, watching: new Watching(projects), changes: new Changes(jobs, projects, unsettled) }
}

async function stopServing({ jobs, projects, watching }: Services, servers: readonly Server[], closed: Promise<void>, close: () => Promise<void>): Promise<void> {
  jobs.close()
  for (const server of servers) {
    server.close()
    server.closeAllConnections()
  }
  await watching.close()
  await projects.close()
  await closed
  await close()
}

/** A demo that is registered, with the copy of it that is worked on. */
interface DeliveredDemo {
  readonly demo: Demo
  readonly copy: string
  readonly project: ProjectRecord
}

async function registerDemos(demos: readonly Demo[], dataFolder: string, projects: Projects): Promise<DeliveredDemo[] | Refusal> {
  const delivered: DeliveredDemo[] = []
  for (const demo of demos) {
    const copy = join(dataFolder, 'demo', demo.name)
    if (!existsSync(copy)) copyDemo(demo.folder, copy)
    const project = await projects.add(copy, demo.title, true)
    if (isRefusal(project)) return project
    if (!project.commands) await project.update({ commands: { compile: demo.compile, test: demo.test, seconds: 120, confirmed: false } })
    delivered.push({ demo, copy, project })
  }
  return delivered
}

async function resetTo(demos: readonly DeliveredDemo[], project: ProjectRecord, projects: Projects): Promise<Refusal | undefined> {
  const known = demos.find(one => one.project.id === project.id)
  if (!known) return refusal('REQUEST_INVALID', `${project.name} is no demo; only a demo can be laid anew.`)
  copyDemo(known.demo.folder, known.copy)
  await projects.survey(project)
  return undefined
}

/** Ports that are tried, beginning with the one that was asked for. */
const PORTS_TRIED = 20

/** Listens on 127.0.0.1, and on ::1 with the same port where this machine has it; nothing where no port is free. */
async function listenOnOwnAddresses(app: ReturnType<typeof createApp>, first: number): Promise<Server[]> {
  for (let port = first; port < first + PORTS_TRIED; port++) {
    const server = await listen(app, port, '127.0.0.1')
    if (!server) continue
    const bound = (server.address() as AddressInfo).port
    const second = await listen(app, bound, '::1').catch(() => undefined)
    return second ? [server, second] : [server]
  }
  return []
}

/** Undefined where the port is in use. */
function listen(app: ReturnType<typeof createApp>, port: number, address: string): Promise<Server | undefined> {
  return new Promise((resolve, reject) => {
    const server = app.listen(port, address)
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
