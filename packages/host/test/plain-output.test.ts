import { PlainOutput } from '@hollowmoor/host/plain-output'
import { runCommand } from '@hollowmoor/host/run-command'

const COLOURED = '\u001B[36m├─\u001B[0m dues \u001B[1;32m✔ paid\u001B[m [5] done\n'

test('marks for colours go, wherever the pieces end', () => {
  const bytes = Buffer.from(COLOURED)
  for (let first = 0; first <= bytes.length; first++) for (const second of [first, Math.min(first + 3, bytes.length)]) {
    const output = new PlainOutput()
    const text = output.take(bytes.subarray(0, first)) + output.take(bytes.subarray(first, second)) + output.take(bytes.subarray(second)) + output.end()
    expect({ first, second, text }).toEqual({ first, second, text: '├─ dues ✔ paid [5] done\n' })
  }
})

test('a mark that never ends, or half a character, is told at the end', () => {
  const output = new PlainOutput()
  expect(output.take(Buffer.from('dues \u001B['))).toBe('dues ')
  expect(output.end()).toMatch(/^.{0,2}$/u)
  expect(output.take(Buffer.from('é').subarray(0, 1))).toBe('')
  expect(output.end()).toBe('\uFFFD')
})

test('what a command prints is kept and told without them', async () => {
  const told: string[] = []
  const { output } = await runCommand("printf '\\033[36mtoll\\033[0m due\\n'; printf '\\033[31mlate\\033[0m\\n' >&2", { folder: '.', seconds: 30, onOutput: text => { told.push(text) } })
  expect(output.split('\n').sort()).toEqual(['', 'late', 'toll due'])
  expect(told.join('').split('\n').sort()).toEqual(['', 'late', 'toll due'])
})
