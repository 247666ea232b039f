import ts from 'typescript'
import { folderOf } from '../project-files.js'
import type { Snapshot } from '../session.js'
import { fileNameFor } from './file-name.js'

/** With what a project is tested, and how its tests are written. */
export interface TestStyle {
  /** Import lines without their ends, with `'` for quotes. */
  readonly imports: readonly string[]
  /** The function that a test is given to. */
  readonly test: 'test' | 'it'
  /** `assert`: with node's own assertions. `expect`: as Jest and Vitest have them. */
  readonly asserts: 'assert' | 'expect'
  /** A test that shows how files are named and where they stand; the class's own file where there is none. */
  readonly like: string | null
}

type Framework = 'node' | 'vitest' | 'jest' | 'mocha'

/** Reads off the tests of a project, or else of its package.json, with what it is tested; undefined where neither says. */
export function testStyleOf(snapshot: Snapshot, root: string, near: string): TestStyle | undefined {
  const tests = [...snapshot.paths].filter(([, path]) => snapshot.files.isTest(path) && /\.(test|spec)\.[cm]?tsx?$|(^|\/)[^/]*[-_](test|spec)\.[cm]?tsx?$|(^|\/)(test|tests|__tests__)\//.test(path) && /\.[cm]?tsx?$/.test(path) && !/\.d\.[cm]?ts$/.test(path))
  const counts = new Map<Framework, number>()
  let importing = 0, its = 0, like: string | null = null, likeness = -1
  for (const [file, path] of tests) {
    const found = frameworkOf(file)
    if (!found) continue
    counts.set(found.framework, (counts.get(found.framework) ?? 0) + 1)
    if (found.imported) importing++
    if (found.it) its++
    const shared = sharedParts(path, near)
    if (shared > likeness) { like = path; likeness = shared }
  }
  const [[framework] = [undefined]] = [...counts].sort((a, b) => b[1] - a[1])
  const inUse = framework ?? declaredFramework(snapshot, root, near)
  if (inUse === undefined) return undefined
  const all = [...counts.values()].reduce((sum, count) => sum + count, 0)
  const isImporting = all === 0 ? inUse !== 'jest' && inUse !== 'mocha' : importing * 2 >= all
  const test = its * 2 > all ? 'it' : inUse === 'mocha' ? 'it' : 'test'
  switch (inUse) {
    case 'node': return { imports: ["import assert from 'node:assert/strict'", `import { ${test} } from 'node:test'`], test, asserts: 'assert', like }
    case 'mocha': return { imports: ["import assert from 'node:assert/strict'", ...(isImporting ? [`import { ${test} } from 'mocha'`] : [])], test, asserts: 'assert', like }
    case 'vitest': return { imports: isImporting ? [`import { expect, ${test} } from 'vitest'`] : [], test, asserts: 'expect', like }
    case 'jest': return { imports: isImporting ? [`import { expect, ${test} } from '@jest/globals'`] : [], test, asserts: 'expect', like }
  }
}

function frameworkOf(file: ts.SourceFile): { framework: Framework; imported: boolean; it: boolean } | undefined {
  const text = file.text, it = /\bit\(/.test(text) && !/\btest\(/.test(text)
  for (const statement of file.statements) {
    if (!ts.isImportDeclaration(statement) || !ts.isStringLiteral(statement.moduleSpecifier)) continue
    switch (statement.moduleSpecifier.text) {
      case 'node:test': case 'test': return { framework: 'node', imported: true, it }
      case 'vitest': return { framework: 'vitest', imported: true, it }
      case '@jest/globals': return { framework: 'jest', imported: true, it }
      case 'mocha': return { framework: 'mocha', imported: true, it }
    }
  }
  if (!/\b(it|test)\(/.test(text)) return undefined
  return { framework: /\bvi\./.test(text) ? 'vitest' : /\bexpect\(.*\)\s*\.(not\.|resolves\.|rejects\.)?to[A-Z]/.test(text) ? 'jest' : 'mocha', imported: false, it }
}

/** What the nearest package.json lists, or runs as its tests. */
function declaredFramework({ source }: Snapshot, root: string, near: string): Framework | undefined {
  for (let at = near; ;) {
    const slash = at.lastIndexOf('/')
    at = slash < 0 ? '' : at.slice(0, slash)
    const path = `${root}/${at === '' ? '' : `${at}/`}package.json`
    const read = source.isFile(path) ? source.readText(path) : undefined
    if (read && 'text' in read) {
      try {
        const { devDependencies = {}, dependencies = {}, scripts = {} } = JSON.parse(read.text) as { devDependencies?: object; dependencies?: object; scripts?: { test?: string } }
        const listed = { ...dependencies, ...devDependencies }
        if ('vitest' in listed) return 'vitest'
        if ('jest' in listed || '@jest/globals' in listed) return 'jest'
        if ('mocha' in listed) return 'mocha'
        if (/\bnode\b.*--test\b/.test(scripts.test ?? '')) return 'node'
      } catch { /* what is no JSON says nothing */ }
    }
    if (at === '') return undefined
  }
}

/** How many folders and words of a path another has too. */
function sharedParts(a: string, b: string): number {
  const parts = (path: string) => path.replace(/\.\w+$/, '').split(/[/.]/)
  const others = new Set(parts(b))
  return parts(a).filter(one => others.has(one)).length
}

/** Where a test of a file stands and what it is called: as those that there are. `name`: its stem. */
export function testPath(near: string, name: string, { like }: TestStyle, snapshot: Snapshot): string {
  const [, mark = '.', word = 'test', ending = '.ts'] = /([._-])(test|spec)(\.[cm]?tsx?)$/.exec(like ?? '') ?? []
  const stem = fileNameFor(name, near).replace(/\.[cm]?ts$/, '')
  const folder = like === null ? folderOf(near) : folderOf(like)
  // Where tests stand beside what they test, this one does.
  const isBeside = [...snapshot.paths.values()].some(path => folderOf(path) === folder && !snapshot.files.isTest(path))
  const at = isBeside ? folderOf(near) : folder
  const marked = like !== null && !/([._-])(test|spec)\.[cm]?tsx?$/.test(like) ? '' : `${mark}${word}`
  return `${at === '' ? '' : `${at}/`}${stem}${marked}${ending.replace('tsx', 'ts')}`
}
