<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { ProjectView } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import { counted } from '../../labels'

const router = useRouter()
const path = ref('')
const error = ref<string | null>(null)
const adding = ref(false)
const removing = ref<number | null>(null)
const list = useLoaded([], () => api.projects())

async function add(): Promise<void> {
  if (path.value.trim() === '') return
  adding.value = true
  error.value = null
  try {
    const project = await api.addProject(path.value.trim())
    await router.push({ name: 'land', params: { project: project.id } })
  } catch (failure) {
    error.value = (failure as Error).message
  } finally {
    adding.value = false
  }
}
async function resetDemo(project: ProjectView): Promise<void> { await api.resetDemo(project.id); await list.reload() }
async function remove(project: ProjectView): Promise<void> {
  if (removing.value !== project.id) { removing.value = project.id; return }
  await api.removeProject(project.id)
  await list.reload()
}
const when = (time: string | null) => (time === null ? 'not yet' : new Date(time).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }))
</script>

<template>
  <div class="page">
    <h1>Which code is it? <strong>Nothing leaves this machine, and reading never writes.</strong></h1>
    <section class="sheet add">
      <form @submit.prevent="add">
        <label for="path">Folder of a code base</label>
        <el-input id="path" v-model="path" placeholder="/home/you/code/project" class="path" />
        <el-button type="primary" native-type="submit" :loading="adding">Open and survey</el-button>
      </form>
      <p v-if="error" class="bad" role="alert">{{ error }}</p>
      <p class="soft">TypeScript, with or without a tsconfig, and Java, as Maven, Gradle or plain folders lay it out. What is left out, what counts as test code and where modules begin can be corrected in its settings.</p>
    </section>
    <p v-if="list.error.value" class="bad" role="alert">{{ list.error.value }}</p>
    <section class="sheet">
      <header><h2>Projects</h2></header>
      <p v-if="list.data.value?.projects.length === 0" class="empty">None yet. Type the path of a folder above.</p>
      <table v-else class="plain">
        <thead><tr><th>Project</th><th class="figure">Types</th><th class="figure">Modules</th><th>How it stands</th><th>Surveyed</th><th /></tr></thead>
        <tbody>
          <tr v-for="project in list.data.value?.projects" :key="project.id">
            <td><RouterLink :to="{ name: 'land', params: { project: project.id } }"><strong>{{ project.name }}</strong></RouterLink><br /><span class="mono soft">{{ project.path }}</span></td>
            <td class="figure">{{ project.summary?.types ?? '' }}</td>
            <td class="figure">{{ project.summary?.modules ?? '' }}</td>
            <td>
              <span v-if="project.state === 'reading'">being read…</span>
              <span v-else-if="project.state === 'failed'" class="bad">{{ project.error ?? 'the last survey failed' }}</span>
              <template v-else-if="project.summary">
                <span v-if="project.summary.moduleCycles > 0" class="bad">{{ counted(project.summary.moduleCycles, 'module cycle') }}</span><span v-else class="good">no module cycles</span>,
                {{ counted(project.summary.joints.welded, 'welded joint') }}
              </template>
            </td>
            <td>{{ when(project.surveyedAt) }}</td>
            <td class="figure">
              <el-button v-if="project.demo && list.data.value?.demo" size="small" @click="resetDemo(project)">Reset the demo</el-button>
              <el-button v-else size="small" @click="remove(project)">{{ removing === project.id ? 'Really forget it?' : 'Forget' }}</el-button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.add { margin: 14px 0; padding: 14px; }
.add p { margin: 10px 0 0; }
form { display: flex; gap: 10px; align-items: center; flex-wrap: wrap; }
.path { flex: 1; min-width: 300px; }
</style>
