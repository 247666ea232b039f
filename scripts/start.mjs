// `npm start [-- PATH]`: serves the user's own projects, opening on PATH.
import { install } from './setup.mjs'

install()
const { build } = await import('./build.mjs')
build()
const { run } = await import('../packages/cli/dist/cli.js')
process.exitCode = await run(['serve', ...process.argv.slice(2)], { out: process.stdout, err: process.stderr })
