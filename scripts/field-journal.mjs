import { appendFileSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'

/**
 * What a field test has done so far, one line of JSON for each remedy on one place. With a file it goes on where an earlier run
 * ended; with a folder it keeps what broke: the files that a change touches, before and after, and what was said.
 */
export class FieldJournal {
  done = new Map()

  constructor(file, folder) {
    this.file = file
    this.folder = folder
    if (!file || !existsSync(file)) return
    const text = readFileSync(file, 'utf8')
    // A run that was ended may have left half a line: what comes next begins a new one.
    if (text !== '' && !text.endsWith('\n')) appendFileSync(file, '\n')
    for (const line of text.split('\n')) {
      try { const entry = JSON.parse(line); this.done.set(keyOf(entry), entry) } catch { continue }
    }
  }

  /** What is known of a remedy on a place of a code base, of an earlier run. */
  find(code, id) { return this.done.get(keyOf({ code, id })) }

  /** How many of a remedy have been applied, in all code bases and runs. */
  applied(remedy) { return [...this.done.values()].filter(entry => entry.remedy === remedy && entry.result === 'applied').length }

  /** Those of the remedies, named with commas between, of which not enough have been applied yet. */
  wanted(only, enough) { return only.split(',').filter(remedy => this.applied(remedy) < enough) }

  /** How many have been compiled from cold, in all runs. */
  get cold() { return [...this.done.values()].filter(entry => entry.cold).length }

  /** `result`: applied, refused, missed (by our own check alone) or failed; `cold`: compiled by a process of its own, too. */
  note(code, { id, remedy }, result, reason = '', cold = false) {
    const entry = { code, id, remedy, result, ...(reason ? { reason } : {}), ...(cold ? { cold } : {}) }
    this.done.set(keyOf(entry), entry)
    if (this.file) { mkdirSync(dirname(this.file), { recursive: true }); appendFileSync(this.file, `${JSON.stringify(entry)}\n`) }
  }

  /** Notes, keeps and tells what does not compile from cold. */
  failedCold(code, offer, changes) {
    this.note(code, offer, 'failed', 'cold', true)
    this.keep(code, offer.id, 'it does not compile from cold', changes)
    console.log(`  FAILED cold ${offer.id}`)
  }

  /** Keeps a broken case, where a folder was named. */
  keep(code, id, message, changes) {
    if (!this.folder) return
    const to = join(this.folder, `${code} ${id}`.replace(/[^\w.-]+/g, '_').slice(0, 120))
    mkdirSync(to, { recursive: true })
    writeFileSync(join(to, 'case.json'), JSON.stringify({ code, id, message }, null, 2))
    for (const { path, before, after } of changes) {
      for (const [side, text] of [['before', before], ['after', after]]) {
        if (text === null || text === undefined) continue
        mkdirSync(dirname(join(to, side, path)), { recursive: true })
        writeFileSync(join(to, side, path), text)
      }
    }
  }

  /** For each remedy: offered, applied, refused with the share of what was offered, by our own check missed, failed, compiled from cold. */
  table() {
    const rows = {}
    for (const { remedy, result, reason, cold } of this.done.values()) {
      const row = rows[remedy] ??= { offered: 0, applied: 0, refused: 0, missed: 0, failed: 0, cold: 0, reasons: {} }
      row.offered++
      row[result]++
      if (cold) row.cold++
      if (reason) row.reasons[reason] = (row.reasons[reason] ?? 0) + 1
    }
    return Object.fromEntries(Object.entries(rows).sort().map(([remedy, { reasons, ...row }]) => [remedy, { ...row, 'refused of offered': `${Math.round(100 * row.refused / row.offered)} %`, why: Object.entries(reasons).sort((a, b) => b[1] - a[1]).map(([reason, count]) => `${reason} ${count}`).join(', ') }]))
  }
}

function keyOf({ code, id }) { return `${code}\0${id}` }

/** The offers of some remedies, all where none are named, at most so many of each, spread over all there are. */
export function someOf(offers, only, limit) {
  const groups = new Map()
  for (const one of offers) groups.set(one.remedy, [...groups.get(one.remedy) ?? [], one])
  return [...groups].filter(([remedy]) => !only || only.split(',').includes(remedy)).flatMap(([, list]) => list.length <= limit ? list : list.filter((_, at) => Math.floor(at * limit / list.length) !== Math.floor((at - 1) * limit / list.length)))
}
