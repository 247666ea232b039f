import { statSync } from 'node:fs'
import { join } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { watch } from 'chokidar'
import type { FSWatcher } from 'chokidar'
import { SAVED } from './history.js'
import type { Projects } from './projects.js'
import type { ProjectRecord } from './store/database.js'

/** Saved files that come within this many milliseconds are read at once. */
const SETTLE = 250
const SOURCES = /\.(?:[cm]?tsx?|java)$/
const LEFT_OUT = /[\\/](?:node_modules|\.[^\\/]+|dist|build|out|target|coverage|bin)(?:[\\/]|$)/

/** Surveys a project again when its files are saved, as long as some page looks at it. */
export class Watching {
  private readonly watched = new Map<number, { watcher: FSWatcher; pages: number; timer: NodeJS.Timeout | undefined }>()

  constructor(private readonly projects: Projects) {}

  /** Watches for one page; returns what ends that. The last one that leaves ends the watching. */
  begin(project: ProjectRecord): () => void {
    let entry = this.watched.get(project.id)
    if (!entry) {
      const own = { watcher: watch(project.path, { ignored: path => path.length > project.path.length && LEFT_OUT.test(path.slice(project.path.length)), ignoreInitial: true, followSymlinks: false }), pages: 0, timer: undefined as NodeJS.Timeout | undefined }
      own.watcher.on('all', (_event, path) => {
        if (!SOURCES.test(path)) return
        clearTimeout(own.timer)
        own.timer = setTimeout(() => { void this.projects.survey(project, SAVED).catch(() => undefined) }, SETTLE)
      })
      // What was saved while the watching began was not seen by it.
      const begun = Date.now()
      own.watcher.on('ready', () => { void this.savedSince(project, begun).then(saved => saved ? this.projects.survey(project, SAVED) : undefined).catch(() => undefined) })
      // Folders that cannot be watched are as if nobody saved in them.
      own.watcher.on('error', () => undefined)
      this.watched.set(project.id, entry = own)
    }
    entry.pages++
    let left = false
    return () => {
      if (left) return
      left = true
      const now = this.watched.get(project.id)
      if (!now || --now.pages > 0) return
      clearTimeout(now.timer)
      this.watched.delete(project.id)
      void now.watcher.close()
    }
  }

  private async savedSince(project: ProjectRecord, begun: number): Promise<boolean> {
    const changed = await this.projects.ask(project, 'changedFiles', [])
    return !isRefusal(changed) && changed.some(path => (statSync(join(project.path, path), { throwIfNoEntry: false })?.mtimeMs ?? 0) >= begun)
  }

  async close(): Promise<void> {
    for (const { watcher, timer } of this.watched.values()) { clearTimeout(timer); await watcher.close() }
    this.watched.clear()
  }
}
