// `npm run attack [-- --seconds N] [--kills N] [--only NAME] [--seed N]`: attacks the built server and command line as a crash, a full disk,
// a second server or a stranger's folder would. Ends with status 1 where something did not hold.
import { Findings, randomFrom } from './attack/setting.mjs'
import { crowd } from './attack/crowd.mjs'
import { fillDisks } from './attack/full-disks.mjs'
import { openHostile } from './attack/hostile.mjs'
import { killCommands, killServers } from './attack/kills.mjs'
import { readOnly } from './attack/read-only.mjs'

const option = (name, otherwise) => {
  const index = process.argv.indexOf(`--${name}`)
  return index < 0 ? otherwise : process.argv[index + 1]
}
const seconds = Number(option('seconds', 5400))
const kills = Number(option('kills', 1000))
const only = option('only', null)
const random = randomFrom(Number(option('seed', 27)))
const findings = new Findings()

/** Each attack with the share of the time that it may take. */
const ATTACKS = [
  ['hostile folders', 0.25, openHostile],
  ['read-only files and folders', 0.05, readOnly],
  ['full disks', 0.15, fillDisks],
  ['two servers and two command lines', 0.15, crowd],
  ['killed command lines', 0.15, limits => killCommands({ ...limits, kills: Math.ceil(kills * 0.15) })],
  ['killed servers', 0.25, limits => killServers({ ...limits, kills: Math.ceil(kills * 0.85) })]
]
const chosen = ATTACKS.filter(([name]) => only === null || name.includes(only))
const shares = chosen.reduce((sum, [, share]) => sum + share, 0)

for (const [name, share, attack] of chosen) {
  const started = Date.now()
  // An attack asks for its time when it is prepared, so that a slow machine leaves none of them out.
  const untilFromNow = () => Date.now() + seconds * 1000 * share / shares
  const counts = await attack({ untilFromNow, random, findings })
  console.log(`${name}: ${JSON.stringify(counts)} in ${Math.round((Date.now() - started) / 1000)} s`)
}
const passed = findings.lines.length === 0
console.log(passed ? 'Everything held.' : `${findings.lines.length} things did not hold.`)
process.exit(passed ? 0 : 1)
