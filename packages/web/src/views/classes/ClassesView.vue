<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { TypeRow } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import TakeAlong from '../../components/TakeAlong.vue'
import VerdictGlyph from '../../components/VerdictGlyph.vue'
import { counted, KIND_WORDS, VERDICT_WORDS } from '../../labels'
import { useProjectStore } from '../../stores/project'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const id = Number(route.params.project)
const types = useLoaded(() => store.version, () => (store.project?.surveyId ? api.types(id) : null))
const changing = useLoaded(() => store.version, () => (store.project?.surveyId ? api.changing(id) : null))
/** Commits that changed the file of a type; null where there is no log of them. */
const changes = computed(() => changing.data.value && new Map(changing.data.value.files.flatMap(file => file.types.map(type => [type, file.changes] as const))))
const changesOf = (row: TypeRow) => changes.value?.get(row.id) ?? 0
const filter = ref('')
const most = ref(200)
const module = computed(() => (typeof route.query.module === 'string' ? route.query.module : null))
const sort = computed(() => String(route.query.sort ?? 'welded') as keyof TypeRow | 'changes')
const valueOf = (row: TypeRow) => (sort.value === 'changes' ? changesOf(row) : Number(row[sort.value]))
const verdict = computed(() => (typeof route.query.verdict === 'string' ? route.query.verdict : null))
const withTests = ref(false)
const columns: { key: keyof TypeRow; label: string; help: string }[] = [
  { key: 'welded', label: 'welded', help: 'Collaborators that nothing outside can replace' }, { key: 'bolted', label: 'bolted', help: 'Handed in, but as concrete classes' },
  { key: 'plugged', label: 'plugged', help: 'Handed in as abstractions' }, { key: 'fanIn', label: 'used by', help: 'Types that use it' },
  { key: 'fanOut', label: 'uses', help: 'Types that it uses' }, { key: 'lines', label: 'lines', help: 'Lines of its declaration' }
]
const rows = computed(() => (types.data.value ?? []).filter(row => (withTests.value || !row.test) && (verdict.value === null || row.verdict === verdict.value) &&
  (module.value === null || row.module === module.value || row.module.startsWith(`${module.value}/`)) && row.id.toLowerCase().includes(filter.value.toLowerCase()))
  .sort((a, b) => (sort.value === 'name' ? (a.name < b.name ? -1 : 1) : valueOf(b) - valueOf(a) || b.fanIn - a.fanIn || (a.id < b.id ? -1 : 1))))
const welds = computed(() => rows.value.reduce((sum, row) => sum + row.welded, 0))
</script>

<template>
  <div class="page">
    <p v-if="types.error.value && !store.job" class="bad">{{ types.error.value }}</p>
    <h1 v-if="types.data.value"><strong>{{ counted(rows.length, 'type') }}</strong><template v-if="module"> in <span class="mono">{{ module }}</span> (<RouterLink :to="{ query: {} }">all</RouterLink>)</template><template v-if="verdict"> that can be tested thus: {{ VERDICT_WORDS[verdict] }} (<RouterLink :to="{ query: {} }">all</RouterLink>)</template> with <span class="bad">{{ counted(welds, 'welded joint') }}</span>: places where nothing outside can put another object.</h1>
    <section class="sheet list">
      <header><el-input v-model="filter" placeholder="Part of a name or path" aria-label="Filter" clearable class="filter" /><el-checkbox v-model="withTests" label="with test code" /><TakeAlong :project="id" :files="[{ what: 'types.csv', label: 'CSV' }, { what: 'dependencies.csv', label: 'dependencies as CSV' }]" /></header>
      <table class="plain">
        <thead><tr><th><button @click="router.replace({ query: { ...route.query, sort: 'name' } })">type{{ sort === 'name' ? ' ▴' : '' }}</button></th><th>kind</th><th>tested</th><th v-for="column in columns" :key="column.key" class="figure"><button :title="column.help" @click="router.replace({ query: { ...route.query, sort: column.key } })">{{ column.label }}{{ sort === column.key ? ' ▾' : '' }}</button></th><th v-if="changes" class="figure"><button title="Commits that changed its file" @click="router.replace({ query: { ...route.query, sort: 'changes' } })">changed{{ sort === 'changes' ? ' ▾' : '' }}</button></th></tr></thead>
        <tbody>
          <tr v-for="row in rows.slice(0, most)" :key="row.id">
            <td><RouterLink class="mono" :to="{ name: 'class', params: { project: id }, query: { type: row.id } }">{{ row.name }}</RouterLink> <span class="soft">{{ row.file }}:{{ row.line }}</span></td>
            <td class="soft">{{ KIND_WORDS[row.kind] ?? row.kind }}</td><td><VerdictGlyph v-if="row.verdict" :verdict="row.verdict" /></td>
            <td class="figure" :class="{ bad: row.welded > 0 }">{{ row.welded }}</td><td class="figure">{{ row.bolted }}</td><td class="figure">{{ row.plugged }}</td>
            <td class="figure">{{ row.fanIn }}</td><td class="figure">{{ row.fanOut }}</td><td class="figure">{{ row.lines }}</td><td v-if="changes" class="figure">{{ changesOf(row) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length > most" class="empty"><el-button @click="most += 500">Show more of {{ rows.length }}</el-button></p>
      <p v-if="types.data.value && rows.length === 0" class="empty">No type fits.</p>
    </section>
  </div>
</template>

<style scoped>
.list { margin-top: 12px; max-height: calc(100vh - 140px); overflow: auto; }
.filter { width: 320px; }
header { position: static; }
</style>
