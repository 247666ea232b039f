<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ChoiceView, OfferView } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import { useLoaded } from '../../composables/useLoaded'
import { labelOf, remedyWord } from '../../labels'
import { useProjectStore } from '../../stores/project'
import type { TypedCommands } from './CommandsForm.vue'
import CommandsForm from './CommandsForm.vue'
import LinesPicker from './LinesPicker.vue'
import RolesEditor from './RolesEditor.vue'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const id = Number(route.params.project)
const ids = computed(() => [route.query.step ?? []].flat().filter((one): one is string => typeof one === 'string'))
/** Choices that the address brings along, as `name=value`. */
const preset = computed(() => new Map([route.query.set ?? []].flat().filter((one): one is string => typeof one === 'string')
  .map(one => [one.slice(0, one.indexOf('=')), one.slice(one.indexOf('=') + 1)] as const)))
/** The change whose choices are taken over. */
const from = computed(() => Number(route.query.from ?? NaN))
const about = computed(() => String(route.query.about ?? ''))
const fields = reactive(new Map<string, ChoiceView[]>())
const values = reactive(new Map<string, Record<string, string | string[]>>())
const titles = reactive(new Map<string, string>())
const error = ref<string | null>(null)
const planning = ref(false)
const offers = useLoaded([() => store.version, about], () => (store.project?.surveyId && about.value ? api.type(id, about.value).then(view => view.offers) : null))

watch([ids, () => store.version], async () => {
  if (!store.project?.surveyId) return
  const before = Number.isInteger(from.value) ? (await api.change(from.value).catch(() => null))?.steps ?? [] : []
  for (const step of ids.value) {
    if (fields.has(step)) continue
    try {
      const choices = await api.choices(id, step)
      fields.set(step, choices)
      const earlier = before.find(one => one.id === step)?.choices ?? {}
      const chosen = (one: ChoiceView) => preset.value.get(one.name) ?? earlier[one.name] ?? one.value
      values.set(step, Object.fromEntries(choices.map(one => [one.name, one.kind === 'many-of' ? chosen(one).split(',').filter(value => value !== '') : chosen(one)])))
      titles.set(step, titleOf(step))
    } catch (failure) { error.value = (failure as Error).message }
  }
}, { immediate: true })

function titleOf(step: string): string {
  // A finding names what is touched; the offer, the method too.
  const offer = offers.data.value?.find((one: OfferView) => one.id === step) ?? offers.data.value?.find((one: OfferView) => one.id.startsWith(`${step}@`))
  if (offer) return offer.title
  const [remedy] = step.split(':', 1)
  // Of a file's functions and constants, the one that is named behind it.
  const name = /#:(.+)$/.exec(step)?.[1] ?? /#([^:]*)/.exec(step)?.[1] ?? labelOf(step.slice(remedy!.length + 1))
  return remedy === 'extract-interface' ? `Extract an interface from ${name}` : remedy === 'move-type' ? `Move ${name} to another module` : `${remedyWord(remedy!)}: ${name}`
}
watch(() => offers.data.value, () => { for (const step of ids.value) titles.set(step, titleOf(step)) })
const others = computed(() => (offers.data.value ?? []).filter(offer => !ids.value.includes(offer.id)))
const set = (steps: string[]) => router.replace({ query: { ...route.query, step: steps } })
const visible = (step: string, field: ChoiceView) => field.name !== 'client' || values.get(step)?.place === 'client'

/** What a first test is to hold is seen by running it, which takes commands that the user has confirmed. */
const isRecorded = computed(() => ids.value.some(step => step.startsWith('first-test:')))
const commands = ref<TypedCommands>({ compile: '', test: '', seconds: 120 })

async function plan(): Promise<void> {
  planning.value = true
  error.value = null
  try {
    if (isRecorded.value) await api.updateProject(id, { commands: { ...commands.value, confirmed: true } })
    const change = await api.plan(id, ids.value.map(step => ({
      id: step, choices: Object.fromEntries(Object.entries(values.get(step) ?? {}).map(([name, value]) => [name, Array.isArray(value) ? value.join(',') : value]))
    })))
    await router.push({ name: 'change', params: { project: id, change: change.id } })
  } catch (failure) { error.value = (failure as Error).message } finally { planning.value = false }
}
</script>

<template>
  <div class="page">
    <h1><strong>{{ ids.length === 1 ? 'One step' : `${ids.length} steps` }}</strong>, planned in memory and checked before you see {{ ids.length === 1 ? 'it' : 'them' }}. Your files stay as they are.</h1>
    <p v-if="error" class="bad" role="alert">{{ error }}</p>
    <section v-for="(step, index) in ids" :key="step" class="sheet step">
      <header><h2>{{ index + 1 }}. {{ titles.get(step) ?? step }}</h2><el-button v-if="ids.length > 1" size="small" @click="set(ids.filter(one => one !== step))">Leave out</el-button></header>
      <form v-if="values.get(step)" class="fields" @submit.prevent="plan">
        <template v-for="field in fields.get(step)" :key="field.name">
          <template v-if="visible(step, field)">
            <label :for="`${index}-${field.name}`">{{ field.label }}</label>
            <div :class="{ tall: field.kind === 'lines' }">
              <el-input v-if="field.kind === 'text'" :id="`${index}-${field.name}`" v-model="(values.get(step)![field.name] as string)" class="control" />
              <RolesEditor v-else-if="field.kind === 'groups'" v-model="(values.get(step)![field.name] as string)" :members="field.options.map(one => one.value)" />
              <LinesPicker v-else-if="field.kind === 'lines'" v-model="(values.get(step)![field.name] as string)" :options="field.options" :label="field.label" />
              <el-radio-group v-else-if="field.kind === 'yes-no'" v-model="(values.get(step)![field.name] as string)"><el-radio value="yes">yes</el-radio><el-radio value="no">no</el-radio></el-radio-group>
              <el-select v-else :id="`${index}-${field.name}`" v-model="values.get(step)![field.name]" :multiple="field.kind === 'many-of'" filterable collapse-tags :max-collapse-tags="4" class="control" :placeholder="field.name === 'members' ? 'all public ones' : 'none chosen'">
                <el-option v-for="option in field.options" :key="option.value" :value="option.value" :label="option.label" />
              </el-select>
              <span class="soft help">{{ field.help }}</span>
            </div>
          </template>
        </template>
      </form>
    </section>
    <section v-if="isRecorded && store.project" class="sheet step">
      <header><h2>What it does is recorded by running your tests on a copy</h2></header>
      <div class="recorded">
        <CommandsForm v-model="commands" :project="store.project" />
        <p class="soft">Your tests run four times: twice to see what the class does, and once without and once with the new test, to see that it holds. The commands are proposed from your build files; one that runs only some tests, the new one among them, is quicker.</p>
      </div>
    </section>
    <p class="act">
      <el-button type="primary" :loading="planning" :disabled="ids.length === 0 || ids.some(step => !values.has(step)) || (isRecorded && commands.test.trim() === '')" @click="plan">{{ isRecorded ? 'Confirm the commands and plan it' : 'Plan it' }}</el-button>
      <el-select v-if="others.length > 0" :model-value="''" :placeholder="about.endsWith('#') ? 'Add a step on this file' : 'Add a step on this class'" class="add" @update:model-value="(step: string) => set([...ids, step])">
        <el-option v-for="offer in others" :key="offer.id" :value="offer.id" :label="offer.title" />
      </el-select>
      <RouterLink v-if="about" :to="{ name: 'class', params: { project: id }, query: { type: about } }">{{ about.endsWith('#') ? 'Back to the file' : 'Back to the class' }}</RouterLink>
    </p>
  </div>
</template>

<style scoped>
.step { margin-top: 12px; }
.fields { display: grid; grid-template-columns: 210px 1fr; gap: 8px 14px; padding: 12px 14px; align-items: center; }
.recorded { padding: 10px 14px; max-width: 760px; } .recorded p { margin: 8px 0 0; }
label:has(+ .tall) { align-self: start; padding-top: 4px; } .tall .help { margin: 4px 0 0; display: block; }
.control { width: 360px; max-width: 100%; } .help { margin-left: 10px; }
.act { display: flex; gap: 12px; align-items: center; }
.add { width: 300px; }
</style>
