import type { Comparison } from '../compare/compare.js'
import { compareSurveys } from '../compare/compare.js'
import type { SurveyDigest } from '../compare/digest.js'
import { htmlPage, htmlTable } from './html.js'
import { escaped } from './xml.js'

/** A survey that was kept, and the words that tell which it is. */
export interface KeptSurvey { readonly told: string; readonly digest: SurveyDigest }

/** Two surveys compared, as one page to hand round: their shares, the modules whose figures changed, and all that came and went. */
export function comparisonPage(title: string, before: KeptSurvey, after: KeptSurvey): string {
  const found = compareSurveys(before.digest, after.digest)
  const share = (name: string, of: (shares: SurveyDigest['shares']) => number) => [name, of(before.digest.shares), of(after.digest.shares)]
  const figures = (id: string, of: (module: SurveyDigest['modules'][number]) => number) => [before, after].map(({ digest }) => { const module = digest.modules.find(one => one.id === id); return module ? of(module) : '–' })
  return htmlPage(title, [
    `<p class="soft">From ${escaped(before.told)} to ${escaped(after.told)}.</p>`,
    htmlTable([['', false], ['before', true], ['after', true]], [
      share('types that can be tested alone', shares => shares.verdicts.alone), share('with real classes', shares => shares.verdicts['with-real-classes']),
      share('that need the outside', shares => shares.verdicts['needs-outside']), share('not known', shares => shares.verdicts['not-known']),
      share('welded joints', shares => shares.welded), share('bolted joints', shares => shares.bolted), share('plugged joints', shares => shares.plugged),
      share('modules in cycles', shares => shares.modulesInCycles), share('places worth changing', shares => shares.findings), share('types', shares => shares.types), share('lines', shares => shares.lines)
    ]),
    '<h2>What is different</h2>', differences(found),
    ...(found.modules.length === 0 ? [] : ['<h2>Modules</h2>', htmlTable([['module', false], ['types', true], ['after', true], ['lines', true], ['after', true], ['Ca', true], ['after', true], ['Ce', true], ['after', true]],
      found.modules.map(({ id }) => [id, ...figures(id, module => module.types), ...figures(id, module => module.lines), ...figures(id, module => module.ca), ...figures(id, module => module.ce)]))])
  ])
}

function differences({ opened, closed, freed, tied, come, gone }: Comparison): string {
  const items = [
    ...opened.map(cycle => `<li><span class="bad">opened</span> a cycle of ${cycle.level}: ${escaped(cycle.members.join(', '))}</li>`), ...closed.map(cycle => `<li><span class="good">closed</span> the cycle of ${cycle.level}: ${escaped(cycle.members.join(', '))}</li>`),
    ...tied.map(one => `<li><span class="bad">tied</span> ${escaped(one.type)} (${one.before ?? 'new'} → ${one.after})</li>`), ...freed.map(one => `<li><span class="good">freed</span> ${escaped(one.type)} (${one.before} → ${one.after})</li>`),
    ...come.map(one => `<li>added ${escaped(`${one.from} → ${one.to}`)}${one.places[0] ? ` <code>${escaped(one.places[0].file)}:${one.places[0].line}</code>` : ''}</li>`), ...gone.map(one => `<li>gone ${escaped(`${one.from} → ${one.to}`)}</li>`)
  ]
  return items.length === 0 ? '<p>Nothing is different.</p>' : `<ul>${items.join('\n')}</ul>`
}
