<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { CycleRow } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import CodeReference from '../../components/CodeReference.vue'
import TakeAlong from '../../components/TakeAlong.vue'
import { useLoaded } from '../../composables/useLoaded'
import { useWhatIf } from '../../composables/useWhatIf'
import { counted, labelOf } from '../../labels'
import { useProjectStore } from '../../stores/project'
import { arrow } from '../../what-if'
import CycleLadder from './CycleLadder.vue'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const id = Number(route.params.project)
const list = useLoaded(() => store.version, () => (store.project?.surveyId ? api.cycles(id) : null))
const from = computed(() => (typeof route.query.from === 'string' ? route.query.from : null))
const to = computed(() => (typeof route.query.to === 'string' ? route.query.to : null))

/** The cycle that the address names, or that holds the dependency it names; else the first. */
const key = computed(() => {
  const rows = list.data.value
  if (!rows) return null
  if (typeof route.query.cycle === 'string' && rows.some(row => row.key === route.query.cycle)) return route.query.cycle
  const holding = from.value && to.value ? rows.find(row => row.members.includes(from.value!) && row.members.includes(to.value!)) : undefined
  return (holding ?? rows[0])?.key ?? null
})
const cycle = useLoaded([() => store.version, key], () => (key.value === null ? null : api.cycle(id, key.value)))
const shown = computed(() => {
  const view = cycle.data.value
  if (!view || view.key !== key.value) return null
  const named = view.dependencies.find(one => one.from === from.value && one.to === to.value)
  return named ?? view.cut[0] ?? null
})
const references = useLoaded([() => cycle.data.value?.key, () => (shown.value ? arrow(shown.value.from, shown.value.to) : '')],
  () => (shown.value && cycle.data.value ? api.references(id, cycle.data.value.level, cycle.data.value.within, shown.value.from, shown.value.to) : null))

const struck = ref<string[]>([])
watch(key, () => { struck.value = [] })
const question = computed(() => (cycle.data.value ? { members: cycle.data.value.members, dependencies: cycle.data.value.dependencies, struck: struck.value } : null))
const whatIf = useWhatIf(question)
const toggle = (one: { from: string; to: string }) => {
  const name = arrow(one.from, one.to)
  struck.value = struck.value.includes(name) ? struck.value.filter(other => other !== name) : [...struck.value, name]
}
const isStruck = computed(() => shown.value !== null && struck.value.includes(arrow(shown.value.from, shown.value.to)))
const select = (query: Record<string, string>) => router.push({ query })
const groups = computed(() => (['modules', 'files', 'types'] as const).map(level => ({
  level, title: { modules: 'Module cycles', files: 'File cycles', types: 'Class cycles' }[level], rows: list.data.value?.filter(row => row.level === level) ?? []
})).filter(group => group.rows.length > 0))
const named = (row: CycleRow, most: number) => {
  const names = row.members.map(member => labelOf(member, row.within))
  return names.length > most ? `${names.slice(0, most - 1).join(' · ')} · ${names.length - most + 1} more` : names.join(' · ')
}
const proven = computed(() => cycle.data.value && cycle.data.value.cost === cycle.data.value.lowerBound)
/** Classes at both ends of what is shown: where the remedies are. */
const ends = computed(() => [...new Set((references.data.value ?? []).flatMap(one => [one.from, one.to]))].slice(0, 8))
/** Pairs of classes between which an interface, put with the one that must not depend, would turn the dependency round. */
const types = useLoaded(() => store.version, () => (store.project?.surveyId ? api.types(id) : null))
const turns = computed(() => {
  const kinds = new Map(types.data.value?.map(row => [row.id, row.kind]))
  const pairs = new Map((references.data.value ?? []).filter(one => kinds.get(one.to) === 'class' && one.kind !== 'creates' && one.kind !== 'extends').map(one => [`${one.from}\0${one.to}`, { from: one.from, to: one.to }]))
  return [...pairs.values()].slice(0, 4)
})
/** Types, and functions of files, at the ends of what is shown that could stand with those at its other end instead. */
const moves = computed(() => {
  const rows = new Map(types.data.value?.map(row => [row.id, row]))
  const found = new Map<string, { type: string; member: string; module: string; references: number }>()
  for (const one of references.data.value ?? []) for (const [type, other] of [[one.from, one.to], [one.to, one.from]] as const) {
    const module = rows.get(other)?.module, row = rows.get(type)
    // A file's functions go one by one: those that are named.
    const isFile = row?.kind === 'functions', member = isFile && type === one.to ? one.member : ''
    if (!module || !row || row.module === module || (isFile && member === '')) continue
    const key = `${type}\0${member}\0${module}`, entry = found.get(key)
    if (entry) entry.references++
    else found.set(key, { type, member, module, references: 1 })
  }
  return [...found.values()].sort((a, b) => b.references - a.references).slice(0, 4)
})
const moveThere = (one: { type: string; member: string; module: string }) => ({ name: 'new-change', params: { project: id }, query: { step: `move-type:${one.type}${one.member === '' ? '' : `:${one.member}`}`, set: [`module=${one.module}`], about: one.type } })
const turnRound = (one: { from: string; to: string }) => ({
  name: 'new-change', params: { project: id }, query: { step: `extract-interface:${one.to}`, set: [`clients=${one.from}`, 'place=client', `client=${one.from}`], about: one.to }
})
</script>

<template>
  <div class="page">
    <p v-if="list.error.value && !store.job" class="bad" role="alert">{{ list.error.value }}</p>
    <h1 v-else-if="list.data.value?.length === 0"><span class="good">Nothing goes round in a circle</span>: no cycle among modules, files or types.</h1>
    <template v-else-if="cycle.data.value">
      <h1>
        <strong>{{ named(cycle.data.value, 5) }}</strong> go round in a circle{{ cycle.data.value.atRunTime ? '' : ', in types only' }}.
        <span class="good">Changing {{ counted(cycle.data.value.cost, 'reference') }} opens it</span>;
        {{ proven ? 'no smaller change can (proven).' : `no change of fewer than ${cycle.data.value.lowerBound} can.` }}
      </h1>
      <div class="columns">
        <nav class="sheet" aria-label="Cycles">
          <section v-for="group in groups" :key="group.level">
            <header><h2>{{ group.title }} ({{ group.rows.length }})</h2></header>
            <button v-for="row in group.rows" :key="row.key" class="row item" :class="{ chosen: row.key === key }" :aria-current="row.key === key" @click="select({ cycle: row.key })">
              <strong>{{ named(row, 4) }}</strong><br /><span class="soft">{{ counted(row.members.length, 'member') }}, cut {{ row.cost }}{{ row.cost === row.lowerBound ? '' : ` (at least ${row.lowerBound})` }}{{ row.atRunTime ? '' : ', types only' }}</span>
            </button>
          </section>
          <footer class="along"><TakeAlong :project="id" :files="[{ what: 'cycles.csv', label: 'all cycles as CSV' }]" /></footer>
        </nav>
        <section class="sheet middle">
          <header><h2>The order that the cut leaves. Each depends on those below it; notched: what leads back up</h2></header>
          <CycleLadder :cycle="cycle.data.value" :selected="shown ? arrow(shown.from, shown.to) : null" :struck="struck" @select="(a, b) => select({ cycle: key!, from: a, to: b })" @strike="(a, b) => toggle({ from: a, to: b })" />
          <footer class="what-if" role="status">
            <template v-if="whatIf">
              Without {{ counted(struck.length, 'dependency', 'dependencies') }} ({{ counted(whatIf.struckReferences, 'reference') }}):
              <strong v-if="whatIf.left.length === 0" class="good">the cycle is gone.</strong>
              <strong v-else class="heed">{{ counted(whatIf.left.reduce((sum, one) => sum + one.length, 0), 'member') }} still go round; {{ counted(whatIf.cost, 'more reference', 'more references') }} would open that.</strong>
              <el-button size="small" @click="struck = []">Put back</el-button>
            </template>
            <span v-else class="soft">What if? Strike a dependency out and see what is left.</span>
          </footer>
        </section>
        <section class="sheet right">
          <template v-if="shown">
            <header><h2>{{ labelOf(shown.from) }} → {{ labelOf(shown.to) }}: {{ counted(shown.references, 'reference') }}</h2><el-button size="small" :type="isStruck ? 'primary' : 'default'" @click="toggle(shown)">{{ isStruck ? 'Put back' : 'Strike out' }}</el-button></header>
            <CodeReference v-for="one in references.data.value" :key="`${one.file}:${one.line}:${one.column}:${one.to}:${one.member}`" :reference="one" :root="store.project?.path ?? ''" />
            <p v-if="references.error.value" class="bad">{{ references.error.value }}</p>
            <div v-if="turns.length > 0" class="ends">
              <h2>Turn it round</h2>
              <p v-for="one in turns" :key="one.from + one.to"><RouterLink :to="turnRound(one)">Put an interface for what {{ labelOf(one.from) }} uses of {{ labelOf(one.to) }} beside {{ labelOf(one.from) }}</RouterLink></p>
            </div>
            <div v-if="moves.length > 0" class="ends">
              <h2>Or move a type or a function</h2>
              <p v-for="one in moves" :key="one.type + one.member + one.module"><RouterLink :to="moveThere(one)">Move {{ one.member || labelOf(one.type) }} to {{ labelOf(one.module) }}</RouterLink> <span class="soft">{{ counted(one.references, 'reference') }} of these</span></p>
            </div>
            <div v-if="ends.length > 0" class="ends">
              <h2>Classes at its ends, with their remedies</h2>
              <p v-for="end in ends" :key="end"><RouterLink class="mono" :to="{ name: 'class', params: { project: id }, query: { type: end } }">{{ labelOf(end) }}</RouterLink> <span class="soft">{{ end.includes('#') ? end.slice(0, end.indexOf('#')) : end.slice(0, Math.max(0, end.length - labelOf(end).length - 1)) }}</span></p>
            </div>
          </template>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: 230px minmax(0, 1fr) minmax(0, 1fr); gap: 12px; margin-top: 12px; align-items: start; }
nav.sheet, .middle, .right { max-height: calc(100vh - 140px); overflow: auto; }
nav header { padding: 9px 14px; border-bottom: 1px solid var(--rule); }
.along { padding: 8px 14px; }
.ends .soft { margin-left: 6px; }
.item { padding: 8px 14px; border-bottom: 1px solid var(--rule); border-left: 4px solid transparent; font-size: 14px; overflow-wrap: anywhere; }
.item:hover { background: var(--heather-soft); }
.item.chosen { border-left-color: var(--heather); background: var(--heather-soft); }
.what-if { padding: 9px 14px; border-top: 1px solid var(--rule); min-height: 44px; }
.ends { padding: 10px 14px; } .ends p { margin: 4px 0; }
@media (max-width: 1080px) { .columns { grid-template-columns: 190px minmax(0, 1fr); } .right { grid-column: 1 / -1; } }
</style>
