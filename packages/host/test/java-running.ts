import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'

/** What a program of files prints, whose `All` has the main method. Throws where it does not compile. */
export function printedBy(files: Files): string[] {
  const programs = jdkPrograms()!
  const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-running-'))
  try {
    for (const [path, text] of Object.entries(files)) { mkdirSync(join(folder, dirname(path)), { recursive: true }); writeFileSync(join(folder, path), text) }
    const built = spawnSync(join(programs, 'javac'), ['-nowarn', '-d', 'out', ...Object.keys(files)], { cwd: folder, encoding: 'utf8' })
    if (built.status !== 0) throw new Error(built.stderr.slice(0, 2000))
    return spawnSync(join(programs, 'java'), ['-cp', 'out', 'All'], { cwd: folder, encoding: 'utf8' }).stdout.split('\n')
  } finally { rmSync(folder, { recursive: true, force: true }) }
}
