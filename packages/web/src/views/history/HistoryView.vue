<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, followJob } from '../../api/client'
import ComparisonPanel from '../../components/ComparisonPanel.vue'
import TakeAlong from '../../components/TakeAlong.vue'
import { useLoaded } from '../../composables/useLoaded'
import { counted } from '../../labels'
import { useProjectStore } from '../../stores/project'
import HistoryChart from './HistoryChart.vue'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const id = Number(route.params.project)
const history = useLoaded(() => store.version, () => (store.project?.surveyId ? api.history(id) : null))
const git = useLoaded(() => store.version, () => api.git(id))
const rows = computed(() => history.data.value ?? [])
const number = (name: string) => (typeof route.query[name] === 'string' && rows.value.some(row => row.id === Number(route.query[name])) ? Number(route.query[name]) : null)
const after = computed(() => number('after') ?? rows.value.at(-1)?.id ?? null)
const before = computed(() => number('before') ?? rows.value.at(-2)?.id ?? null)
const comparison = useLoaded([() => store.version, before, after], () => (before.value === null || after.value === null || before.value === after.value ? null : api.compare(id, before.value, after.value)))
const set = (query: Record<string, string>) => router.replace({ query: { ...route.query, ...query } })
/** The earlier of two is compared with the later. */
function choose(one: number): void {
  const position = (wanted: number | null) => rows.value.findIndex(row => row.id === wanted)
  if (position(one) < position(after.value)) void set({ before: String(one) })
  else void set({ before: String(after.value), after: String(one) })
}
const changing = useLoaded(() => store.version, () => (store.project?.surveyId ? api.changing(id) : null))
const classLink = (path: string) => { const type = changing.data.value?.files.find(one => one.path === path)?.types[0]; return type ? { name: 'class', params: { project: id }, query: { type } } : null }
const commits = ref(20)
const progress = ref<{ done: number; total: number } | null>(null)
const failed = ref<string | null>(null)
async function surveyCommits(): Promise<void> {
  failed.value = null
  try {
    const job = await api.surveyCommits(id, commits.value)
    progress.value = { done: 0, total: commits.value }
    followJob(job.id, state => {
      progress.value = { done: state.done, total: state.total }
      if (state.state === 'queued' || state.state === 'running') return
      progress.value = null
      failed.value = state.error
      void history.reload()
    })
  } catch (failure) { failed.value = (failure as Error).message }
}
const when = (at: string) => at.slice(0, 16).replace('T', ' ')
const free = (row: (typeof rows.value)[number]) => row.shares.verdicts.alone + row.shares.verdicts['with-real-classes']
</script>

<template>
  <div class="page">
    <p v-if="history.error.value && !store.job" class="bad" role="alert">{{ history.error.value }}</p>
    <h1 v-if="rows.length > 0"><strong>{{ counted(rows.length, 'survey') }}</strong> kept. <template v-if="rows.length > 1">Since the first, types that can be tested without the outside went from <strong>{{ free(rows[0]!) }}</strong> to <strong>{{ free(rows.at(-1)!) }}</strong>, modules in cycles from <strong>{{ rows[0]!.shares.modulesInCycles }}</strong> to <strong>{{ rows.at(-1)!.shares.modulesInCycles }}</strong>.</template></h1>
    <div class="columns">
      <section class="sheet">
        <header><h2>Shares of the project, by survey</h2>
          <form v-if="git.data.value?.commit" class="commits" @submit.prevent="surveyCommits"><label>Survey the last <el-input-number v-model="commits" :min="1" :max="200" size="small" aria-label="Number of commits" /> commits</label> <el-button size="small" native-type="submit" :disabled="progress !== null">Survey</el-button></form></header>
        <p v-if="progress" class="told" role="status">Surveying commit {{ progress.done + 1 }} of {{ progress.total }}; the files on disk are not touched.</p>
        <p v-if="failed" class="told bad">{{ failed }}</p>
        <HistoryChart v-if="rows.length > 0" :rows="rows.slice(-60)" :before="before" :after="after" @choose="choose" />
        <div class="table"><table class="plain">
          <thead><tr><th>from</th><th>to</th><th>when</th><th>what</th><th class="figure">alone</th><th class="figure">real</th><th class="figure">outside</th><th class="figure">welded</th><th class="figure">in cycles</th></tr></thead>
          <tbody><tr v-for="row in [...rows].reverse()" :key="row.id">
            <td><input type="radio" name="before" :checked="row.id === before" :aria-label="`Compare from ${when(row.at)}`" @change="set({ before: String(row.id) })"></td><td><input type="radio" name="after" :checked="row.id === after" :aria-label="`Compare to ${when(row.at)}`" @change="set({ after: String(row.id) })"></td>
            <td class="when">{{ when(row.at) }}</td><td class="what"><template v-if="row.kind === 'commit'"><span class="mono">{{ row.commit?.slice(0, 8) }}</span>&ensp;</template>{{ row.subject || 'survey' }}</td>
            <td class="figure">{{ row.shares.verdicts.alone }}</td><td class="figure">{{ row.shares.verdicts['with-real-classes'] }}</td><td class="figure">{{ row.shares.verdicts['needs-outside'] }}</td><td class="figure">{{ row.shares.welded }}</td><td class="figure">{{ row.shares.modulesInCycles }}</td>
          </tr></tbody>
        </table></div>
      </section>
      <section class="sheet right"><header><h2>What is different between the two</h2><TakeAlong v-if="comparison.data.value" :project="id" :files="[{ what: `comparison.html?before=${before}&after=${after}`, label: 'page to hand round' }]" /></header>
        <ComparisonPanel v-if="comparison.data.value" :comparison="comparison.data.value" :root="store.project?.path ?? ''" :project="id" />
        <p v-else class="empty">{{ rows.length < 2 ? 'One survey so far: survey again after a change, or survey earlier commits.' : 'Choose two surveys.' }}</p>
      </section>
      <section v-if="changing.data.value" class="sheet together">
        <header><h2>Change together, though neither depends on the other ({{ counted(changing.data.value.commits, 'commit') }})</h2></header>
        <p v-if="changing.data.value.together.length === 0" class="empty">No two files without a dependency were changed by the same commits three times or more.</p>
        <table v-else class="plain">
          <thead><tr><th>file</th><th>and</th><th class="figure">commits of both</th><th class="figure">of the rarer</th></tr></thead>
          <tbody><tr v-for="one in changing.data.value.together.slice(0, 100)" :key="one.a + one.b">
            <td v-for="path in [one.a, one.b]" :key="path" class="what"><RouterLink v-if="classLink(path)" :to="classLink(path)!" class="mono">{{ path }}</RouterLink><span v-else class="mono">{{ path }}</span></td>
            <td class="figure">{{ one.together }}</td><td class="figure">{{ one.of }}</td>
          </tr></tbody>
        </table>
      </section>
    </div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr); gap: 14px; margin-top: 12px; align-items: start; }
.commits { display: flex; gap: 8px; align-items: center; } .told { padding: 4px 14px; margin: 0; }
.together { grid-column: 1 / -1; max-height: 44vh; overflow: auto; }
.table { max-height: 38vh; overflow: auto; } .when { white-space: nowrap; } .what { overflow-wrap: anywhere; }
@media (max-width: 1080px) { .columns { grid-template-columns: 1fr; } }
</style>
