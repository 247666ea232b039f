<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import { usePreferences } from '../../composables/usePreferences'
import { useRearrangement } from '../../composables/useRearrangement'
import { freedText, subjectLink } from '../../finding-links'
import { counted, FINDING_WORDS, labelOf } from '../../labels'
import { useProjectStore } from '../../stores/project'
import BranchPanel from './BranchPanel.vue'
import TakeAlong from '../../components/TakeAlong.vue'
import { drawingText, saveText } from '../../save-drawing'
import { rearrangedGraph } from '../../rearranged-graph'
import WatershedDrawing from './WatershedDrawing.vue'
import WhatIfPanel from './WhatIfPanel.vue'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const { editorHref } = usePreferences()
const id = Number(route.params.project)
const land = useLoaded(() => store.version, () => (store.project?.surveyId ? api.land(id) : null))
const within = computed(() => String(route.query.within ?? land.data.value?.start ?? '.'))
const asItIs = computed(() => land.data.value?.graphs.find(one => one.within === within.value) ?? land.data.value?.graphs[0])
/** The what-if is part of the address, so that it can be left with the back key. */
const supposing = computed(() => route.query.suppose === '1')
const fabric = useLoaded([() => store.version, supposing], () => (supposing.value && store.project?.surveyId ? api.fabric(id) : null))
const supposed = useRearrangement(fabric.data)
const graph = computed(() => {
  const base = asItIs.value, after = supposed.after.value
  return base && fabric.data.value && after && supposing.value && supposed.isChanged.value ? rearrangedGraph(base, fabric.data.value, after) : base
})
function cut(from: string, to: string): void {
  if (supposing.value && graph.value) supposed.toggle({ within: graph.value.within, from, to })
  else void router.push({ name: 'cycles', params: { project: id }, query: { level: 'modules', from, to } })
}
const summary = computed(() => land.data.value?.summary)
const selected = computed(() => (typeof route.query.module === 'string' ? route.query.module : null))
const showing = ref<'unresolved' | 'problems' | null>(null)
const measures = computed(() => new Map(land.data.value?.modules.map(row => [row.id, row])))
const chosen = computed(() => {
  const node = graph.value?.nodes.find(one => one.id === selected.value)
  return node ? { node, row: measures.value.get(node.id) } : null
})
const trail = computed(() => {
  const parts: string[] = []
  for (let at = within.value; at !== '.'; at = at.includes('/') ? at.slice(0, at.lastIndexOf('/')) : '.') parts.unshift(at)
  return ['.', ...parts]
})
const set = (query: Record<string, string | undefined>) => router.push({ query: { ...route.query, ...query } })
const open = (module: string) => set({ within: module, module: undefined })
const tested = computed(() => { const one = summary.value?.verdicts; return one ? one.alone + one['with-real-classes'] + one['needs-outside'] + one['not-known'] : 0 })
const shareOf = (count: number) => `${Math.round((100 * count) / Math.max(1, tested.value))} %`
function saveMap(): void {
  const svg = document.querySelector<SVGSVGElement>('svg.watershed')
  if (svg) saveText(`${store.project?.name ?? 'map'}.svg`, 'image/svg+xml', drawingText(svg))
}
const ratio = (value: number | null | undefined) => (value === null || value === undefined ? '–' : value.toFixed(2))
</script>

<template>
  <div class="page">
    <p v-if="land.error.value && !store.job" class="bad" role="alert">{{ land.error.value }}</p>
    <div v-if="!land.data.value" class="empty">{{ store.job ? 'The first results appear when reading is done.' : 'Nothing has been surveyed yet.' }} <el-button v-if="!store.job" @click="store.survey()">Survey</el-button></div>
    <template v-if="land.data.value && summary">
      <h1>
        <template v-if="summary.notInstalled.length > 0"><span class="heed">{{ counted(summary.notInstalled.length, 'dependency', 'dependencies') }} not installed</span> ({{ summary.notInstalled.slice(0, 3).join(', ') }}{{ summary.notInstalled.length > 3 ? ', …' : '' }}), so much does not resolve: install them and survey again, or go on. </template>
        <RouterLink :to="{ name: 'classes', params: { project: id } }">{{ counted(summary.types, 'type') }}</RouterLink> in
        <RouterLink :to="{ name: 'modules', params: { project: id } }">{{ counted(summary.modules, 'module') }}</RouterLink>.
        <template v-if="summary.moduleCycles > 0">
          <RouterLink class="bad" :to="{ name: 'cycles', params: { project: id } }">{{ counted(summary.moduleCycles, 'cycle') }} {{ summary.moduleCycles === 1 ? 'holds' : 'hold' }} {{ counted(summary.modulesInCycles, 'module') }} together</RouterLink>;
          <strong>{{ counted(summary.cutReferences, 'reference') }}</strong> {{ summary.cutReferences === 1 ? 'is' : 'are' }} enough to break {{ summary.moduleCycles === 1 ? 'it' : 'them' }}{{ summary.proven ? '' : ' as far as we know' }}.
        </template>
        <template v-else><span class="good">No module depends on itself in a circle.</span></template>
        <template v-if="summary.verdicts && tested > 0">&#32;Of {{ counted(tested, 'type') }} with logic, <RouterLink class="good" :to="{ name: 'classes', params: { project: id }, query: { verdict: 'alone' } }">{{ summary.verdicts.alone.toLocaleString('en') }}</RouterLink> can be tested alone and <RouterLink :class="{ bad: summary.verdicts['needs-outside'] > 0 }" :to="{ name: 'classes', params: { project: id }, query: { verdict: 'needs-outside' } }">{{ summary.verdicts['needs-outside'] }} need the outside</RouterLink> ({{ shareOf(summary.verdicts['needs-outside']) }})<template v-if="summary.verdicts['not-known'] > 0">; of <RouterLink :to="{ name: 'classes', params: { project: id }, query: { verdict: 'not-known' } }">{{ summary.verdicts['not-known'].toLocaleString('en') }}</RouterLink> it is not known</template>.</template>
        <template v-if="summary.unresolved > 0">{{ ' ' }}<a href="#not-understood" class="heed" @click.prevent="showing = showing === 'unresolved' ? null : 'unresolved'">{{ counted(summary.unresolved, 'name') }} not understood</a>.</template>
        <template v-if="summary.unreadFiles > 0">{{ ' ' }}{{ counted(summary.unreadFiles, 'file') }} of kinds that are not read.</template>
        <template v-if="summary.problems > 0">{{ ' ' }}<a href="#problems" class="heed" @click.prevent="showing = showing === 'problems' ? null : 'problems'">{{ counted(summary.problems, 'problem') }} in reading</a>.</template>
      </h1>
      <BranchPanel :project="id" />
      <section v-if="showing" class="sheet told">
        <table class="plain">
          <tbody v-if="showing === 'problems'"><tr v-for="(one, index) in land.data.value.problems" :key="index"><td><a class="mono" :href="editorHref(store.project?.path ?? '', one.file, one.line)">{{ one.file }}:{{ one.line }}</a></td><td>{{ one.message }}</td></tr></tbody>
          <tbody v-else><tr v-for="(one, index) in land.data.value.unresolved" :key="index"><td><a class="mono" :href="editorHref(store.project?.path ?? '', one.file, one.line, one.column)">{{ one.file }}:{{ one.line }}</a></td><td class="mono">{{ one.name }}</td><td>{{ one.reason }}</td></tr></tbody>
        </table>
      </section>
      <div class="columns">
        <section class="sheet map">
          <header>
            <h2>Dependency map: what depends stands left of what it depends on; what flows back lies in a pool</h2>
            <el-button size="small" :type="supposing ? 'primary' : 'default'" :aria-pressed="supposing" @click="set({ suppose: supposing ? undefined : '1' })">What if?</el-button>
            <nav v-if="trail.length > 1" aria-label="Folder"><template v-for="(part, index) in trail" :key="part"><span v-if="index > 0" class="soft"> / </span><a href="#" :class="{ soft: part === within }" @click.prevent="open(part)">{{ labelOf(part) }}</a></template></nav>
          </header>
          <WatershedDrawing v-if="graph" :graph="graph" :selected="selected" @select="module => set({ module: module ?? undefined })" @open="open" @cut="cut" />
          <footer v-if="chosen" class="chosen">
            <strong>{{ chosen.node.label }}</strong> {{ counted(chosen.node.types, 'type') }}, {{ counted(chosen.node.lines, 'line') }};
            used by {{ chosen.row?.subtree.ca ?? 0 }}, uses {{ chosen.row?.subtree.ce ?? 0 }} types outside;
            instability {{ ratio(chosen.row?.instability) }}, abstractness {{ ratio(chosen.row?.abstractness) }}, distance {{ ratio(chosen.row?.distance) }}.
            <RouterLink :to="{ name: 'classes', params: { project: id }, query: { module: chosen.node.id } }">Its classes</RouterLink>
            <a v-if="chosen.node.opens" href="#" @click.prevent="open(chosen.node.id)">Open it</a>
          </footer>
          <footer v-else class="chosen soft">Stone: a module, area by lines, ring by the types that can be tested without the outside, of those with logic. Ribbon: dependencies, wide where they start. Notched: flows back, with the references to change.<br><TakeAlong :project="id" :files="[{ what: 'survey.html', label: 'page to hand round' }, { what: 'modules.graphml', label: 'modules as GraphML' }, { what: 'types.graphml', label: 'types as GraphML' }]">, <a href="#" @click.prevent="saveMap">map as SVG</a></TakeAlong></footer>
        </section>
        <WhatIfPanel v-if="supposing && fabric.data.value && graph" :project="id" :fabric="fabric.data.value" :within="graph.within" :state="supposed" />
        <section v-else class="sheet steps">
          <header><h2>Next steps, most freed for least</h2><RouterLink v-if="(summary.findings ?? 0) > 0" :to="{ name: 'findings', params: { project: id } }">All {{ (summary.findings ?? 0).toLocaleString('en') }}</RouterLink></header>
          <p v-if="land.data.value.nextSteps.length === 0" class="empty">Nothing is found that is worth changing.</p>
          <ol>
            <li v-for="step in land.data.value.nextSteps" :key="step.id">
              <RouterLink :to="step.about === 'cycle' ? subjectLink(id, step)! : { name: 'findings', params: { project: id }, query: { finding: step.id } }" class="step">
                <span class="title">{{ FINDING_WORDS[step.kind] ?? step.kind }}</span><span class="good frees">{{ freedText(step) }}</span>
                <span class="soft">{{ step.sentence }}</span><span class="soft refs">{{ counted(step.cost.references, 'reference') }}</span>
              </RouterLink>
            </li>
          </ol>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(0, 1fr) 370px; gap: 14px; margin-top: 12px; }
.map { display: flex; flex-direction: column; min-width: 0; }
.map header { flex-wrap: nowrap; }
.chosen { padding: 8px 14px; border-top: 1px solid var(--rule); font-size: 14px; }
.chosen a { margin-left: 8px; }
.steps { max-height: calc(100vh - 150px); overflow: auto; }
ol { list-style: none; margin: 0; padding: 0; }
.step { display: grid; grid-template-columns: minmax(0, 1fr) auto; overflow-wrap: anywhere; gap: 1px 10px; padding: 9px 14px; border-bottom: 1px solid var(--rule); color: inherit; text-decoration: none; font-size: 14px; }
.step:hover { background: var(--heather-soft); }
.title { font-weight: 700; }
.frees, .refs { text-align: right; white-space: nowrap; }
.told { max-height: 240px; overflow: auto; margin-top: 10px; }
@media (max-width: 1080px) { .columns { grid-template-columns: 1fr; } .steps { max-height: none; } }
</style>
