import { cpSync, existsSync, lstatSync, mkdirSync, mkdtempSync, readdirSync, rmSync, symlinkSync, unlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, dirname, join } from 'node:path'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'

const LEFT_OUT = new Set(['.git', '.hollowmoor'])

/** A copy of a project in a temporary folder, with its installed dependencies linked. */
export class ScratchCopy {
  private constructor(readonly folder: string) {}

  static of(root: string): ScratchCopy {
    const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-trial-'))
    const copy = (from: string, to: string): void => {
      mkdirSync(to, { recursive: true })
      for (const entry of readdirSync(from, { withFileTypes: true })) {
        if (LEFT_OUT.has(entry.name)) continue
        const source = join(from, entry.name), target = join(to, entry.name)
        if (entry.name === 'node_modules') symlinkSync(source, target)
        else if (entry.isDirectory()) copy(source, target)
        else if (entry.isFile()) cpSync(source, target)
      }
    }
    copy(root, folder)
    // Dependencies may be installed in a folder around the project.
    if (!existsSync(join(folder, 'node_modules'))) {
      for (let at = dirname(root); at !== dirname(at); at = dirname(at)) {
        if (existsSync(join(at, 'node_modules'))) { symlinkSync(join(at, 'node_modules'), join(folder, 'node_modules')); break }
      }
    }
    return new ScratchCopy(folder)
  }

  apply(changes: readonly FileChange[]): void {
    for (const { path, after } of changes) {
      const full = join(this.folder, path)
      if (after === null) { if (existsSync(full)) unlinkSync(full) }
      else { mkdirSync(dirname(full), { recursive: true }); writeFileSync(full, after) }
    }
  }

  remove(): void {
    // Only what this made: a folder of the expected name, and links in it are not followed.
    if (basename(this.folder).startsWith('hollowmoor-trial-') && lstatSync(this.folder).isDirectory()) rmSync(this.folder, { recursive: true, force: true })
  }
}
