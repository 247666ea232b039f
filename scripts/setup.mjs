// Installs what the project needs. Node builtins only, because nothing is installed when it runs first.
// `npm run setup [-- --browser]`: with --browser, Debian's Chromium, a JDK and JUnit too, for the browser tests.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { homedir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { root } from './root.mjs'

export { root }
const say = text => console.log(`[hollowmoor] ${text}`)

export function install() {
  if (Number(process.versions.node.split('.')[0]) < 20) {
    console.error(`Hollowmoor needs Node 20 or later; this is ${process.version}.`)
    process.exit(2)
  }
  const stamp = join(root, 'node_modules', '.hollowmoor-installed')
  const wanted = createHash('sha256').update(readFileSync(join(root, 'package-lock.json'))).update(process.version).digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  say('installing packages (npm ci); building sqlite3 from its source can take two minutes')
  const env = { ...process.env }
  // Headers of Node beside Node itself spare node-gyp a download.
  const beside = dirname(dirname(process.execPath))
  if (existsSync(join(beside, 'include', 'node', 'node_api.h'))) env.npm_config_nodedir = beside
  const kept = join(process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache'), 'hollowmoor', `sqlite3-6.0.1-node${process.versions.modules}-${process.platform}-${process.arch}`)
  if (existsSync(join(kept, 'node_sqlite3.node'))) env.npm_config_ignore_scripts = 'true'
  const done = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: root, stdio: 'inherit', env })
  if (done.status !== 0) {
    console.error('npm ci failed; its own message above says why. Check the connection to the package registry and run this again.')
    process.exit(done.status ?? 1)
  }
  keepDriver(kept)
  writeFileSync(stamp, wanted)
  say('packages are installed')
}

/** Keeps the database driver that was built, or puts the kept one back, so that it is built once on a machine. */
function keepDriver(kept) {
  const folder = join(root, 'node_modules', 'sqlite3', 'build', 'Release'), name = 'node_sqlite3.node'
  if (existsSync(join(folder, name))) {
    mkdirSync(kept, { recursive: true })
    writeFileSync(join(kept, name), readFileSync(join(folder, name)))
  } else if (existsSync(join(kept, name))) {
    mkdirSync(folder, { recursive: true })
    writeFileSync(join(folder, name), readFileSync(join(kept, name)))
  }
  // What it is good for is that it loads: a driver that does not is built anew.
  const loads = spawnSync(process.execPath, ['-e', 'require("sqlite3")'], { cwd: root })
  if (loads.status === 0) return
  say('building the database driver')
  const built = spawnSync('npm', ['rebuild', 'sqlite3'], { cwd: root, stdio: 'inherit' })
  if (built.status !== 0) { console.error('sqlite3 could not be built; it needs python3, make and a C++ compiler.'); process.exit(1) }
}

export function findBrowser() {
  return [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find(path => path && existsSync(path))
}

export function installBrowser() {
  if (findBrowser()) return
  const mayInstall = process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')
  if (mayInstall) {
    say('installing Debian\'s chromium for the browser tests')
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore' })
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } })
  }
  if (!findBrowser()) {
    console.error('The browser tests need Chromium: install the package "chromium" (apt-get install chromium), or name the program in the variable CHROMIUM.')
    process.exit(2)
  }
}

/** What the trial of the Java demo needs; without it that trial is left out of the tests. */
export function installJava() {
  const programs = [process.env.JAVA_HOME && join(process.env.JAVA_HOME, 'bin'), ...(process.env.PATH ?? '').split(':')]
  const missing = [
    ...(programs.some(folder => folder && existsSync(join(folder, 'javac'))) ? [] : ['default-jdk-headless']),
    ...(existsSync('/usr/share/java/junit-platform-console.jar') ? [] : ['junit5'])
  ]
  if (missing.length === 0) return
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) { say(`the Java demo cannot be tried: install ${missing.join(' and ')} (apt-get install)`); return }
  say(`installing ${missing.join(' and ')} for the trial of the Java demo`)
  spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore' })
  spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } })
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  install()
  if (process.argv.includes('--browser')) { installBrowser(); installJava() }
  const { build } = await import('./build.mjs')
  build()
}
