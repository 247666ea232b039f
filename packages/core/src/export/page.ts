import { findingsOf } from '../find/findings.js'
import { countVerdicts } from '../measure/verdict.js'
import type { Survey } from '../survey.js'
import { htmlPage, htmlTable as table } from './html.js'
import { escaped } from './xml.js'


/** Findings that a page to hand round tells; all of them are in the table of findings. */
const SHOWN = 200

/** A survey as one page to hand round. */
export function surveyPage(survey: Survey, title: string, at: string): string {
  const { model } = survey
  const verdicts = countVerdicts(survey.verdicts), findings = findingsOf(survey)
  const parts = [
    `<p class="soft">Surveyed ${escaped(at)}.</p>`,
    `<p>${model.types.filter(type => !type.test).length} types in ${survey.modules.filter(module => module.types > 0).length} modules. ${survey.moduleCycles.length === 0 ? '<span class="good">No module depends on itself in a circle.</span>' : `<span class="bad">${survey.moduleCycles.length} module cycles</span> hold ${survey.moduleCycles.reduce((sum, cycle) => sum + cycle.members.length, 0)} modules; ${survey.moduleCycles.reduce((sum, cycle) => sum + cycle.cut.references, 0)} references are enough to break them.`} ` +
      `Of the types with logic ${verdicts.alone} can be tested alone, ${verdicts['with-real-classes']} with real classes; ${verdicts['needs-outside']} need the outside, ${verdicts['not-known']} are not known.${model.unresolved.length > 0 ? ` ${model.unresolved.length} names were not understood.` : ''}</p>`
  ]
  parts.push(`<h2>${findings.length} places worth changing, most freed for least first</h2>`, table([['what', false], ['in words', false], ['where', false], ['references', true]], findings.slice(0, SHOWN).map(({ kind, sentence, evidence: [first], cost }) => [kind.replaceAll('-', ' '), sentence, first ? `${model.files[first.file]!.path}:${first.line}` : '', cost.references])))
  for (const [name, cycles] of [['Cycles of modules', survey.moduleCycles], ['Cycles of files', survey.fileCycles], ['Cycles of types', survey.typeCycles]] as const) {
    if (cycles.length > 0) parts.push(`<h2>${name}</h2>`, table([['members', false], ['references to change', true], ['cut', false]], cycles.slice(0, SHOWN).map(cycle => [cycle.members.slice(0, 30).join(', ') + (cycle.members.length > 30 ? ` and ${cycle.members.length - 30} more` : ''), cycle.cut.references, cycle.cut.dependencies.slice(0, 10).map(one => `${one.from} → ${one.to}`).join(', ')])))
  }
  const ratio = (value: number | null) => (value === null ? '–' : value.toFixed(2))
  parts.push('<h2>Modules</h2>', table([['module', false], ['types', true], ['lines', true], ['Ca', true], ['Ce', true], ['I', true], ['A', true], ['D', true]], survey.modules.filter(module => module.types > 0).map(module => [module.id, module.types, module.lines, module.ca, module.ce, ratio(module.instability), ratio(module.abstractness), ratio(module.distance)])))
  return htmlPage(title, parts)
}
