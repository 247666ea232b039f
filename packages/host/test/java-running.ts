import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { jdkPrograms } from '@hollowmoor/host/java-compiler'
import type { Files } from '../../core/test/java.js'

/** A change of one program: the files after it, or why there is none. */
export type Changed = Files | { readonly refusal: string }

/**
 * Runs random programs as they are and as a change leaves them; both print the same. `program`: files in a package of a name,
 * with a `Main.told()`; `change`: what is done to them. At least so many have to be changed.
 */
export function expectTheSame(rounds: number, least: number, program: (name: string) => Files, change: (files: Files, round: number) => Changed): void {
  const before: Files = {}, after: Files = {}, applied: number[] = [], refusals: unknown[] = []
  for (let round = 0; round < rounds; round++) {
    const files = program(`r${round}`), changed = change(files, round)
    if (typeof changed.refusal === 'string') { refusals.push(changed.refusal); continue }
    applied.push(round)
    Object.assign(before, files)
    Object.assign(after, files, changed)
  }
  expect({ refusals, isEnough: applied.length >= least }).toEqual({ refusals, isEnough: true })
  const all: Files = { 'All.java': `public class All { public static void main(String[] args) { ${applied.map(round => `System.out.println("r${round} " + r${round}.Main.told());`).join(' ')} } }\n` }
  expect(printedBy({ ...after, ...all })).toEqual(printedBy({ ...before, ...all }))
}

/** What a program of files prints, whose `All` has the main method. Throws where it does not compile. `env`: variables that it is run with. */
export function printedBy(files: Files, env: Readonly<Record<string, string>> = {}): string[] {
  const programs = jdkPrograms()!
  const folder = mkdtempSync(join(tmpdir(), 'hollowmoor-running-'))
  try {
    for (const [path, text] of Object.entries(files)) { mkdirSync(join(folder, dirname(path)), { recursive: true }); writeFileSync(join(folder, path), text) }
    const built = spawnSync(join(programs, 'javac'), ['-nowarn', '-d', 'out', ...Object.keys(files)], { cwd: folder, encoding: 'utf8' })
    if (built.status !== 0) throw new Error(built.stderr.slice(0, 2000))
    return spawnSync(join(programs, 'java'), ['-cp', 'out', 'All'], { cwd: folder, encoding: 'utf8', env: { ...process.env, ...env } }).stdout.split('\n')
  } finally { rmSync(folder, { recursive: true, force: true }) }
}
