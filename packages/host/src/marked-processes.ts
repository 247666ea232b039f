import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'

/** Rounds of looking for processes: one that is being ended may just have started another. */
const ROUNDS = 5

/**
 * Ends every process of this user whose environment holds a variable with a value, however it was started and whichever group
 * it is in. The value has to be one that nothing else can have.
 */
export async function endProcessesWith(variable: string, value: string): Promise<void> {
  for (let round = 0; round < ROUNDS; round++) {
    const found = processesWith(`${variable}=${value}`).filter(pid => pid !== process.pid)
    if (found.length === 0) return
    for (const pid of found) {
      try {
        process.kill(pid, 'SIGKILL')
      } catch {
        // It has ended meanwhile, or is not ours.
      }
    }
    await new Promise(resolve => setTimeout(resolve, 30))
  }
}

function processesWith(setting: string): number[] {
  return process.platform === 'linux' ? fromProcessFiles(setting) : fromProcessList(setting)
}

function fromProcessFiles(setting: string): number[] {
  return readdirSync('/proc').filter(name => /^\d+$/.test(name)).filter(pid => {
    try {
      return readFileSync(`/proc/${pid}/environ`, 'latin1').split('\0').includes(setting)
    } catch {
      return false
    }
  }).map(Number)
}

/** Systems without /proc list environments with `ps`, for processes of the same user. */
function fromProcessList(setting: string): number[] {
  try {
    const lines = execFileSync('/bin/ps', ['-axEww', '-o', 'pid=,command='], { encoding: 'utf8', maxBuffer: 1 << 28 }).split('\n')
    return lines.filter(line => line.split(' ').includes(setting)).map(line => Number.parseInt(line, 10)).filter(Number.isInteger)
  } catch {
    return []
  }
}
