// Builds packages and pages where their sources changed since the last build.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { root } from './root.mjs'

function hashOf(folders) {
  const hash = createHash('sha256')
  const visit = path => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) if (name !== 'dist' && name !== 'node_modules') visit(join(path, name))
    } else if (!/\.test\.ts$/.test(path)) hash.update(path).update(readFileSync(path))
  }
  for (const folder of folders) visit(join(root, folder))
  return hash.digest('hex')
}

function step(name, folders, output, command, args) {
  const stamp = join(root, 'node_modules', '.cache', 'hollowmoor', name)
  const wanted = hashOf([...folders, 'package-lock.json'])
  if (existsSync(join(root, output)) && existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log(`[hollowmoor] building ${name}`)
  const done = spawnSync(process.execPath, [join(root, command), ...args], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] })
  if (done.status !== 0) { console.error(`building ${name} failed; npm run typecheck tells more`); process.exit(1) }
  mkdirSync(join(root, 'node_modules', '.cache', 'hollowmoor'), { recursive: true })
  writeFileSync(stamp, wanted)
}

export function build() {
  const sources = ['core', 'contract', 'host', 'server', 'cli'].map(name => `packages/${name}`)
  step('packages', [...sources, 'tsconfig.base.json'], 'packages/cli/dist/cli.js', 'node_modules/typescript/bin/tsc', ['-b', ...sources])
  step('pages', ['packages/web', 'packages/core/src', 'packages/contract/src'], 'packages/web/dist/index.html', 'node_modules/vite/bin/vite.js', ['build', 'packages/web', '--logLevel', 'warn'])
}

if (process.argv[1] === fileURLToPath(import.meta.url)) build()
