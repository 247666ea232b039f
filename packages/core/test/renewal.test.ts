import { seededRandom } from '@hollowmoor/core/graph/random'
import type { FileFacts } from '@hollowmoor/core/model/facts'
import type { ProjectFacts } from '@hollowmoor/core/read/language'
import type { Survey } from '@hollowmoor/core/survey'
import { measureProject } from '@hollowmoor/core/survey'
import { OpenProject } from '@hollowmoor/host/open-project'

/** What a survey says of what runs: verdicts, effects with their paths, and the edges behind them, slots by their member. */
function whatRuns({ verdicts, reach, model }: Survey): unknown {
  const { graph } = reach
  const memberOfSlot = new Map([...graph.slots].map(([node, slot]) => [slot, node]))
  const rows = []
  for (let node = 0; node < graph.nodeCount; node++) {
    const of = ({ starts, places }: typeof graph.plain, tell: (at: number) => unknown) => Array.from({ length: starts[node + 1]! - starts[node]! }, (_, at) => [places[starts[node]! + at], tell(starts[node]! + at)])
    rows.push([
      of(graph.plain, at => graph.plain.targets[at]), of(graph.slotCalls, at => [memberOfSlot.get(graph.slotCalls.targets[at]!), graph.slotCalls.holds[at]]),
      of(graph.effects, at => [graph.effects.targets[at], graph.effects.plugged[at]])
    ])
  }
  return { verdicts, rows, effects: model.types.map(type => reach.effectsOf(type.index)) }
}

/** A file with some of what its code does taken out, doubled, or turned to something else of the same project; declarations stay. */
function edited(file: FileFacts, all: readonly FileFacts[], random: () => number): FileFacts {
  const pick = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)]
  const inBodies = file.references.filter(one => one.origins && one.kind !== 'extends' && one.kind !== 'implements')
  const some = pick(inBodies), other = pick(pick(all)!.references.filter(one => one.origins && one.kind !== 'extends'))
  const references = file.references.filter(one => one !== some)
  if (some && other && random() < 0.7) references.push({ ...other, span: some.span, from: some.from, inMember: some.inMember })
  const without = pick(file.ownUses)
  return {
    ...file, references: references.sort((a, b) => a.span.start - b.span.start), ownUses: random() < 0.5 ? file.ownUses : file.ownUses.filter(one => one !== without),
    unresolved: some && random() < 0.3 ? [...file.unresolved, { span: some.span, from: some.from, inMember: some.inMember, name: 'gone', reason: 'is not declared' }] : file.unresolved
  }
}

test.each(['typescript', 'java'])('after random edits of what the code of the demo does, in %s, what runs is what a fresh measurement says', async language => {
  const opened = await OpenProject.open(`demo/withymere/${language}`)
  if (!(opened instanceof OpenProject)) throw new Error(opened.message)
  const random = seededRandom(11)
  let facts: ProjectFacts = opened.state.facts, survey = measureProject(facts)
  let renewed = 0
  for (let step = 0; step < 30; step++) {
    const files = [...facts.files]
    for (let count = 1 + Math.floor(random() * 3); count > 0; count--) {
      const at = Math.floor(random() * files.length)
      files[at] = edited(files[at]!, files, random)
    }
    const now = { ...facts, files }
    const next = measureProject(now, {}, undefined, { survey, facts })
    if (next.reach.graph.names === survey.reach.graph.names) renewed++
    expect({ step, ...whatRuns(next) as object }).toEqual({ step, ...whatRuns(measureProject(now)) as object })
    facts = now
    survey = next
  }
  // Only where a file's code stands in a type of another is all done anew.
  expect(renewed).toBeGreaterThan(20)
})

test('a member that is new, or a base that is another, is measured anew', async () => {
  const opened = await OpenProject.open('demo/withymere/java')
  if (!(opened instanceof OpenProject)) throw new Error(opened.message)
  const { facts } = opened.state, survey = measureProject(facts)
  const change = (alter: (file: FileFacts) => FileFacts): Survey => {
    const at = facts.files.findIndex(file => file.types.length > 0 && file.references.some(one => one.kind === 'implements'))
    return measureProject({ ...facts, files: facts.files.map((file, index) => (index === at ? alter(file) : file)) }, {}, undefined, { survey, facts })
  }
  const [type] = facts.files.find(file => file.types[0]?.members.length)!.types
  const added = change(file => ({ ...file, types: file.types.map((one, at) => (at > 0 ? one : { ...one, members: [...one.members, { ...type!.members[0]!, name: 'quiteNew' }] })) }))
  const withoutBase = change(file => ({ ...file, references: file.references.filter(one => one.kind !== 'implements') }))
  for (const one of [added, withoutBase]) expect(one.reach.graph.names).not.toBe(survey.reach.graph.names)
  expect(added.reach.graph.nodeCount).toBe(survey.reach.graph.nodeCount + 1)
})
