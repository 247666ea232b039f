<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ChangeView, JobView, ProjectView } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import { counted } from '../../labels'
import type { TypedCommands } from './CommandsForm.vue'
import CommandsForm from './CommandsForm.vue'

const props = defineProps<{ change: ChangeView; project: ProjectView; job: JobView | null; output: string }>()
const emit = defineEmits<{ (e: 'started'): void; (e: 'confirmed'): void }>()
const commands = ref<TypedCommands>({ compile: '', test: '', seconds: 120 })
const error = ref<string | null>(null)
const running = computed(() => props.job?.kind === 'trial')
/** So many changed files of dependencies are named; the rest is counted. */
const MOST_LISTED = 8
const changedDependencies = computed(() => props.change.trial?.changedDependencies ?? [])

async function start(): Promise<void> {
  error.value = null
  try {
    await api.updateProject(props.project.id, { commands: { ...commands.value, confirmed: true } })
    emit('confirmed')
    await api.tryOnCopy(props.change.id)
    emit('started')
  } catch (failure) { error.value = (failure as Error).message }
}
const cancel = () => { if (props.job) void api.cancelJob(props.job.id) }
const state = (one: { status: number | null; ended: string | null } | null) => (one === null ? 'not run' : one.ended ? `ended: ${one.ended}` : one.status === 0 ? 'passes' : `fails (${one.status})`)
</script>

<template>
  <section class="sheet">
    <header><h2>Try on a copy: your own commands, before and after</h2></header>
    <div class="inside">
      <template v-if="running">
        <p role="status">{{ job?.phase || 'Copying' }}… <el-button size="small" @click="cancel">Cancel</el-button></p>
        <pre class="output">{{ output.slice(-6000) }}</pre>
      </template>
      <template v-else>
        <template v-if="change.trial">
          <p><strong :class="change.trial.good ? 'good' : 'bad'">{{ change.trial.verdict }}</strong></p>
          <table class="plain">
            <thead><tr><th /><th>before</th><th>after</th></tr></thead>
            <tbody>
              <tr><td>compile</td><td>{{ state(change.trial.before.compile) }}</td><td>{{ state(change.trial.after.compile) }}</td></tr>
              <tr><td>tests</td><td>{{ change.trial.before.passed }} pass, {{ change.trial.before.failed }} fail</td><td>{{ change.trial.after.passed }} pass, {{ change.trial.after.failed }} fail</td></tr>
              <tr v-for="(names, word) in { 'broken by this': change.trial.broken, 'failed already': change.trial.failedAlready, 'mended by this': change.trial.mended, 'not run any more': change.trial.gone }" v-show="names.length > 0" :key="word"><td>{{ word }}</td><td colspan="2">{{ names.join('; ') }}</td></tr>
              <tr v-if="change.trial.lines"><td>changed lines</td><td colspan="2">{{ change.trial.lines.run }} of {{ change.trial.lines.changed }} ran<template v-if="change.trial.lines.testFiles.length > 0">, in {{ change.trial.lines.testFiles.join(', ') }}</template></td></tr>
            </tbody>
          </table>
          <p v-if="changedDependencies.length > 0" class="bad" role="alert">
            Your commands changed {{ counted(changedDependencies.length, 'file') }} of your installed dependencies, which a copy shares with your project here:
            {{ changedDependencies.slice(0, MOST_LISTED).join(', ') }}<template v-if="changedDependencies.length > MOST_LISTED"> and {{ changedDependencies.length - MOST_LISTED }} more</template>.
            Install them again if that was not meant.
          </p>
          <details><summary>What the commands printed</summary><pre class="output">{{ change.trial.after.compile?.output }}{{ change.trial.after.test?.output }}</pre></details>
        </template>
        <form v-if="change.state === 'planned'" @submit.prevent="start">
          <CommandsForm v-model="commands" :project="project" />
          <el-button type="primary" native-type="submit">{{ change.trial ? 'Try again' : 'Confirm and try on a copy' }}</el-button>
        </form>
        <p v-if="error" class="bad" role="alert">{{ error }}</p>
        <p v-if="!change.trial && change.state === 'planned'" class="soft">They run in a copy with your dependencies linked, {{ counted(2, 'time') }} each. They are proposed from your build files; change them as you like.</p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.inside { padding: 10px 14px; }
.inside p { margin: 4px 0; }
form { display: grid; gap: 7px; margin-top: 8px; }
.output { background: var(--code); padding: 8px; max-height: 260px; overflow: auto; font-size: 13px; white-space: pre-wrap; overflow-wrap: anywhere; }
</style>
