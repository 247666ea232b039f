<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ModuleRow } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import { counted } from '../../labels'
import { useProjectStore } from '../../stores/project'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const id = Number(route.params.project)
const land = useLoaded(() => store.version, () => (store.project?.surveyId ? api.land(id) : null))
const columns: { key: keyof ModuleRow; label: string; help: string }[] = [
  { key: 'types', label: 'types', help: 'Types in its own files' }, { key: 'lines', label: 'lines', help: 'Lines of its own files' },
  { key: 'ca', label: 'Ca', help: 'Types outside that depend on types inside' }, { key: 'ce', label: 'Ce', help: 'Types inside that depend on types outside' },
  { key: 'instability', label: 'I', help: 'Instability: Ce / (Ca + Ce)' }, { key: 'abstractness', label: 'A', help: 'Abstractness: interfaces and abstract classes among all types' },
  { key: 'distance', label: 'D', help: 'Distance from the main sequence: |A + I - 1|' }
]
const sort = computed(() => String(route.query.sort ?? 'id') as keyof ModuleRow)
const down = computed(() => route.query.down !== undefined)
const rows = computed(() => [...(land.data.value?.modules ?? [])].filter(row => row.types > 0).sort((a, b) => {
  const x = a[sort.value], y = b[sort.value]
  const order = typeof x === 'number' && typeof y === 'number' ? x - y : x === null ? -1 : y === null ? 1 : String(x) < String(y) ? -1 : 1
  return down.value ? -order : order
}))
const sortBy = (key: string) => router.replace({ query: { sort: key, ...(sort.value === key && down.value ? {} : key === 'id' && sort.value !== 'id' ? {} : sort.value === key ? { down: '' } : { down: '' }) } })
const ratio = (value: number | null) => (value === null ? '–' : value.toFixed(2))
</script>

<template>
  <div class="page">
    <h1><strong>{{ counted(rows.length, 'module') }}</strong> with code of their own. <RouterLink :to="{ name: 'land', params: { project: id } }">Back to the map</RouterLink></h1>
    <section class="sheet list">
      <table class="plain">
        <thead><tr><th><button @click="sortBy('id')">module</button></th><th v-for="column in columns" :key="column.key" class="figure"><button :title="column.help" @click="sortBy(column.key)">{{ column.label }}{{ sort === column.key ? (down ? ' ▾' : ' ▴') : '' }}</button></th></tr></thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <td class="mono"><RouterLink :to="{ name: 'classes', params: { project: id }, query: { module: row.id } }">{{ row.id }}</RouterLink></td>
            <td class="figure">{{ row.types }}</td><td class="figure">{{ row.lines }}</td><td class="figure">{{ row.ca }}</td><td class="figure">{{ row.ce }}</td>
            <td class="figure">{{ ratio(row.instability) }}</td><td class="figure">{{ ratio(row.abstractness) }}</td><td class="figure">{{ ratio(row.distance) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.list { margin-top: 12px; max-height: calc(100vh - 140px); overflow: auto; }
</style>
