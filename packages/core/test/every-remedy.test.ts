import { resolve } from 'node:path'
import type { LanguageWriter, PlannedStep } from '@hollowmoor/core/model/plan'
import { OverlayFileSource } from '@hollowmoor/core/read/file-source'
import { JavaLanguage } from '@hollowmoor/core/read/java/write/java-language'
import type { CodeState, LanguageSession } from '@hollowmoor/core/read/language'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptLanguage } from '@hollowmoor/core/read/typescript/write/typescript-language'
import { offersOf, planStep, REMEDIES } from '@hollowmoor/core/remedy/catalogue'
import type { RemedyOffer } from '@hollowmoor/core/remedy/remedy'
import type { Survey } from '@hollowmoor/core/survey'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import { tools } from './java.js'

/** Of each remedy so many of what is offered, those apart from each other. */
const OF_EACH = 3

/** A reading of the demo where it lies, so that its libraries are there. */
interface Opened {
  readonly survey: Survey
  readonly offers: readonly RemedyOffer[]
  readonly textOf: (path: string) => string | undefined
  readonly paths: readonly string[]
  readonly writer: () => Writer
}
type Writer = LanguageWriter & { readonly current: CodeState }

const disk = new DiskSource()

/** `texts`: what stands in the place of what lies on the disk. */
function open(language: 'typescript' | 'java', texts: ReadonlyMap<string, string> = new Map()): Opened {
  const root = resolve('demo/withymere', language)
  const source = new OverlayFileSource(new Map([...texts].map(([path, text]) => [`${root}/${path}`, text])), disk)
  const reader: LanguageSession = language === 'java' ? new JavaLanguage(root, DEFAULT_SETTINGS, tools) : new TypeScriptLanguage(root, DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const state = reader.read(source), survey = measureProject(state.facts)
  const writer = () => reader.writer(state)
  return { survey, offers: offersOf(survey, writer()), textOf: path => state.textOf(path), paths: state.sources, writer }
}

/** What is offered, and of each remedy no more than a few. */
function some(offers: readonly RemedyOffer[]): RemedyOffer[] {
  return REMEDIES.flatMap(({ name }) => {
    const all = offers.filter(one => one.remedy === name), step = Math.max(1, Math.floor(all.length / OF_EACH))
    return all.filter((_, index) => index % step === 0).slice(0, OF_EACH)
  })
}

/** What a step leaves of the files that it changes, by path. */
const left = (step: PlannedStep): Record<string, string> => Object.fromEntries(step.changes.map(change => [change.path, change.after ?? '(gone)']))
const crlf = (text: string): string => text.replaceAll('\n', '\r\n')
const commentsOf = (text: string): string[] => [...text.matchAll(/"(?:\\.|[^"\\\n])*"|'(?:\\.|[^'\\\n])*'|`(?:\\.|[^`\\])*`|\/\*[^]*?\*\/|\/\/[^\n]*/g)].map(match => match[0]).filter(token => token.startsWith('/')).map(token => token.replace(/\s+/g, ' ').trim())

/** Comments of what goes for good go with it. */
const TAKES_AWAY: ReadonlySet<string> = new Set(['retire-static-face', 'split-interface'])

/** Done once more, these find other members or arguments that belong together, or make another class of another name. */
const GOES_ON: ReadonlySet<string> = new Set(['extract-class', 'group-arguments', 'start-implementation', 'test-double'])

describe.each(['typescript', 'java'] as const)('every remedy on the demo in %s', language => {
  const opened = open(language), chosen = some(opened.offers)
  const windows = open(language, new Map(opened.paths.map(path => [path, crlf(opened.textOf(path)!)])))

  test('most of them are offered', () => { expect(new Set(chosen.map(one => one.remedy)).size).toBeGreaterThanOrEqual(REMEDIES.length - 2) })

  test.each(chosen.map(one => [one.id] as const))('%s', id => {
    const remedy = id.slice(0, id.indexOf(':')), writer = opened.writer()
    const step = planStep(id, {}, opened.survey, writer)
    if (step.refused) { expect(step.message).toMatch(/^[A-Z].*[.]$/s); return }
    expect(step.changes.length).toBeGreaterThan(0)

    // What was there is what the change was made from, and each text ends as its file did.
    for (const { path, before, after } of step.changes) {
      expect({ path, before }).toEqual({ path, before: opened.textOf(path) ?? null })
      if (after !== null) expect({ path, ends: /[^\n]\n$/.test(after), tabs: after.includes('\t'), trailing: /[ \t]\n/.test(after) }).toEqual({ path, ends: true, tabs: false, trailing: false })
    }

    // No comment is lost.
    if (!TAKES_AWAY.has(remedy) && !step.notes.some(note => note.startsWith('Comments'))) {
      const after = new Set(step.changes.flatMap(change => commentsOf(change.after ?? '')))
      expect(step.changes.flatMap(change => commentsOf(change.before ?? '')).filter(comment => !after.has(comment))).toEqual([])
    }

    // Line ends make no difference but for themselves.
    const other = planStep(id, {}, windows.survey, windows.writer())
    expect(other.refused ? other.message : left(other)).toEqual(Object.fromEntries(Object.entries(left(step)).map(([path, text]) => [path, crlf(text)])))

    // No cycle is new, but of a role that speaks of the whole of which it is a part.
    const survey = measureProject(writer.current.facts)
    if (remedy !== 'split-interface') expect(survey.typeCycles.length).toBeLessThanOrEqual(opened.survey.typeCycles.length)
    expect(survey.moduleCycles.length).toBeLessThanOrEqual(opened.survey.moduleCycles.length)

    // Done once, it is done.
    const again = planStep(id, {}, survey, writer)
    // Shown anew, it is other lines.
    expect(again.refused || GOES_ON.has(remedy) || id.endsWith(':shown') || again).toBe(true)
  })
})
