/* eslint-disable @typescript-eslint/no-require-imports */
// Preloaded into a measured process: says its time and its largest memory when it ends.
const started = process.hrtime.bigint()
process.on('exit', () => require('node:fs').writeSync(2, `\n@@${JSON.stringify({ seconds: Number(process.hrtime.bigint() - started) / 1e9, megabytes: process.resourceUsage().maxRSS / 1024 })}\n`))
