// Writes a change and is killed at the step that the arguments name, as a crash would.
import { writeChange } from '../dist/journalled-write.js'
const [root, journal, step, count] = process.argv.slice(2)
let left = Number(count)
writeChange(root, JSON.parse(process.env.CHANGES), journal, at => { if (at === step && --left === 0) process.kill(process.pid, 'SIGKILL') })
