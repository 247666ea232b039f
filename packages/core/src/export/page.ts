import type { Comparison } from '../compare/compare.js'
import { findingsOf } from '../find/findings.js'
import { countVerdicts } from '../measure/verdict.js'
import type { Survey } from '../survey.js'
import { escaped } from './xml.js'

const STYLE = 'body{font:15px/1.45 sans-serif;color:#1d2522;background:#fbfcfa;max-width:1100px;margin:24px auto;padding:0 18px}h1{font-weight:400}h2{font-size:17px;margin-top:28px}table{border-collapse:collapse;width:100%;font-size:14px}th,td{text-align:left;padding:4px 9px;border-bottom:1px solid #d3dad4;vertical-align:top}td.n,th.n{text-align:right}code{font-size:13px}.bad{color:#a93f28}.good{color:#1a655f}.soft{color:#55625c}'

/** Findings that a page to hand round tells; all of them are in the table of findings. */
const SHOWN = 200

/** A survey, and what is different from an earlier one, as one page that needs nothing else: no script, no picture, no address. */
export function surveyPage(survey: Survey, title: string, at: string, comparison?: { readonly told: string; readonly found: Comparison }): string {
  const { model } = survey
  const verdicts = countVerdicts(survey.verdicts), findings = findingsOf(survey)
  const table = (header: readonly [string, boolean][], rows: readonly (readonly (string | number)[])[]) =>
    `<table><thead><tr>${header.map(([name, isNumber]) => `<th${isNumber ? ' class="n"' : ''}>${escaped(name)}</th>`).join('')}</tr></thead><tbody>${rows.map(row => `<tr>${row.map((cell, index) => `<td${header[index]![1] ? ' class="n"' : ''}>${escaped(String(cell))}</td>`).join('')}</tr>`).join('\n')}</tbody></table>`
  const parts = [
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title><style>${STYLE}</style></head><body>`,
    `<h1>${escaped(title)}</h1><p class="soft">Surveyed ${escaped(at)}.</p>`,
    `<p>${model.types.filter(type => !type.test).length} types in ${survey.modules.filter(module => module.types > 0).length} modules. ${survey.moduleCycles.length === 0 ? '<span class="good">No module depends on itself in a circle.</span>' : `<span class="bad">${survey.moduleCycles.length} module cycles</span> hold ${survey.moduleCycles.reduce((sum, cycle) => sum + cycle.members.length, 0)} modules; ${survey.moduleCycles.reduce((sum, cycle) => sum + cycle.cut.references, 0)} references are enough to break them.`} ` +
      `Of the types with logic ${verdicts.alone} can be tested alone, ${verdicts['with-real-classes']} with real classes; ${verdicts['needs-outside']} need the outside, ${verdicts['not-known']} are not known.${model.unresolved.length > 0 ? ` ${model.unresolved.length} names were not understood.` : ''}</p>`
  ]
  if (comparison) parts.push(`<h2>${escaped(comparison.told)}</h2>`, comparisonPart(comparison.found))
  parts.push(`<h2>${findings.length} places worth changing, most freed for least first</h2>`, table([['what', false], ['in words', false], ['where', false], ['references', true]], findings.slice(0, SHOWN).map(({ kind, sentence, evidence: [first], cost }) => [kind.replaceAll('-', ' '), sentence, first ? `${model.files[first.file]!.path}:${first.line}` : '', cost.references])))
  for (const [name, cycles] of [['Cycles of modules', survey.moduleCycles], ['Cycles of files', survey.fileCycles], ['Cycles of types', survey.typeCycles]] as const) {
    if (cycles.length > 0) parts.push(`<h2>${name}</h2>`, table([['members', false], ['references to change', true], ['cut', false]], cycles.slice(0, SHOWN).map(cycle => [cycle.members.slice(0, 30).join(', ') + (cycle.members.length > 30 ? ` and ${cycle.members.length - 30} more` : ''), cycle.cut.references, cycle.cut.dependencies.slice(0, 10).map(one => `${one.from} → ${one.to}`).join(', ')])))
  }
  const ratio = (value: number | null) => (value === null ? '–' : value.toFixed(2))
  parts.push('<h2>Modules</h2>', table([['module', false], ['types', true], ['lines', true], ['Ca', true], ['Ce', true], ['I', true], ['A', true], ['D', true]], survey.modules.filter(module => module.types > 0).map(module => [module.id, module.types, module.lines, module.ca, module.ce, ratio(module.instability), ratio(module.abstractness), ratio(module.distance)])), '</body></html>\n')
  return parts.join('\n')
}

function comparisonPart({ opened, closed, freed, tied, come, gone }: Comparison): string {
  const items = [
    ...opened.map(cycle => `<li><span class="bad">opened</span> a cycle of ${cycle.level}: ${escaped(cycle.members.join(', '))}</li>`), ...closed.map(cycle => `<li><span class="good">closed</span> the cycle of ${cycle.level}: ${escaped(cycle.members.join(', '))}</li>`),
    ...tied.map(one => `<li><span class="bad">tied</span> ${escaped(one.type)} (${one.before ?? 'new'} → ${one.after})</li>`), ...freed.map(one => `<li><span class="good">freed</span> ${escaped(one.type)} (${one.before} → ${one.after})</li>`),
    ...come.map(one => `<li>added ${escaped(`${one.from} → ${one.to}`)}${one.places[0] ? ` <code>${escaped(one.places[0].file)}:${one.places[0].line}</code>` : ''}</li>`), ...gone.map(one => `<li>gone ${escaped(`${one.from} → ${one.to}`)}</li>`)
  ]
  return items.length === 0 ? '<p>Nothing is different.</p>' : `<ul>${items.join('\n')}</ul>`
}
