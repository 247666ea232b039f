import type { FileProblem } from '../../model/facts.js'
import { discoverFiles, testMatcher } from '../discover.js'
import type { FileSource } from '../file-source.js'
import type { ProjectSettings } from '../settings.js'

export interface JavaProjectFiles {
  /** Paths from the root of the sources, sorted. */
  readonly sources: readonly string[]
  readonly isTest: (path: string) => boolean
  /** Absolute paths of the archives whose classes the sources may use. */
  readonly jars: readonly string[]
  /** Dependencies that a build file names and that are not in the local repository. */
  readonly notInstalled: readonly string[]
  readonly excluded: readonly string[]
  readonly problems: readonly (FileProblem & { readonly file: string })[]
}

/** Where Debian's packages put the libraries that they bring. */
const SYSTEM_REPOSITORY = '/usr/share/maven-repo'

const WORDS = /<(groupId|artifactId|version)>\s*([^<]+?)\s*<\/\1>/g

/**
 * Finds the sources, and the libraries: archives that lie in the project, and those that its Maven or Gradle files name,
 * from the local repositories below `home`. Build files are read as text, never run.
 */
export function findJavaFiles(source: FileSource, root: string, home: string, settings: ProjectSettings, stop?: () => void): JavaProjectFiles {
  const { files, links, excluded } = discoverFiles(source, root, settings, stop)
  // What Maven builds lies beside its build file.
  const built = files.filter(path => /(^|\/)pom\.xml$/.test(path)).map(path => `${path.slice(0, -'pom.xml'.length)}target/`)
  const isBuilt = (path: string) => built.some(folder => path.startsWith(folder))
  const sources = files.filter(path => path.endsWith('.java') && !isBuilt(path) && !/(^|\/)(module|package)-info\.java$/.test(path))
  if (sources.length === 0) return { sources, isTest: () => false, jars: [], notInstalled: [], excluded: [], problems: [] }
  const jars = files.filter(path => path.endsWith('.jar') && !/(^|\/)(gradle|maven)-wrapper\.jar$/.test(path) && !isBuilt(path)).map(path => `${root}/${path}`)
  const notInstalled = new Set<string>()
  const own = new Set<string>()
  const wanted = new Map<string, { group: string; artifact: string; version: string }>()
  const text = (path: string): string => { const outcome = source.readText(`${root}/${path}`); return 'text' in outcome ? outcome.text : '' }
  for (const path of files) {
    if (/(^|\/)pom\.xml$/.test(path)) {
      const { project, dependencies } = readPom(text(path))
      own.add(project)
      for (const one of dependencies) wanted.set(`${one.group}:${one.artifact}`, one)
    } else if (/(^|\/)build\.gradle(\.kts)?$/.test(path)) {
      for (const [, group, artifact, version] of text(path).matchAll(/['"]([\w.-]+):([\w.-]+):([\w.-]+)['"]/g)) wanted.set(`${group}:${artifact}`, { group: group!, artifact: artifact!, version: version! })
    }
  }
  for (const [name, one] of wanted) {
    if (own.has(name)) continue
    const found = inRepository(source, home, one)
    if (found.length > 0) jars.push(...found)
    else if (!files.some(path => path.endsWith('.jar') && path.includes(one.artifact))) notInstalled.add(name)
  }
  return {
    sources, isTest: testMatcher(settings), jars, notInstalled: [...notInstalled].sort(), excluded,
    problems: links.filter(path => path.endsWith('.java')).map(file => ({ file, line: 1, message: 'is a link; links are not followed' }))
  }
}

/** The project's own name and its dependencies, with properties put in. */
export function readPom(text: string): { project: string; dependencies: { group: string; artifact: string; version: string }[] } {
  const plain = text.replace(/<!--[^]*?-->/g, '')
  const properties = new Map<string, string>()
  const block = /<properties>([^]*?)<\/properties>/.exec(plain)?.[1] ?? ''
  for (const [, name, value] of block.matchAll(/<([\w.-]+)>\s*([^<]*?)\s*<\/\1>/g)) properties.set(name!, value!)
  const filled = (value: string | undefined): string => (value ?? '').replace(/\$\{([\w.-]+)\}/g, (whole, name: string) => properties.get(name) ?? whole)
  const named = (part: string): Record<string, string> => Object.fromEntries([...part.matchAll(WORDS)].map(([, name, value]) => [name!, filled(value)]))
  const dependencies = [...plain.matchAll(/<dependency>([^]*?)<\/dependency>/g)].map(([, part]) => named(part!.replace(/<exclusions>[^]*?<\/exclusions>/, '')))
    .map(one => ({ group: one.groupId ?? '', artifact: one.artifactId ?? '', version: one.version ?? '' }))
  const head = plain.replace(/<(parent|dependencies|dependencyManagement|build|profiles)>[^]*?<\/\1>/g, '')
  const parent = named(/<parent>([^]*?)<\/parent>/.exec(plain)?.[1] ?? '')
  const self = named(head)
  return { project: `${self.groupId ?? parent.groupId ?? ''}:${self.artifactId ?? ''}`, dependencies }
}

/** Archives of an artifact in Maven's and Gradle's local repositories; without a version, the last one there. */
function inRepository(source: FileSource, home: string, { group, artifact, version }: { group: string; artifact: string; version: string }): string[] {
  // A build file says these; nothing that it says may lead out of the repositories.
  if (![group, artifact].every(part => /^[\w.-]+$/.test(part)) || /\.\.|^\.|[^\w.$\{}-]/.test(`${artifact}${version}`)) return []
  const inside = `${group.replaceAll('.', '/')}/${artifact}`
  for (const repository of [`${home}/.m2/repository`, SYSTEM_REPOSITORY]) {
    const listed = source.list(`${repository}/${inside}`).filter(entry => entry.kind === 'directory').map(entry => entry.name).reverse()
    // What a system brings it brings in one version, whatever a build file asks for.
    const versions = version && !version.includes('$') ? [version, ...(repository === SYSTEM_REPOSITORY ? listed : [])] : listed
    for (const one of versions) {
      const jar = `${repository}/${inside}/${one}/${artifact}-${one}.jar`
      if (source.isFile(jar)) return [jar]
    }
  }
  const gradle = `${home}/.gradle/caches/modules-2/files-2.1/${group}/${artifact}/${version}`
  for (const hash of source.list(gradle)) {
    const jar = `${gradle}/${hash.name}/${artifact}-${version}.jar`
    if (source.isFile(jar)) return [jar]
  }
  return []
}
