// `npm run demo`: installs, builds, and serves the demo project, surveyed. `--port N` and `--data FOLDER` as options.
import { join } from 'node:path'
import { install, root } from './setup.mjs'

install()
const { build } = await import('./build.mjs')
build()
const { serve, withymereIn } = await import('../packages/server/dist/serve.js')
const option = name => { const at = process.argv.indexOf(name); return at < 0 ? undefined : process.argv[at + 1] }
console.log('[hollowmoor] starting, and surveying the demo project Withymere Navigation')
const data = option('--data')
const started = await serve({ port: Number(option('--port') ?? 4870), demos: withymereIn(join(root, 'demo/withymere')), ...(data ? { dataFolder: data } : {}) })
if ('refused' in started) { console.error(started.message); process.exit(2) }
await started.idle()
console.log(`[hollowmoor] ready: ${started.address}  (Ctrl C ends it)`)
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => { void started.stop().then(() => process.exit(0)) })
