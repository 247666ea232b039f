<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, followJob } from '../../api/client'
import ComparisonPanel from '../../components/ComparisonPanel.vue'
import { useLoaded } from '../../composables/useLoaded'
import { useProjectStore } from '../../stores/project'

const props = defineProps<{ project: number }>()
const store = useProjectStore()
const branch = useLoaded(() => store.version, () => (store.project?.surveyId ? api.branch(props.project) : null))
const open = ref(false)
const view = computed(() => branch.data.value)
watch(() => view.value?.job, job => { if (job) followJob(job, state => { if (state.state !== 'queued' && state.state !== 'running') void branch.reload() }) })
const count = computed(() => { const one = view.value?.comparison; return one ? { come: one.come.length, opened: one.opened.length, freed: one.freed.length, tied: one.tied.length } : null })
</script>

<template>
  <section v-if="view" class="branch">
    <span v-if="count === null" class="soft">Surveying {{ view.base }} where this branch left it, to compare…</span>
    <template v-else>
      Against <strong>{{ view.base }}</strong> this branch adds <a href="#" @click.prevent="open = !open">{{ count.come }} {{ count.come === 1 ? 'dependency' : 'dependencies' }}</a>, opens <span :class="{ bad: count.opened > 0 }">{{ count.opened }}</span> {{ count.opened === 1 ? 'cycle' : 'cycles' }}, frees <span :class="{ good: count.freed > 0 }">{{ count.freed }}</span> and ties <span :class="{ bad: count.tied > 0 }">{{ count.tied }}</span> {{ count.tied === 1 ? 'type' : 'types' }}.
    </template>
    <div v-if="open && view.comparison" class="sheet"><ComparisonPanel :comparison="view.comparison" :root="store.project?.path ?? ''" :project="props.project" /></div>
  </section>
</template>

<style scoped>
.branch { margin-top: 6px; font-size: 16px; } .sheet { margin-top: 8px; max-height: 46vh; overflow: auto; font-size: 15px; }
</style>
