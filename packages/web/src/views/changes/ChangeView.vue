<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Decisions } from '@hollowmoor/contract/api'
import type { JobView, NewBranchView } from '@hollowmoor/contract/views'
import { api, followJob } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import { counted } from '../../labels'
import { useProjectStore } from '../../stores/project'
import SideBySide from './SideBySide.vue'
import StepBatches from './StepBatches.vue'
import TestsBeside from './TestsBeside.vue'
import TrialPanel from './TrialPanel.vue'

const route = useRoute()
const store = useProjectStore()
const change = useLoaded(() => route.params.change, () => (route.params.change === undefined ? null : api.change(Number(route.params.change))))
const view = computed(() => change.data.value)
const git = useLoaded([() => store.project?.id, () => view.value?.state], () => (store.project ? api.git(store.project.id) : null))
const job = ref<JobView | null>(null)
const output = ref('')
const error = ref<string | null>(null)
const busy = ref(false)
const copied = ref(false)
let stop: (() => void) | undefined
onUnmounted(() => stop?.())

watch(() => view.value?.job, id => {
  if (id === null || id === undefined || job.value?.id === id) return
  output.value = ''
  stop?.()
  stop = followJob(id, state => {
    job.value = state
    if (state.output) output.value = (output.value + state.output).slice(-100_000)
    if (state.state !== 'queued' && state.state !== 'running') { job.value = null; if (state.error) error.value = state.error; void change.reload() }
  })
})

async function act(what: () => Promise<unknown>): Promise<void> {
  busy.value = true
  error.value = null
  try { await what(); await change.reload() } catch (failure) { error.value = (failure as Error).message } finally { busy.value = false }
}
function decide(path: string, refused: 'all' | number[] | undefined): void {
  const before = view.value?.decisions.refused ?? {}
  const after: Decisions['refused'] = Object.fromEntries(Object.entries({ ...before, [path]: refused }).filter((entry): entry is [string, 'all' | number[]] => entry[1] !== undefined))
  void act(() => api.decide(view.value!.id, { refused: after }))
}
const write = () => act(async () => { await api.write(view.value!.id); await store.open(store.project!.id) })
/** A branch to commit to, by the first step's remedy; and what came of it. */
const branch = ref(''), each = ref<'step' | 'all'>('step'), made = ref<NewBranchView | null>(null)
watch(() => view.value?.id, () => { branch.value = `hollowmoor/${(view.value?.steps[0]?.id ?? 'change').split(':')[0]}-${view.value?.id ?? ''}`; made.value = null }, { immediate: true })
const commit = () => act(async () => { made.value = await api.commit(view.value!.id, branch.value, each.value) })
/** Plans it anew on the code as it is, with the steps of these numbers in this order. */
const again = (steps: readonly number[]) => act(() => api.planAgain(view.value!.id, steps))
const all = computed(() => view.value?.steps.map((_, index) => index) ?? [])
const fitting = computed(() => all.value.filter(index => !view.value!.steps[index]!.misfit))
/** The numbers of all steps with one of them a place earlier. */
const earlier = (index: number) => all.value.map(one => (one === index - 1 ? index : one === index ? index - 1 : one))
const divide = (step: number, size: number) => act(() => api.divide(view.value!.id, step, size))
/** The files in the order of the batches that they are in, each batch with its heading. */
const ordered = computed(() => {
  const files = view.value?.files ?? [], divided = (view.value?.steps ?? []).filter(step => (step.batches?.length ?? 0) > 1)
  const placed = new Map<string, { batch: number; at: number; head: string }>()
  let number = 0
  for (const { title, batches } of divided) for (const [index, paths] of batches!.entries()) {
    number++
    for (const [at, path] of paths.entries()) if (!placed.has(path)) placed.set(path, { batch: number, at, head: `${divided.length > 1 ? `${title}: b` : 'B'}atch ${index + 1} of ${batches!.length}` })
  }
  const rest = { batch: number + 1, at: 0, head: divided.length > 0 ? 'In no batch' : '' }
  const sorted = files.map(file => ({ file, ...placed.get(file.path) ?? rest })).sort((a, b) => a.batch - b.batch || a.at - b.at)
  return sorted.map((one, index) => ({ file: one.file, head: index === 0 || sorted[index - 1]!.batch !== one.batch ? one.head : '' }))
})
const cancel = () => { if (job.value) void api.cancelJob(job.value.id) }
const undo = () => act(async () => { await api.undo(view.value!.id); await store.open(store.project!.id) })
/** Where its steps are chosen anew, from what was chosen. */
const otherwise = computed(() => ({ name: 'new-change', params: { project: view.value!.projectId }, query: { step: view.value!.steps.map(step => step.id), from: String(view.value!.id) } }))
const frozen = computed(() => view.value?.state !== 'planned' || job.value !== null || busy.value)
const direction = (effect: { before: number; after: number; better: string }) => {
  if (effect.before === effect.after || effect.better === 'neither') return ''
  return (effect.after < effect.before) === (effect.better === 'less') ? 'good' : 'heed'
}
async function copySummary(): Promise<void> {
  const one = view.value!
  const lines = [`${one.title} (${store.project?.name})`, ...one.steps.flatMap(step => step.notes.map(note => `- ${note}`)),
    ...one.effects.filter(effect => effect.before !== effect.after).map(effect => `- ${effect.label}: ${effect.before} -> ${effect.after}`), ...(one.trial ? [`- Tried on a copy: ${one.trial.verdict}`] : [])]
  await navigator.clipboard.writeText(lines.join('\n')).then(() => { copied.value = true }, () => { error.value = 'The clipboard is not open to this page.' })
}
</script>

<template>
  <div class="page">
    <p v-if="change.error.value" class="bad" role="alert">{{ change.error.value }}</p>
    <template v-if="view">
      <h1>
        <strong>{{ view.title }}</strong>:
        <template v-if="view.state === 'planning'">being planned and checked…</template>
        <span v-else-if="view.state === 'refused'" class="bad">it cannot be done{{ view.steps.length > 1 && view.steps.some(step => step.misfit) ? ' like this.' : `. ${view.refusal}` }}</span>
        <template v-else-if="view.state === 'planned'">{{ counted(view.files.length, 'file') }} would change. <span class="good">It compiles, and every name still means what it meant.</span></template>
        <span v-else-if="view.state === 'written'" class="good">written to your files.</span><span v-else>undone; your files are as they were.</span>
      </h1>
      <p v-if="error" class="bad" role="alert">{{ error }}</p>
      <template v-if="view.state === 'planning' && output !== ''">
        <p role="status">{{ job?.phase }}… <el-button size="small" @click="cancel">Cancel</el-button></p>
        <pre class="output">{{ output.slice(-6000) }}</pre>
      </template>
      <div v-if="view.state !== 'refused' && view.state !== 'planning'" class="columns">
        <div class="files">
          <section class="sheet steps">
            <header><h2>{{ counted(view.steps.length, 'step') }}</h2><RouterLink v-if="view.state === 'planned'" :to="otherwise">Choose otherwise</RouterLink></header>
            <ol><li v-for="(step, index) in view.steps" :key="step.id"><strong>{{ step.title }}</strong>, {{ counted(step.edits, 'edit') }}<span v-if="step.choices.name" class="soft"> · {{ step.choices.name }}</span><span v-if="view.state === 'planned' && view.steps.length > 1" class="moves"><el-button v-if="index > 0" size="small" text :disabled="frozen" @click="again(earlier(index))">do it earlier</el-button><el-button size="small" text :disabled="frozen" @click="again(all.filter(one => one !== index))">leave it out</el-button></span><br v-if="step.notes.length > 0" /><span class="soft">{{ step.notes.join(' ') }}</span><StepBatches v-if="view.state === 'planned'" :step="step" :frozen="frozen" :dividing="job?.kind === 'divide'" @divide="size => divide(index, size)" /></li></ol>
          </section>
          <p v-if="view.outdated.length > 0" class="outdated" role="status"><span class="heed">The code has changed since this was planned:</span> {{ view.outdated.slice(0, 4).join(', ') }}{{ view.outdated.length > 4 ? ` and ${view.outdated.length - 4} more` : '' }}. It would not be written like this. <el-button size="small" :disabled="frozen" @click="again(all)">Plan it again</el-button></p>
          <p v-if="view.problems.length > 0" class="bad" role="alert">With what you refused it would not compile: {{ view.problems[0] }}{{ view.problems.length > 1 ? ` (and ${view.problems.length - 1} more)` : '' }}</p>
          <TestsBeside v-for="step in view.steps.filter(one => one.beside)" :key="`beside ${step.id}`" :beside="step.beside!" :files="view.files" :root="store.project?.path ?? ''" />
          <template v-for="{ file, head } in ordered" :key="file.path">
            <h2 v-if="head" class="batch">{{ head }}</h2>
            <SideBySide :id="`file-${file.path}`" :file="file" :refused="view.decisions.refused[file.path]" :frozen="frozen" :root="store.project?.path ?? ''" @decide="refused => decide(file.path, refused)" />
          </template>
        </div>
        <aside>
          <section class="sheet">
            <header><h2>Measured: today, and with this change</h2></header>
            <table class="plain"><tbody><tr v-for="effect in view.effects" :key="effect.label"><td>{{ effect.label }}</td><td class="figure">{{ effect.before }}</td><td class="figure" :class="direction(effect)">{{ effect.after }}</td></tr></tbody></table>
          </section>
          <TrialPanel v-if="store.project" :change="view" :project="store.project" :job="job" :output="output" @started="change.reload()" @confirmed="store.open(store.project!.id)" />
          <section class="sheet">
            <header><h2>{{ view.state === 'written' ? 'In your files' : 'Write to my files' }}</h2></header>
            <div class="inside">
              <p v-if="git.data.value">Branch <strong class="mono">{{ git.data.value.branch ?? 'none' }}</strong>, {{ git.data.value.uncommitted.length === 0 ? 'nothing uncommitted.' : `${counted(git.data.value.uncommitted.length, 'uncommitted file')}: ${git.data.value.uncommitted.slice(0, 4).join(', ')}${git.data.value.uncommitted.length > 4 ? ', …' : ''}` }}</p>
              <p v-else class="soft">Not in a git repository. Undo stays possible here.</p>
              <el-button v-if="view.state === 'planned'" type="primary" :disabled="frozen || view.problems.length > 0" @click="write">Write to my files</el-button>
              <el-button v-if="view.state === 'written'" :disabled="busy" @click="undo">Undo</el-button>
              <el-button @click="copySummary">{{ copied ? 'Copied' : 'Copy a summary' }}</el-button>
              <p v-if="view.state === 'planned' && !view.trial" class="soft">Not tried on a copy yet.</p>
            </div>
          </section>
          <section v-if="git.data.value && view.state === 'planned'" class="sheet">
            <header><h2>Or commit to a new branch</h2></header>
            <form class="inside" @submit.prevent="commit">
              <p class="soft">From {{ git.data.value.commit ?? 'the last commit' }}. Your files and your branch stay as they are.</p>
              <el-input v-model="branch" aria-label="Name of the new branch" />
              <p v-if="view.steps.length > 1 || view.steps.some(step => (step.batches?.length ?? 0) > 1)"><el-radio-group v-model="each"><el-radio value="step">{{ view.steps.some(step => (step.batches?.length ?? 0) > 1) ? 'a commit a batch' : 'a commit a step' }}</el-radio><el-radio value="all">one for all</el-radio></el-radio-group></p>
              <p class="branch"><el-button native-type="submit" :disabled="frozen || view.problems.length > 0 || branch.trim() === ''">Commit to the branch</el-button> <a :href="`/api/changes/${view.id}/patches`" download>Patches for git am</a></p>
              <p v-if="made" class="good" role="status">{{ counted(made.commits.length, 'commit') }} on {{ made.branch }}: <span class="mono">git switch {{ made.branch }}</span></p>
            </form>
          </section>
        </aside>
      </div>
      <template v-if="view.state === 'refused'">
        <ol v-if="view.steps.length > 1" class="sheet unfit"><li v-for="step in view.steps" :key="step.id"><strong>{{ step.title }}</strong>: <span v-if="step.misfit" class="bad">{{ step.misfit }}</span><span v-else class="soft">fits</span></li></ol>
        <p class="act">
          <el-button v-if="fitting.length > 0 && fitting.length < all.length" type="primary" :disabled="busy" @click="again(fitting)">Plan it without what does not fit</el-button>
          <el-button :disabled="busy" @click="again(all)">Plan it again</el-button>
          <RouterLink :to="otherwise">Choose otherwise</RouterLink>
        </p>
      </template>
    </template>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(0, 1fr) 350px; gap: 14px; margin-top: 12px; align-items: start; }
aside { display: grid; gap: 12px; position: sticky; top: 10px; max-height: calc(100vh - 20px); overflow: auto; }
.batch { margin: 16px 0 -4px; } .moves { margin-left: 8px; } .moves .el-button + .el-button { margin-left: 0; } .outdated { margin: 10px 0; } .unfit { margin-top: 12px; } .act { display: flex; gap: 12px; align-items: center; margin-top: 12px; }
.output { background: var(--code); padding: 8px; max-height: 420px; overflow: auto; font-size: 13px; white-space: pre-wrap; overflow-wrap: anywhere; }
ol { margin: 0; padding: 8px 14px 10px 34px; } .inside { padding: 10px 14px; } .inside p { margin: 0 0 8px; }
@media (max-width: 1080px) { .columns { grid-template-columns: 1fr; } aside { position: static; max-height: none; } }
</style>
