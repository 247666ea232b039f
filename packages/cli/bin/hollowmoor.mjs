#!/usr/bin/env node
import { existsSync } from 'node:fs'
const built = new URL('../dist/cli.js', import.meta.url)
if (!existsSync(built)) {
  console.error('hollowmoor is not built yet; run "npm run setup" in its folder first')
  process.exit(2)
}
// A reader that has seen enough, such as head, closes the pipe; that is no fault.
process.stdout.on('error', error => process.exit(error.code === 'EPIPE' ? 0 : 2))
const { run } = await import(built.href)
process.exitCode = await run(process.argv.slice(2), { out: process.stdout, err: process.stderr })
