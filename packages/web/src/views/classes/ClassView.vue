<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { JointView } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import CodeReference from '../../components/CodeReference.vue'
import JointGlyph from '../../components/JointGlyph.vue'
import VerdictGlyph from '../../components/VerdictGlyph.vue'
import { useLoaded } from '../../composables/useLoaded'
import { usePreferences } from '../../composables/usePreferences'
import { isTypeId } from '@hollowmoor/contract/labels'
import { counted, effectWord, FINDING_WORDS, KIND_WORDS, labelOf, remedyWord } from '../../labels'
import { freedText } from '../../finding-links'
import { plugSteps } from '../../plug-steps'
import { useProjectStore } from '../../stores/project'
import InsidePanel from './InsidePanel.vue'
import ReachPanel from './ReachPanel.vue'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const { editorHref } = usePreferences()
const id = Number(route.params.project)
const type = computed(() => String(route.query.type ?? ''))
const loaded = useLoaded([() => store.version, type], () => (store.project?.surveyId ? api.type(id, type.value) : null))
const view = computed(() => loaded.data.value)
const types = useLoaded(() => store.version, () => (store.project?.surveyId ? api.types(id) : null))
const joint = computed(() => (typeof route.query.joint === 'string' ? route.query.joint : null))
const lines = useLoaded([() => store.version, type, joint], () => (joint.value === null ? null : api.joint(id, type.value, joint.value)))
const client = computed(() => (typeof route.query.client === 'string' ? route.query.client : null))
const clientLines = useLoaded([() => store.version, type, client], () => (client.value === null ? null : api.joint(id, client.value, type.value)))
const shownLines = computed(() => (joint.value !== null ? lines.data.value : client.value !== null ? clientLines.data.value : null))
const keyOf = (one: JointView) => one.type ?? one.name
const count = (kind: string) => view.value?.joints.filter(one => one.kind === kind).length ?? 0
const show = (query: Record<string, string | undefined>) => router.push({ query: { type: type.value, ...query } })
/** Remedies of the class as a whole: what is done at one joint is offered there. */
const remedies = computed(() => (view.value?.offers ?? []).filter(offer => offer.remedy !== 'inject' && !view.value!.joints.some(joint => joint.remedies.some(one => one.id === offer.id))))
/** By remedy: where one can be done in several places, they are chosen from by what each does. */
const remedyGroups = computed(() => [...new Set(remedies.value.map(one => one.remedy))].map(remedy => remedies.value.filter(one => one.remedy === remedy)))
const noRemedy = computed(() => {
  const row = view.value!.row
  if (row.test) return 'it is test code'
  return KIND_WORDS[row.kind] === 'class' ? 'it is a class without public methods' : `it is of the kind ${KIND_WORDS[row.kind]}`
})
const reasons: Record<string, string> = { created: 'built inside', static: 'static or global', inherited: 'inherited', concrete: 'concrete class', abstraction: 'abstraction', data: 'data' }
const plugIt = (one: JointView) => plugSteps(one, types.data.value ?? [])
/** Collaborators that are plugged in thought alone: the URL holds them, the server answers. */
const thought = computed(() => (route.query.plug === undefined ? [] : [route.query.plug].flat().filter((one): one is string => typeof one === 'string')))
const whatIf = useLoaded([() => store.version, type, thought], () => (thought.value.length === 0 ? null : api.plugged(id, type.value, thought.value)))
function think(one: JointView): void {
  const key = keyOf(one)
  void router.replace({ query: { ...route.query, plug: thought.value.includes(key) ? thought.value.filter(other => other !== key) : [...thought.value, key] } })
}
const thoughtSteps = computed(() => [...new Set((view.value?.joints ?? []).filter(one => thought.value.includes(keyOf(one)) && one.remedies.length > 0).flatMap(plugIt))])
const plan = (steps: string[]) => router.push({ name: 'new-change', params: { project: id }, query: { step: steps, about: type.value } })
const outside = computed(() => view.value?.reach.effects.filter(effect => !effect.borne && effect.kind !== 'unknown' && effect.kind !== 'unresolved') ?? [])
</script>

<template>
  <div class="page">
    <p v-if="loaded.error.value && !store.job" class="bad" role="alert">{{ loaded.error.value }} <RouterLink :to="{ name: 'classes', params: { project: id } }">All classes</RouterLink></p>
    <template v-if="view">
      <p class="where"><strong class="name">{{ view.row.name }}</strong> <span class="soft">{{ KIND_WORDS[view.row.kind] }} · </span><a class="mono" :href="editorHref(store.project?.path ?? '', view.row.file, view.row.line)">{{ view.row.file }}:{{ view.row.line }}</a><span class="soft"> · {{ counted(view.row.lines, 'line') }}</span>
        <template v-if="view.cycles.length > 0"> · <RouterLink class="bad" :to="{ name: 'cycles', params: { project: id }, query: { cycle: view.cycles[0]!.key } }">in a cycle of {{ view.cycles[0]!.members.length }} types</RouterLink></template></p>
      <h1>
        <template v-if="view.row.verdict"><VerdictGlyph :verdict="view.row.verdict" /><template v-if="outside.length > 0">: {{ outside.map(effect => effectWord(effect.kind)).join(', ') }}</template>. </template>It holds <strong>{{ counted(view.joints.length, 'collaborator') }}</strong>:
        <span :class="{ bad: count('welded') > 0 }">{{ count('welded') }} welded</span> (nothing outside can replace them),
        <span :class="{ heed: count('bolted') > 0 }">{{ count('bolted') }} bolted</span> (handed in, but as concrete classes),
        <span :class="{ good: count('plugged') > 0 }">{{ count('plugged') }} plugged</span>. {{ view.row.fanIn === 0 ? 'No other type uses it.' : `${counted(view.row.fanIn, 'type uses', 'types use')} it.` }}
      </h1>
      <p class="remedies">
        <template v-for="([one, ...others], index) in remedyGroups" :key="one!.remedy">
          <el-button v-if="others.length === 0" :type="index === 0 ? 'primary' : 'default'" :title="one!.title" @click="plan([one!.id])">{{ remedyWord(one!.remedy) }} <span class="cost">up to {{ counted(one!.edits, 'edit') }}</span></el-button>
          <el-select v-else :model-value="''" filterable class="places" :aria-label="remedyWord(one!.remedy)" :placeholder="`${remedyWord(one!.remedy)}: ${others.length + 1} places`" @update:model-value="(step: string) => plan([step])">
            <el-option v-for="each in [one!, ...others]" :key="each.id" :value="each.id" :label="each.title"><span class="place"><span>{{ each.title }}</span><span class="cost">up to {{ counted(each.edits, 'edit') }}</span></span></el-option>
          </el-select>
        </template>
        <span v-if="view.offers.length === 0 && !store.job" class="soft">No remedy is offered here: {{ noRemedy }}.</span>
      </p>
      <div class="columns">
        <section class="sheet">
          <header><h2>Used by {{ view.clients.filter(one => !one.test).length }}<template v-if="view.clients.some(one => one.test)">, and {{ view.clients.filter(one => one.test).length }} in tests</template></h2></header>
          <button v-for="one in view.clients.slice(0, 60)" :key="one.id" class="row item" :class="{ chosen: client === one.id }" @click="show({ client: one.id })">
            <strong class="mono">{{ one.name }}</strong>{{ one.test ? ' (test)' : '' }}&ensp;<span class="soft">{{ one.members.length === 0 ? 'as a type' : one.members.slice(0, 5).join(', ') }}{{ one.members.length > 5 ? `, ${one.members.length - 5} more` : '' }}</span>
          </button>
          <p v-if="view.clients.length === 0" class="empty">Nobody.</p>
          <template v-if="view.findings.length > 0"><header class="second"><h2>Worth changing here</h2></header>
            <RouterLink v-for="one in view.findings" :key="one.id" class="finding" :to="{ name: 'findings', params: { project: id }, query: { finding: one.id } }"><strong>{{ FINDING_WORDS[one.kind] ?? one.kind }}</strong> <span class="good">{{ freedText(one) }}</span><span v-if="one.setAside" class="soft"> set aside</span><span class="soft why">{{ one.sentence }}</span></RouterLink></template>
        </section>
        <section class="sheet">
          <header><h2>Joints: how it holds what it uses</h2></header>
          <table class="plain joints">
            <thead><tr><th /><th title="What if it were plugged?">if</th><th>collaborator</th><th class="because">because</th><th>behind it</th><th class="figure">refs</th><th /></tr></thead>
            <tbody>
              <tr v-for="one in view.joints" :key="keyOf(one)" :class="{ chosen: joint === keyOf(one) }">
                <td class="shape"><JointGlyph :kind="one.kind" :class="{ quiet: one.pure }" /></td>
                <td class="if"><input v-if="one.kind === 'welded' || one.kind === 'bolted'" type="checkbox" :checked="thought.includes(keyOf(one))" :aria-label="`What if ${one.name} were plugged?`" @change="think(one)"></td>
                <td><a href="#" class="mono" @click.prevent="show({ joint: keyOf(one) })">{{ one.name }}</a></td>
                <td class="soft reason because">{{ one.kind }}, {{ one.reason === 'got-from' ? `got from a ${one.kind} one` : reasons[one.reason] }}</td>
                <td class="behind"><span v-if="one.pure" class="good">only computes</span><span v-else class="soft">{{ one.behind.map(effectWord).join(', ') }}</span></td>
                <td class="figure">{{ one.references }}</td>
                <td class="figure"><el-button v-if="one.remedies.length > 0" size="small" :disabled="types.data.value === null" :title="one.remedies.at(-1)!.title" @click="plan(plugIt(one))">Plug it</el-button></td>
              </tr>
            </tbody>
          </table>
          <p v-if="thought.length > 0 && whatIf.data.value" class="what-if" role="status">With {{ thought.map(one => labelOf(one)).join(', ') }} plugged: <VerdictGlyph v-if="whatIf.data.value.verdict" :verdict="whatIf.data.value.verdict" /><template v-if="whatIf.data.value.effects.length > 0">, it still reaches {{ whatIf.data.value.effects.map(effectWord).join(', ') }}</template>.<template v-if="whatIf.data.value.others > 0">{{ ' ' }}{{ counted(whatIf.data.value.others, 'other type') }} would be free too.</template> <el-button v-if="thoughtSteps.length > 0" size="small" type="primary" @click="plan(thoughtSteps)">Turn it into a change</el-button> <el-button v-if="thoughtSteps.length > 0 && (whatIf.data.value.verdict === 'alone' || whatIf.data.value.verdict === 'with-real-classes')" size="small" @click="plan([...thoughtSteps, `first-test:${view.row.id}`])">And write its first test</el-button></p>
          <p v-if="view.joints.length === 0" class="empty">It uses no behaviour of others.</p>
          <template v-if="view.implementers.length > 0"><header class="second"><h2>Implemented or extended by</h2></header><p class="list"><RouterLink v-for="one in view.implementers" :key="one.id" class="mono" :to="{ query: { type: one.id } }">{{ one.name }}</RouterLink></p></template>
        </section>
        <template v-if="!shownLines">
          <InsidePanel :view="view" :root="store.project?.path ?? ''" />
          <ReachPanel v-if="view.row.verdict" :reach="view.reach" :name="view.row.name" :root="store.project?.path ?? ''" :project="id" :type="view.row.id" :is-built="view.row.kind !== 'functions'" :has-first-test="view.offers.some(one => one.remedy === 'first-test')" />
        </template>
        <section v-if="shownLines" class="sheet lines">
          <header><h2>{{ joint !== null ? `${view.row.name} uses ${labelOf(joint)}` : `${labelOf(client ?? '')} uses ${view.row.name}` }}: {{ counted(shownLines.length, 'reference') }}</h2><span><RouterLink v-if="isTypeId(joint ?? client ?? '')" :to="{ query: { type: joint ?? client } }">Go there</RouterLink> <el-button size="small" @click="show({})">Close</el-button></span></header>
          <CodeReference v-for="one in shownLines" :key="`${one.file}:${one.line}:${one.column}:${one.member}`" :reference="one" :root="store.project?.path ?? ''" />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.where { margin: 0; } .name { font-size: 20px; margin-right: 6px; }
.remedies { margin: 10px 0; min-height: 32px; display: flex; flex-wrap: wrap; gap: 8px 12px; align-items: center; } .remedies .el-button { margin-left: 0; }
.places { width: 300px; } .place { display: flex; justify-content: space-between; gap: 16px; } .why { display: block; font-size: 13.5px; }
.cost { font-weight: 400; opacity: .85; margin-left: 8px; }
.columns { display: grid; grid-template-columns: minmax(250px, 1fr) minmax(420px, 1.7fr) ; gap: 12px; align-items: start; }
.columns:has(.lines) { grid-template-columns: minmax(220px, 1fr) minmax(400px, 1.7fr) minmax(360px, 1.7fr); }
.columns:has(.lines) > section { max-height: calc(100vh - 190px); overflow: auto; }
/* The lines tell why; the buttons have to stay in sight. */
.columns:has(.lines) .because { display: none; }
.finding { display: block; padding: 5px 14px; border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent); font-size: 14px; color: inherit; text-decoration: none; } .finding:hover { background: var(--heather-soft); }
.behind { font-size: 13.5px; } .behind .good { white-space: nowrap; } .quiet { opacity: .4; } .if { padding-right: 0 !important; } .what-if { padding: 9px 14px; margin: 0; background: var(--heather-soft); }
.item { padding: 5px 14px; border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent); font-size: 14px; }
.item:hover, .item.chosen, tr.chosen { background: var(--heather-soft); }
.second { border-top: 1px solid var(--rule); }
.reason { font-size: 13.5px; }
.shape { width: 80px; padding-top: 8px !important; }
.list { padding: 4px 14px; display: flex; gap: 12px; flex-wrap: wrap; }
@media (max-width: 1180px) { .columns:has(.lines) { grid-template-columns: 1fr 1.4fr; } .lines { grid-column: 1 / -1; } }
</style>
