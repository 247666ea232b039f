<script setup lang="ts">
import { computed } from 'vue'
import { api } from '../api/client'
import { counted } from '../labels'
import { useProjectStore } from '../stores/project'

const store = useProjectStore()
const phases: Record<string, string> = { finding: 'Looking for sources', parsing: 'Parsing', reading: 'Reading and binding names' }
const percent = computed(() => (store.job && store.job.total > 0 ? Math.round((100 * store.job.done) / store.job.total) : 0))
const cancel = () => { if (store.job) void api.cancelJob(store.job.id) }
</script>

<template>
  <div v-for="notice in store.project?.notices ?? []" :key="notice.message" class="notice" :role="notice.kind === 'blocked' ? 'alert' : 'status'">
    <span :class="notice.kind === 'blocked' ? 'bad' : 'heed'">{{ notice.message }}</span>
  </div>
  <div v-if="store.error" class="notice bad" role="alert">{{ store.error }} <RouterLink to="/">All projects</RouterLink></div>
  <div v-else-if="store.job && store.job.kind === 'survey'" class="notice" role="status">
    <span>{{ phases[store.job.phase] ?? 'Surveying' }}{{ store.job.total > 0 ? ` ${store.job.done} of ${counted(store.job.total, 'file')}` : '' }}…</span>
    <el-progress :percentage="percent" :show-text="false" class="bar" />
    <el-button size="small" @click="cancel">Cancel</el-button>
  </div>
  <div v-else-if="store.project?.state === 'failed'" class="notice" role="alert">
    <span class="bad">{{ store.project.error ?? 'The last survey failed.' }}</span>
    <el-button size="small" @click="store.survey()">Survey again</el-button>
  </div>
  <div v-else-if="store.changedFiles.length > 0" class="notice" role="status">
    <span class="heed">{{ counted(store.changedFiles.length, 'file') }} changed since this survey</span>
    <span class="soft">({{ store.changedFiles.slice(0, 2).join(', ') }}{{ store.changedFiles.length > 2 ? ', …' : '' }})</span>
    <el-button size="small" type="primary" @click="store.survey()">Renew the survey</el-button>
  </div>
</template>

<style scoped>
.notice { display: flex; align-items: center; gap: 14px; padding: 7px 22px; background: var(--sheet); border-bottom: 1px solid var(--rule); }
.bar { width: 260px; }
</style>
