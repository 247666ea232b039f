// Writes a change and is killed at the step that the arguments name, as a crash would.
import { writeChange } from '../dist/journalled-write.js'

const [root, step, count] = process.argv.slice(2)
let left = Number(count)
const atStep = name => {
  if (name === step && --left === 0) process.kill(process.pid, 'SIGKILL')
}
const owner = process.env.OWNER === undefined ? undefined : JSON.parse(process.env.OWNER)
await writeChange(root, JSON.parse(process.env.CHANGES), { atStep, owner, acknowledge: owner && (async () => undefined) })
