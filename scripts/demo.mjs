// `npm run demo`: installs, builds, and serves the demo project, surveyed. `--port N` and `--data FOLDER` as options.
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { install, root } from './setup.mjs'

install()
const { build } = await import('./build.mjs')
build()
const { serve, withymereIn } = await import('../packages/server/dist/serve.js')
const option = name => { const at = process.argv.indexOf(name); return at < 0 ? undefined : process.argv[at + 1] }
console.log('[hollowmoor] starting, and surveying the demo Withymere Navigation, in TypeScript and in Java')
const data = option('--data')
const started = await serve({ port: Number(option('--port') ?? 4870), demos: withymereIn(join(root, 'demo/withymere')), ...(data ? { dataFolder: data } : {}) })
if ('refused' in started) {
  const isRunning = started.refused === 'DATA_FOLDER_IN_USE' && started.subject !== undefined
  console[isRunning ? 'log' : 'error'](isRunning ? `[hollowmoor] runs already: ${started.subject}` : started.message)
  process.exit(isRunning ? 0 : 2)
}
await started.idle()
const { jdkPrograms } = await import('../packages/host/dist/java-compiler.js')
if (!jdkPrograms()) console.log('[hollowmoor] no JDK is installed: the Java demo can be changed, not tried on a copy (apt-get install default-jdk-headless junit5)')
else if (!existsSync('/usr/share/java/junit-platform-console.jar') && !process.env.JUNIT_JARS) console.log('[hollowmoor] JUnit 5 is not installed: the tests of the Java demo cannot run (apt-get install junit5)')
console.log(`[hollowmoor] ready: ${started.address}  (Ctrl C ends it)`)
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => { void started.stop().then(() => process.exit(0)) })
