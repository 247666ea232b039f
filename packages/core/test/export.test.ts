import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { csvOf, tableAsCsv } from '@hollowmoor/core/export/csv'
import { graphAsGraphml } from '@hollowmoor/core/export/graphml'
import { comparisonPage } from '@hollowmoor/core/export/comparison-page'
import { surveyPage } from '@hollowmoor/core/export/page'
import { digestOf } from '@hollowmoor/core/compare/digest'
import { readProject } from './project.js'

const files = {
  'a/one.ts': "import { Two } from '../b/two'\nexport class One<T> { constructor(private readonly two: Two) {} go(): number { return this.two.go() + 1 } }",
  'b/two.ts': "import { One } from '../a/one'\nexport class Two { back: One<string> | null = null; go(): number { return this.back === null ? Date.now() : this.back.go() } }"
}
const { survey } = readProject(files)

test('cells with commas, quotes and line ends are quoted, and none becomes a formula', () => {
  expect(csvOf(['a', 'b'], [['x,y', 'say "no"'], ['=1+1', 2], ['line\nend', null]])).toBe('a,b\r\n"x,y","say ""no"""\r\n\'=1+1,2\r\n"line\nend",\r\n')
})

test('tables hold a row for each type, module, finding and dependency', () => {
  expect(tableAsCsv(survey, 'types').split('\r\n').filter(line => line.includes('#One'))[0]).toMatch(/^a\/one\.ts#One,One,class,a,a\/one\.ts,2,1,no,1,1,0,1,0,0,needs-outside$/)
  expect(tableAsCsv(survey, 'modules').split('\r\n')).toHaveLength(survey.modules.length + 2)
  expect(tableAsCsv(survey, 'findings')).toContain('module-cycle')
  expect(tableAsCsv(survey, 'cycles').split('\r\n').map(line => line.split(',').slice(0, 3).join())).toEqual(['level,within,size', 'modules,.,2', 'files,,2', 'types,,2', ''])
  expect(tableAsCsv(survey, 'dependencies')).toContain('a/one.ts#One,b/two.ts#Two,')
})

test.each(['modules', 'files', 'types'] as const)('the graph of %s is valid GraphML with all its dependencies', level => {
  const text = graphAsGraphml(survey, level)
  expect(XMLValidator.validate(text)).toBe(true)
  const { graphml } = new XMLParser({ ignoreAttributes: false, isArray: name => name === 'node' || name === 'edge' }).parse(text) as { graphml: { graph: { node: { '@_id': string }[]; edge: { '@_source': string; '@_target': string }[] } } }
  const ids = new Set(graphml.graph.node.map(node => node['@_id']))
  expect(graphml.graph.edge.length).toBeGreaterThanOrEqual(2)
  for (const edge of graphml.graph.edge) expect([ids.has(edge['@_source']), ids.has(edge['@_target'])]).toEqual([true, true])
})

test('the page to hand round needs nothing else and escapes what it tells', () => {
  const page = surveyPage(survey, '<Our> & theirs', '2026-11-23')
  expect(page).toContain('&lt;Our&gt; &amp; theirs')
  expect(page).toContain('1 module cycles')
  expect(page).not.toMatch(/<script|<img|<link|https?:/)
})

test('two surveys are handed round as one page: shares, what came and went, and the modules that it changed', () => {
  const before = readProject({ ...files, 'b/two.ts': 'export class Two { go(): number { return 1 + 1 } }' }).survey
  const page = comparisonPage('<Our>', { told: 'last week', digest: digestOf(before) }, { told: 'today', digest: digestOf(survey) })
  expect(page).toContain('From last week to today.')
  expect(page).toContain('opened</span> a cycle of modules: a, b')
  expect(page).toContain('tied</span> b/two.ts#Two (alone → needs-outside)')
  expect(page).toContain('<td>modules in cycles</td><td class="n">0</td><td class="n">2</td>')
  expect(page).toMatch(/<td>b<\/td><td class="n">1<\/td><td class="n">1<\/td>/)
  expect(page).not.toMatch(/<script|<img|<link|https?:/)
})
