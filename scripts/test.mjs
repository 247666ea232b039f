// `npm test`: installs what is missing, the browser included, and runs lint, type check, unit tests, the check of our own
// cycles, the attack in its short form, and browser tests. Fails on the first that fails.
import { spawnSync } from 'node:child_process'
import { install, installBrowser, installJava, root } from './setup.mjs'

install()
installBrowser()
installJava()
const { build } = await import('./build.mjs')
build()
const steps = [
  ['lint', 'lint'], ['type check', 'typecheck'], ['unit tests', 'unit'], ['own cycles', 'selfcheck'], ['attack', 'attack', '--seconds', '120'],
  ['browser tests', 'e2e']
]
let passed = 0
for (const [name, script, ...options] of steps) {
  const started = Date.now()
  console.log(`\n[hollowmoor] ${name}`)
  const done = spawnSync('npm', ['run', '-s', script, '--', ...options], { cwd: root, stdio: 'inherit', env: { ...process.env, npm_config_loglevel: 'error' } })
  if (done.status !== 0) { console.error(`[hollowmoor] ${name} failed`); process.exit(done.status ?? 1) }
  passed++
  console.log(`[hollowmoor] ${name}: ${Math.round((Date.now() - started) / 1000)} s`)
}
console.log(`\nsteps: ${passed} passed, 0 failed`)
