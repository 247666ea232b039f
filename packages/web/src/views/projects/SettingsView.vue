<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { SettingsInput } from '@hollowmoor/contract/settings'
import { api } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import { usePreferences } from '../../composables/usePreferences'
import { counted } from '../../labels'
import { useProjectStore } from '../../stores/project'

const route = useRoute()
const store = useProjectStore()
const { editorLink } = usePreferences()
const id = Number(route.params.project)
const exclude = ref('')
const tests = ref('')
const moduleRoots = ref('')
const effects = ref('')
const kind = ref<'application' | 'library'>('application')
const useGitignore = ref(true)
const saved = ref('')
const error = ref<string | null>(null)
const land = useLoaded(() => store.version, () => (store.project?.surveyId ? api.land(id) : null))

watch(() => store.project?.settings, settings => {
  if (!settings) return
  exclude.value = settings.exclude.join('\n')
  tests.value = settings.tests.join('\n')
  moduleRoots.value = settings.moduleRoots.join('\n')
  useGitignore.value = settings.useGitignore
  kind.value = settings.kind
  effects.value = settings.effects.map(one => `${one.match} ${one.effect}${one.when ? ` ${one.when}` : ''}`).join('\n')
}, { immediate: true })

/** `signal-kit network`, `sluice-display#DisplayView framework extended`: one entry a line. */
function entries(text: string) {
  return lines(text).map(line => {
    const [match, effect, when] = line.split(/\s+/)
    if (!match || !effect || (when !== undefined && when !== 'used' && when !== 'extended')) throw new Error(`"${line}" is no entry: write what is matched, its effect, and if need be "used" or "extended".`)
    return { match, effect, ...(when ? { when } : {}) } as NonNullable<SettingsInput['effects']>[number]
  })
}
const lines = (text: string) => text.split('\n').map(line => line.trim()).filter(line => line !== '')
async function save(): Promise<void> {
  try {
    await api.updateProject(id, { settings: { exclude: lines(exclude.value), tests: lines(tests.value), moduleRoots: lines(moduleRoots.value), useGitignore: useGitignore.value, effects: entries(effects.value), kind: kind.value } })
    error.value = null
    saved.value = 'Saved; surveying again.'
    await store.survey()
  } catch (failure) { error.value = (failure as Error).message }
}
</script>

<template>
  <div class="page">
    <h1>How <strong>{{ store.project?.name }}</strong> is read</h1>
    <form class="columns" @submit.prevent="save">
      <section class="sheet block">
        <label for="exclude"><strong>Left out</strong>, one glob a line, from the project's root</label>
        <el-input id="exclude" v-model="exclude" type="textarea" :rows="10" class="mono" />
        <el-checkbox v-model="useGitignore" label="Leave out what .gitignore leaves out too" />
        <details v-if="land.data.value"><summary>{{ counted(land.data.value.excluded.length, 'folder') }} left out now</summary><p class="mono">{{ land.data.value.excluded.join('  ') || 'none' }}</p></details>
      </section>
      <section class="sheet block">
        <label for="tests"><strong>Test code</strong>, one glob a line; it takes no part in the figures of product code</label>
        <el-input id="tests" v-model="tests" type="textarea" :rows="5" class="mono" />
        <label for="roots"><strong>Modules</strong>: each folder is one, nested. Folders named here are one each instead, with all they hold</label>
        <el-input id="roots" v-model="moduleRoots" type="textarea" :rows="3" class="mono" placeholder="packages/core" />
        <label for="effects"><strong>What touches the outside</strong>: code from elsewhere and its effect, one a line, such as <span class="mono">signal-kit network</span> or <span class="mono">odd-kit pure</span></label>
        <el-input id="effects" v-model="effects" type="textarea" :rows="3" class="mono" placeholder="display-kit#View framework extended" />
        <label for="kind"><strong>It is</strong> <select id="kind" v-model="kind"><option value="application">an application</option><option value="library">a library that others build on</option></select></label>
        <label for="editor"><strong>Your editor</strong>: the form of links to a line, with {path}, {line} and {column}</label>
        <el-input id="editor" v-model="editorLink" class="mono" />
      </section>
    </form>
    <p><el-button type="primary" @click="save">Save and survey again</el-button> <span class="good">{{ saved }}</span> <span v-if="error" class="bad">{{ error }}</span></p>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: 1fr 1fr; gap: 14px; margin-top: 14px; }
.block { padding: 14px; display: flex; flex-direction: column; gap: 8px; }
@media (max-width: 1000px) { .columns { grid-template-columns: 1fr; } }
</style>
