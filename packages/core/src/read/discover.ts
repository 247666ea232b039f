import ignore from 'ignore'
import picomatch from 'picomatch'
import type { DiscoveredFiles, FileSource } from './file-source.js'
import type { ProjectSettings } from './settings.js'

/**
 * Walks a project's folder without following links, leaving out what the settings and .gitignore files leave out.
 * At most 200,000 files are listed; `stop` is asked now and then and ends the walk with an exception of the caller's.
 */
export function discoverFiles(source: FileSource, root: string, settings: ProjectSettings, stop?: () => void): DiscoveredFiles {
  const key = JSON.stringify([root, settings.exclude, settings.useGitignore])
  const found = source.found?.get(key) ?? walkFolders(source, root, settings, stop)
  source.found?.set(key, found)
  return found
}

function walkFolders(source: FileSource, root: string, settings: ProjectSettings, stop?: () => void): DiscoveredFiles {
  const isExcluded = picomatch([...settings.exclude], { dot: true })
  const files: string[] = [], links: string[] = [], excluded: string[] = []
  type Rules = { base: string; matcher: ReturnType<typeof ignore> }
  const walk: { folder: string; rules: readonly Rules[] }[] = [{ folder: '', rules: [] }]
  while (walk.length > 0 && files.length < 200_000) {
    const { folder, rules } = walk.pop()!
    stop?.()
    const absolute = folder === '' ? root : `${root}/${folder}`
    let here = rules
    if (settings.useGitignore) {
      const text = source.isFile(`${absolute}/.gitignore`) ? source.readText(`${absolute}/.gitignore`) : undefined
      if (text && 'text' in text) here = [...rules, { base: folder === '' ? '' : `${folder}/`, matcher: ignore().add(text.text) }]
    }
    const ignored = (path: string) => here.some(rule => rule.matcher.ignores(path.slice(rule.base.length)))
    for (const entry of source.list(absolute)) {
      const path = folder === '' ? entry.name : `${folder}/${entry.name}`
      if (entry.kind === 'directory') {
        // A glob such as `**/dist/**` stands for the folder itself too.
        if (isExcluded(`${path}/x`) || ignored(`${path}/`)) excluded.push(path)
        else walk.push({ folder: path, rules: here })
      } else if (isExcluded(path) || ignored(path)) continue
      else if (entry.kind === 'link') links.push(path)
      else files.push(path)
    }
  }
  return { files: files.sort(), links: links.sort(), excluded: excluded.sort() }
}

/** The file or the outermost folder on a path that the settings or a .gitignore file leave out; undefined where none does. */
export function excludedPart(source: FileSource, root: string, settings: ProjectSettings, path: string): string | undefined {
  const isExcluded = picomatch([...settings.exclude], { dot: true })
  const rules: { readonly base: string; readonly matcher: ReturnType<typeof ignore> }[] = []
  const parts = path.split('/')
  for (let depth = 0; depth < parts.length; depth++) {
    const folder = parts.slice(0, depth).join('/')
    const base = folder === '' ? '' : `${folder}/`
    const text = settings.useGitignore && source.isFile(`${root}/${base}.gitignore`) ? source.readText(`${root}/${base}.gitignore`) : undefined
    if (text && 'text' in text) rules.push({ base, matcher: ignore().add(text.text) })
    const part = parts.slice(0, depth + 1).join('/')
    const isFolder = depth < parts.length - 1
    const isIgnored = rules.some(rule => rule.matcher.ignores(`${part.slice(rule.base.length)}${isFolder ? '/' : ''}`))
    if (isExcluded(isFolder ? `${part}/x` : part) || isIgnored) return part
  }
  return undefined
}

/** Tells test code from product code by the project's globs. */
export function testMatcher(settings: ProjectSettings): (path: string) => boolean {
  return picomatch([...settings.tests], { dot: true })
}
