<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Fabric } from '@hollowmoor/core/measure/rearrangement'
import type { RearrangementState } from '../../composables/useRearrangement'
import { counted, labelOf } from '../../labels'

const props = defineProps<{ project: number; fabric: Fabric; within: string; state: RearrangementState }>()
const { moves, struck, before, after, helpful, isChanged } = props.state

const type = ref(''), module = ref('')
const MOST = 60
const outermost = computed(() => props.fabric.types.filter((one, at) => one.outermost === at && !one.id.endsWith('#')))
const typed = ref('')
const types = computed(() => {
  const wanted = typed.value.toLowerCase()
  return outermost.value.filter(one => labelOf(one.id).toLowerCase().includes(wanted)).slice(0, MOST)
})
const modules = computed(() => [...props.fabric.modules].sort())
const moduleOf = computed(() => new Map(props.fabric.types.map((one, at) => [one.id, after.value?.moduleOf[at] ?? props.fabric.modules[one.module]!])))
function move(): void {
  const to = module.value.trim().replace(/^\/+|\/+$/g, '')
  if (type.value === '' || to === '') return
  props.state.move(type.value, to)
  type.value = ''
}
/** What flows back in the folder that is shown, and what is struck out there. */
const back = computed(() => after.value?.graphs.find(one => one.within === props.within)?.dependencies.filter(one => one.cut) ?? [])
const ratio = (value: number | null) => (value === null ? '–' : value.toFixed(2))
const changed = computed(() => {
  const earlier = new Map(before.value?.modules.map(one => [one.id, one]))
  return (after.value?.modules ?? []).map(is => ({ is, was: earlier.get(is.id) })).filter(({ is, was }) => !was || was.ca !== is.ca || was.ce !== is.ce || was.types !== is.types).slice(0, 12)
})
</script>

<template>
  <section class="sheet what-if" aria-label="What if">
    <header><h2>What if?</h2><el-button v-if="isChanged" size="small" @click="state.clear()">As it is</el-button></header>
    <div v-if="after && before" class="part" role="status">
      <template v-if="isChanged">
        <strong :class="after.cost < before.cost ? 'good' : after.cost > before.cost ? 'bad' : ''">{{ after.cycles === 0 ? 'No module cycle' : counted(after.cycles, 'module cycle') }}</strong> instead of {{ before.cycles }}, holding {{ after.modulesInCycles }} instead of {{ before.modulesInCycles }} modules;
        {{ counted(after.cost, 'reference') }} to change instead of {{ before.cost }}.
      </template>
      <template v-else>{{ counted(after.cycles, 'module cycle') }}, {{ counted(after.cost, 'reference') }} to change. Move a type in thought, or strike out what flows back, and the map answers. Your files stay as they are.</template>
    </div>
    <div v-if="moves.length + struck.length > 0" class="part">
      <p v-for="one in moves" :key="one.type"><RouterLink class="mono" :to="{ name: 'class', params: { project }, query: { type: one.type } }">{{ labelOf(one.type) }}</RouterLink> in {{ labelOf(one.module) }} <el-button size="small" text @click="state.stay(one.type)">Leave it</el-button></p>
      <p v-for="one in struck" :key="one.within + one.from + one.to"><span class="mono">{{ labelOf(one.from) }} → {{ labelOf(one.to) }}</span> struck out <el-button size="small" text @click="state.toggle(one)">Put back</el-button> <RouterLink :to="{ name: 'cycles', params: { project }, query: { level: 'modules', from: one.from, to: one.to } }">How</RouterLink></p>
    </div>
    <form class="part" @submit.prevent="move">
      <h3>Move a type</h3>
      <el-select v-model="type" filterable size="small" placeholder="Type" aria-label="Type to move" :filter-method="(text: string) => { typed = text }">
        <el-option v-for="one in types" :key="one.id" :value="one.id" :label="labelOf(one.id)"><span>{{ labelOf(one.id) }}</span> <span class="soft">{{ labelOf(moduleOf.get(one.id) ?? '') }}</span></el-option>
      </el-select>
      <el-select v-model="module" filterable allow-create size="small" placeholder="Module, or a new one" aria-label="Module to move it to">
        <el-option v-for="one in modules" :key="one" :value="one" :label="one === '.' ? '(root)' : one" />
      </el-select>
      <el-button size="small" type="primary" native-type="submit" :disabled="type === '' || module === ''">Move</el-button>
    </form>
    <div class="part rows">
      <h3>Moves that help most</h3>
      <p v-if="helpful === null" class="soft">Looking …</p>
      <p v-else-if="helpful.length === 0" class="soft">No move of a single type makes the cycles cheaper to break.</p>
      <p v-for="one in helpful ?? []" :key="one.type + one.module"><el-button size="small" @click="state.move(one.type, one.module)">Move</el-button> <span><span class="mono">{{ labelOf(one.type) }}</span> to {{ labelOf(one.module) }}: <span class="good">{{ one.cycles === 0 ? 'no cycle left' : `${counted(one.cost, 'reference')} left` }}</span>{{ one.cycles === 0 ? '' : `, ${counted(one.cycles, 'cycle')}` }}</span></p>
    </div>
    <div v-if="back.length > 0" class="part rows">
      <h3>What flows back here</h3>
      <p v-for="one in back.slice(0, 12)" :key="one.from + one.to"><el-button size="small" @click="state.toggle({ within, from: one.from, to: one.to })">Strike out</el-button> <span><span class="mono">{{ labelOf(one.from) }} → {{ labelOf(one.to) }}</span> {{ counted(one.references, 'reference') }}</span></p>
    </div>
    <table v-if="changed.length > 0" class="plain">
      <thead><tr><th>Module</th><th class="number">Ca</th><th class="number">Ce</th><th class="number">Instability</th></tr></thead>
      <tbody><tr v-for="{ is, was } in changed" :key="is.id"><td class="mono">{{ labelOf(is.id) }}</td><td class="number">{{ was?.ca ?? 0 }} → {{ is.ca }}</td><td class="number">{{ was?.ce ?? 0 }} → {{ is.ce }}</td><td class="number">{{ ratio(was?.instability ?? null) }} → {{ ratio(is.instability) }}</td></tr></tbody>
    </table>
  </section>
</template>

<style scoped>
.what-if { max-height: calc(100vh - 150px); overflow: auto; font-size: 14px; }
.part { padding: 8px 14px; border-bottom: 1px solid var(--rule); overflow-wrap: anywhere; }
.part p { margin: 3px 0; }
.rows p { display: flex; gap: 8px; align-items: baseline; } .rows p.soft { display: block; }
h3 { font-size: 14px; margin: 0 0 4px; }
form { display: grid; grid-template-columns: 1fr 1fr auto; gap: 6px; }
form h3 { grid-column: 1 / -1; }
</style>
