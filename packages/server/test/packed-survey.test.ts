import { resolve } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { OpenProject } from '@hollowmoor/host/open-project'
import type { SurveyPart } from '../src/worker/packed-survey.js'
import { findingRows, findingView } from '../src/worker/finding-views.js'
import { PackedSurvey, packSurvey } from '../src/worker/packed-survey.js'
import { classView, cycleRows, cycleView, jointReferences, landView, referenceViews, typeRow } from '../src/worker/views.js'

describe.each(['typescript', 'java'])('the stored survey of the demo in %s', language => {
  let open: OpenProject, parts: Map<string, SurveyPart>, packed: PackedSurvey
  const asked: string[] = []
  beforeAll(async () => {
    const opened = await OpenProject.open(resolve(`demo/withymere/${language}`))
    if (isRefusal(opened)) throw new Error(opened.message)
    open = opened
    parts = new Map(packSurvey(open.survey, open.state.facts.excluded, path => open.textOf(path)).map(part => [part.name, part]))
    packed = new PackedSurvey(name => { asked.push(name); return Promise.resolve(parts.get(name)) }, path => open.textOf(path))
  })
  const textOf = (path: string) => open.textOf(path)
  // What is told travels as JSON either way.
  const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value)) as unknown

  test('tells the overview, the cycles and the types as the survey itself does', async () => {
    expect(await packed.land()).toEqual(plain(landView(open.survey, open.state.facts.excluded, textOf)))
    expect(await packed.cycles()).toEqual(plain(cycleRows(open.survey)))
    expect(await packed.types()).toEqual(plain(open.survey.model.types.map(type => typeRow(open.survey, type.index))))
  })

  test('tells every finding with its evidence', async () => {
    const rows = findingRows(open.survey, textOf)
    expect(rows.length).toBeGreaterThan(20)
    expect(await packed.findings()).toEqual(plain(rows))
    for (const { id } of rows) expect(await packed.finding(id)).toEqual(plain(findingView(open.survey, id, textOf)))
  })

  test('tells each class, and the lines of each of its joints', async () => {
    for (const type of open.survey.model.types) {
      const view = classView(open.survey, type.id, [], textOf, false)!
      expect(await packed.type(type.id)).toEqual(plain(view))
      for (const joint of view.joints) {
        const to = joint.type ?? joint.name
        expect(await packed.jointReferences(type.id, to)).toEqual(plain(jointReferences(open.survey, type.id, to, path => open.textOf(path))))
      }
    }
  })

  test('tells each cycle, and the lines of each of its dependencies', async () => {
    for (const row of cycleRows(open.survey)) {
      const view = cycleView(open.survey, row.key)!
      expect(await packed.cycle(row.key)).toEqual(plain(view))
      for (const { from, to } of view.dependencies) {
        expect(await packed.references(row.level, row.within, from, to)).toEqual(plain(referenceViews(open.survey, row.level, row.within, from, to, path => open.textOf(path))))
      }
    }
  })

  test('reads for a page what that page shows, and tells nothing of what is not there', async () => {
    asked.length = 0
    const { id } = open.survey.model.types[0]!
    await packed.type(id)
    expect(asked).toEqual([`type:${id}`, 'cycles'])
    expect(await packed.type('no.such.Type')).toBeNull()
    expect(await packed.jointReferences('no.such.Type', id)).toBeNull()
    expect(await packed.references('modules', '.', 'no', 'where')).toBeNull()
    expect(await packed.cycle('modules:.:nowhere')).toBeNull()
  })
})
