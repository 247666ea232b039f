import { copyFileSync, existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import { DependencyLayers } from './dependency-layers.js'
import { filesChangedSince, linkDependencies, realFolders } from './linked-dependencies.js'
import type { CommandOptions, CommandOutcome } from './run-command.js'
import { runCommand } from './run-command.js'
import { ScratchFolder } from './scratch-folder.js'

const LEFT_OUT = new Set(['.git', '.hollowmoor'])

/**
 * A copy of a project in a temporary folder. Installed dependencies are linked, not copied; commands write to a layer over
 * them where the system has such a thing, and elsewhere it is told afterwards which of them were changed.
 */
export class ScratchCopy {
  private constructor(
    private readonly scratch: ScratchFolder, readonly folder: string, private readonly installed: readonly string[],
    private readonly layers: DependencyLayers | null, private readonly since: number
  ) {}

  static async of(root: string): Promise<ScratchCopy> {
    const scratch = await ScratchFolder.create('trial')
    try {
      const folder = join(scratch.folder, 'code')
      const installed = realFolders(copyProject(root, folder))
      return new ScratchCopy(scratch, folder, installed, await DependencyLayers.over(installed, scratch.folder), Date.now())
    } catch (error) {
      await scratch.remove()
      throw error
    }
  }

  apply(changes: readonly FileChange[]): void {
    for (const { path, after } of changes) {
      const full = join(this.folder, path)
      // The copy of a read-only file is read-only.
      rmSync(full, { force: true })
      if (after === null) continue
      mkdirSync(dirname(full), { recursive: true })
      writeFileSync(full, after)
    }
  }

  /** Runs a command of the user's in the copy. Whatever it starts ends with the copy at the latest. */
  run(command: string, options: Omit<CommandOptions, 'folder'>): Promise<CommandOutcome> {
    const wrapped = this.layers === null ? command : this.layers.wrap(command)
    return runCommand(wrapped, { ...options, folder: this.folder, env: { ...options.env, ...this.scratch.environment } })
  }

  /** Installed files of the user's own that changed since the copy was made; none where commands cannot write to them. */
  async changedDependencies(): Promise<string[]> {
    return this.layers === null ? filesChangedSince(this.installed, this.since) : []
  }

  async remove(): Promise<void> {
    await this.scratch.remove()
  }
}

/** Copies a project and links what is installed in it, or else in a folder around it; the folders that the links lead into. */
function copyProject(root: string, target: string): string[] {
  const installed: string[] = []
  const link = (from: string, to: string): void => {
    linkDependencies(from, to, { root, copy: target })
    installed.push(from)
  }
  const copy = (from: string, to: string): void => {
    mkdirSync(to, { recursive: true })
    for (const entry of readdirSync(from, { withFileTypes: true })) {
      if (LEFT_OUT.has(entry.name)) continue
      const source = join(from, entry.name)
      const place = join(to, entry.name)
      if (entry.name === 'node_modules' && existsSync(source)) link(source, place)
      else if (entry.isDirectory()) copy(source, place)
      else if (entry.isFile()) copyFileSync(source, place)
    }
  }
  copy(root, target)
  const around = existsSync(join(target, 'node_modules')) ? undefined : installedAround(root)
  if (around !== undefined) link(around, join(target, 'node_modules'))
  return installed
}

function installedAround(root: string): string | undefined {
  for (let folder = dirname(root); folder !== dirname(folder); folder = dirname(folder)) {
    if (existsSync(join(folder, 'node_modules'))) return join(folder, 'node_modules')
  }
  return undefined
}
