import type { FindingRow } from '@hollowmoor/contract/views'
import { BUILT_REMEDIES } from './labels.js'

/** Where a finding's subject is looked at; null for externals, which have no page. */
export function subjectLink(project: number, finding: FindingRow) {
  switch (finding.about) {
    case 'type': return { name: 'class', params: { project }, query: { type: finding.subject } }
    case 'cycle': return { name: 'cycles', params: { project }, query: { cycle: finding.subject } }
    case 'module': return { name: 'land', params: { project }, query: { module: finding.subject } }
    default: return null
  }
}

/** What it frees, in words. */
export function freedText({ frees }: FindingRow): string {
  const part = (count: number, one: string, many: string) => (count === 0 ? [] : [`${count} ${count === 1 ? one : many}`])
  const parts = [...part(frees.modules, 'module', 'modules'), ...part(frees.types, 'type', 'types'), ...part(frees.clients, 'client', 'clients')]
  return parts.length === 0 ? '' : `frees ${parts.join(', ')}`
}

/** Remedies that are done to a type as a whole. */
const OF_A_TYPE: ReadonlySet<string> = new Set(['extract-interface', 'split-interface', 'make-static-replaceable', 'shared-interface', 'group-arguments', 'extract-class', 'compose-object-graph', 'introduce-facade', 'builder-for-tests', 'extract-plain-class', 'replace-type-switch'])

/** Where a remedy that fits a finding is begun: its change where that can be told, else what the finding is about. Null for one that is done by hand. */
export function remedyLink(project: number, finding: FindingRow, remedy: string) {
  if (!BUILT_REMEDIES.has(remedy)) return null
  if (remedy === 'move-member') return { name: 'new-change', params: { project }, query: { step: `move-member:${finding.subject}:${finding.detail}`, about: finding.subject } }
  // What a class builds itself gets an interface, and is handed in, on the page of the class: beside each.
  if (finding.about !== 'type' || !OF_A_TYPE.has(remedy) || finding.kind === 'welded-to-the-outside') return subjectLink(project, finding)
  // A class that cannot do what its abstraction asks for is helped by dividing that.
  const type = finding.kind === 'refused-member' ? finding.id.slice(`refused-member:${finding.subject}:`.length) : finding.subject
  const isAboutPart = (remedy === 'replace-type-switch' || (remedy === 'extract-class' && finding.kind === 'several-responsibilities')) && finding.detail !== ''
  return { name: 'new-change', params: { project }, query: { step: `${remedy}:${type}${isAboutPart ? `:${finding.detail}` : ''}`, about: type } }
}
