import type { EffectKind } from '../../effect/kinds.js'
import { numberedName, upperFirst } from './names.js'

/** What a group of outside uses is told by, and the names proposed for the interface and the class in front of it. */
export interface OutsideNames { readonly label: string; readonly port: string; readonly implementation: string }

/** Of the language's own runtime a group is what it touches. */
const BY_EFFECT: Partial<Record<EffectKind, OutsideNames>> = {
  'clock': { label: 'the clock', port: 'Clock', implementation: 'SystemClock' },
  'randomness': { label: 'chance', port: 'Chance', implementation: 'SystemChance' },
  'environment': { label: 'the environment', port: 'Surroundings', implementation: 'ProcessSurroundings' },
  'console': { label: 'the console', port: 'Terminal', implementation: 'ConsoleTerminal' },
  'network': { label: 'the network', port: 'Network', implementation: 'DirectNetwork' },
  'process': { label: 'the process', port: 'Commands', implementation: 'ProcessCommands' },
  'threads-and-timers': { label: 'timers', port: 'Timers', implementation: 'SystemTimers' },
  'file-system': { label: 'the file system', port: 'Files', implementation: 'DiskFiles' },
  'database': { label: 'the database', port: 'Store', implementation: 'DirectStore' },
  'device': { label: 'the device', port: 'Device', implementation: 'DirectDevice' }
}

/** Modules of Node whose values are there everywhere, as those of the language are. */
const EVERYWHERE: ReadonlySet<string> = new Set(['node:console', 'node:process', 'node:timers'])

/** Names for what is used of an external; of the runtime, for what is touched by it. */
export function outsideNames(external: string, effect: EffectKind, ofRuntime: boolean): OutsideNames {
  const known = BY_EFFECT[effect], isRuntime = ofRuntime || EVERYWHERE.has(external)
  if (known && (isRuntime || effect === 'file-system')) return isRuntime ? known : { ...known, label: external }
  const stem = (external.split('/').filter(part => part !== '').at(-1) ?? external).replace(/^(node|@):?/, '').replace(/[^\p{L}\p{N}]+(.)?/gu, (_, next: string | undefined) => next?.toUpperCase() ?? '')
  const port = upperFirst(stem)
  return { label: external, port, implementation: `Direct${port}` }
}

/** The first of a name's numbered forms that names no other type of the project. */
export function freeTypeName(wanted: string, taken: ReadonlySet<string>): string { return numberedName(wanted, name => !taken.has(name)) }

/** `WITHYMERE_TOLLS` and `max-age` give `withymereTolls` and `maxAge`; empty where nothing of it could be a name. */
export function nameFromText(text: string): string {
  const words = text.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z0-9]+|[A-Z]|[0-9]+/g) ?? []
  const name = words.map((word, index) => (index === 0 ? word.toLowerCase() : word.charAt(0).toUpperCase() + word.slice(1).toLowerCase())).join('')
  return /^[a-z]/.test(name) ? name : ''
}

/** Names for what a class asks of a library object that it holds: `link` of GateMotor gives Link and DirectLink, or GateMotorLink where Link is taken. */
export function heldObjectNames(field: string, owner: string, taken: ReadonlySet<string>): { readonly port: string; readonly implementation: string } {
  const plain = field.replace(/^[#_]+/, ''), own = upperFirst(plain)
  const port = [own, `${owner}${own}`].find(name => !taken.has(name)) ?? numberedName(own, name => !taken.has(name))
  return { port, implementation: `Direct${port}` }
}
