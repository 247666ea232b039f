<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../../api/client'
import TakeAlong from '../../components/TakeAlong.vue'
import { useLoaded } from '../../composables/useLoaded'
import { counted } from '../../labels'
import { useProjectStore } from '../../stores/project'

const route = useRoute()
const store = useProjectStore()
const id = Number(route.params.project)
const list = useLoaded(() => store.version, () => api.changes(id))
const written = computed(() => list.data.value?.filter(one => one.state === 'written').length ?? 0)
const words: Record<string, string> = { planning: 'being planned', refused: 'refused', planned: 'planned', written: 'written to your files', undone: 'undone' }
</script>

<template>
  <div class="page">
    <h1><strong>{{ counted(list.data.value?.length ?? 0, 'change') }}</strong>, {{ written }} of them in your files.</h1>
    <section class="sheet list">
      <header v-if="list.data.value?.length"><span /><TakeAlong :project="id" :files="[{ what: 'changes.csv', label: 'CSV' }]" /></header>
      <p v-if="list.data.value?.length === 0" class="empty">None yet. Open a <RouterLink :to="{ name: 'classes', params: { project: id } }">class</RouterLink> and choose a remedy.</p>
      <table v-else class="plain"><tbody>
        <tr v-for="one in list.data.value" :key="one.id">
          <td><RouterLink :to="{ name: 'change', params: { project: id, change: one.id } }">{{ one.title }}</RouterLink></td>
          <td :class="{ good: one.state === 'written', bad: one.state === 'refused' }">{{ words[one.state] }}</td><td class="soft">{{ one.refusal ?? one.trial?.verdict ?? '' }}</td>
        </tr>
      </tbody></table>
    </section>
  </div>
</template>

<style scoped>
.list { margin-top: 12px; }
</style>
