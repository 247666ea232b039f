<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { FindingRow } from '@hollowmoor/contract/views'
import { api } from '../../api/client'
import ExcerptLines from '../../components/ExcerptLines.vue'
import TakeAlong from '../../components/TakeAlong.vue'
import { useLoaded } from '../../composables/useLoaded'
import { usePreferences } from '../../composables/usePreferences'
import { freedText, remedyLink, subjectLink } from '../../finding-links'
import { counted, FINDING_WORDS, REMEDY_WORDS } from '../../labels'
import { useProjectStore } from '../../stores/project'

const route = useRoute()
const router = useRouter()
const store = useProjectStore()
const { editorHref } = usePreferences()
const id = Number(route.params.project)
const findings = useLoaded(() => store.version, () => (store.project?.surveyId ? api.findings(id) : null))
const kind = computed(() => (typeof route.query.kind === 'string' ? route.query.kind : ''))
const chosenId = computed(() => (typeof route.query.finding === 'string' ? route.query.finding : null))
const showAside = computed(() => route.query.aside === 'yes')
const changing = useLoaded(() => store.version, () => (store.project?.surveyId ? api.changing(id) : null))
const byChanges = computed(() => route.query.weigh === 'changes' && changing.data.value !== null)
const worthOf = (one: FindingRow) => one.worth * (changing.data.value?.weights[one.id] ?? 1)
const most = ref(150)
const words = ref('')
const all = computed(() => findings.data.value ?? [])
const open = computed(() => all.value.filter(one => !one.setAside))
const aside = computed(() => all.value.filter(one => one.setAside))
const kinds = computed(() => {
  const counts = new Map<string, number>()
  for (const one of showAside.value ? aside.value : open.value) counts.set(one.kind, (counts.get(one.kind) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1])
})
const rows = computed(() => (showAside.value ? aside.value : open.value).filter(one => (kind.value === '' || one.kind === kind.value) && `${one.sentence} ${one.subject}`.toLowerCase().includes(words.value.toLowerCase()))
  .sort((a, b) => (byChanges.value ? worthOf(b) - worthOf(a) : 0)))
const chosen = useLoaded([() => store.version, chosenId], () => (chosenId.value === null ? null : api.finding(id, chosenId.value)))
const finding = computed(() => (chosenId.value === null ? null : chosen.data.value))
/** A library is wrapped class by class, in one change. */
const wraps = useLoaded([() => finding.value?.id], () => (finding.value?.about === 'external' ? api.wraps(id, finding.value.subject) : null))
const linkOf = (row: FindingRow, remedy: string) => {
  if (row.about !== 'external' || remedy !== 'wrap-library') return remedyLink(id, row, remedy)
  const steps = wraps.data.value?.map(offer => offer.id) ?? []
  return steps.length === 0 || !steps[0]!.endsWith(`:${row.subject}`) ? null : { name: 'new-change', params: { project: id }, query: { step: steps } }
}
const set = (query: Record<string, string | undefined>) => router.push({ query: { ...route.query, ...query } })
const reason = ref('')
const asking = ref(false)
watch(chosenId, () => { asking.value = false; reason.value = '' })
async function setAside(row: FindingRow): Promise<void> {
  await api.setAside(id, row.id, reason.value)
  asking.value = false
  await Promise.all([findings.reload(), chosen.reload()])
}
async function takeBack(row: FindingRow): Promise<void> {
  await api.takeBack(id, row.id)
  await Promise.all([findings.reload(), chosen.reload()])
}
</script>

<template>
  <div class="page">
    <p v-if="findings.error.value && !store.job" class="bad" role="alert">{{ findings.error.value }}</p>
    <h1 v-if="findings.data.value">
      <template v-if="open.length > 0"><strong>{{ counted(open.length, 'place') }}</strong> {{ open.length === 1 ? 'is' : 'are' }} worth changing; those that free most for least come first{{ byChanges ? ', those in code that changes often before the rest' : '' }}.</template>
      <template v-else><span class="good">Nothing is found that is worth changing.</span></template>
      <template v-if="aside.length > 0">&ensp;<a href="#" @click.prevent="set({ aside: showAside ? undefined : 'yes', kind: undefined, finding: undefined })">{{ showAside ? 'Back to what is open' : `${counted(aside.length, 'was', 'were')} set aside` }}</a>.</template>
    </h1>
    <div class="columns" :class="{ open: finding }">
      <section class="sheet list">
        <header>
          <el-input v-model="words" placeholder="Part of its text" aria-label="Filter" clearable class="filter" />
          <label class="kinds">kind <select :value="kind" @change="set({ kind: ($event.target as HTMLSelectElement).value || undefined })"><option value="">all</option><option v-for="[one, count] in kinds" :key="one" :value="one">{{ FINDING_WORDS[one] ?? one }} ({{ count }})</option></select></label>
          <label v-if="changing.data.value" class="weigh" title="Code that changes often counts for more: one more each time its commits double"><input type="checkbox" :checked="byChanges" @change="set({ weigh: byChanges ? undefined : 'changes' })"> by changes</label>
          <TakeAlong :project="id" :files="[{ what: 'findings.csv', label: 'CSV' }]" />
        </header>
        <button v-for="one in rows.slice(0, most)" :key="one.id" class="row item" :class="{ chosen: one.id === chosenId }" :aria-pressed="one.id === chosenId" @click="set({ finding: one.id })">
          <span class="kind">{{ FINDING_WORDS[one.kind] ?? one.kind }}<span v-if="one.cameBack" class="heed"> · changed since it was set aside</span></span><span class="good frees">{{ freedText(one) }}</span>
          <span class="said">{{ one.sentence }}</span><span class="soft cost">{{ counted(one.cost.references, 'reference') }}</span>
          <span v-if="one.setAside" class="soft">Set aside: {{ one.setAside.reason }}</span>
        </button>
        <p v-if="rows.length > most" class="empty"><el-button @click="most += 300">Show more of {{ rows.length }}</el-button></p>
        <p v-if="findings.data.value && rows.length === 0" class="empty">Nothing here.</p>
      </section>
      <section v-if="finding" class="sheet detail" aria-live="polite">
        <header>
          <h2>{{ FINDING_WORDS[finding.kind] ?? finding.kind }}: <RouterLink v-if="subjectLink(id, finding)" :to="subjectLink(id, finding)!" class="mono">{{ finding.name }}</RouterLink><span v-else class="mono">{{ finding.name }}</span></h2>
          <el-button size="small" @click="set({ finding: undefined })">Close</el-button>
        </header>
        <div class="block">
          <p class="sentence">{{ finding.sentence }}</p>
          <p v-if="finding.remedies.length === 0" class="soft">No remedy of ours fits here; it is changed by hand.</p>
          <p v-else>Remedies that fit: <template v-for="(one, index) in finding.remedies" :key="one">{{ index > 0 ? ', ' : '' }}<RouterLink v-if="linkOf(finding, one)" :to="linkOf(finding, one)!">{{ REMEDY_WORDS[one] ?? one }}</RouterLink><span v-else class="soft">{{ REMEDY_WORDS[one] ?? one }} ({{ one === 'wrap-library' && wraps.loading.value ? 'looking where it can be' : 'by hand for now' }})</span></template>.</p>
          <details><summary>Why it stands here</summary><p class="soft">{{ finding.rank }}<template v-if="byChanges"> Times {{ (changing.data.value?.weights[finding.id] ?? 1).toFixed(1) }}, because its code changes often.</template></p></details>
          <p v-if="finding.setAside">Set aside: {{ finding.setAside.reason }} <el-button size="small" @click="takeBack(finding)">Take it back</el-button></p>
          <p v-else-if="!asking"><el-button size="small" @click="asking = true">Set aside…</el-button></p>
          <form v-else class="aside" @submit.prevent="setAside(finding)">
            <el-input v-model="reason" placeholder="Why it may stay as it is" aria-label="Why it may stay as it is" />
            <el-button native-type="submit" type="primary" :disabled="reason.trim() === ''">Set aside</el-button>
          </form>
        </div>
        <article v-for="(one, index) in finding.evidence" :key="index" class="evidence">
          <p><a :href="editorHref(store.project?.path ?? '', one.file, one.line, one.column)" class="mono" title="Open in your editor">{{ one.file }}:{{ one.line }}</a> <span class="soft">{{ one.what }}</span></p>
          <ExcerptLines :excerpt="one.excerpt" :first-line="one.firstLine" :line="one.line" :mark="one.mark" />
        </article>
      </section>
    </div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(0, 1fr); gap: 14px; margin-top: 12px; align-items: start; }
.columns.open { grid-template-columns: minmax(320px, 1fr) minmax(420px, 1.15fr); }
.list, .detail { max-height: calc(100vh - 130px); overflow: auto; }
.list header { flex-wrap: nowrap; align-items: center; } .filter { width: 45%; max-width: 280px; }
.weigh { white-space: nowrap; }
.kinds select { font: inherit; color: inherit; background: var(--sheet); border: 1px solid var(--rule); border-radius: 3px; padding: 4px; max-width: 230px; }
.item { display: grid !important; grid-template-columns: minmax(0, 1fr) auto; gap: 1px 12px; padding: 8px 14px !important; border-bottom: 1px solid var(--rule); font-size: 14px; }
.item:hover, .item.chosen { background: var(--heather-soft); }
.kind { font-weight: 700; } .frees, .cost { text-align: right; white-space: nowrap; } .said { overflow-wrap: anywhere; }
.block { padding: 10px 14px; border-bottom: 1px solid var(--rule); }
.block p { margin: 6px 0; } .sentence { font-size: 16px; }
.aside { display: flex; gap: 8px; }
.evidence { padding: 8px 14px; border-bottom: 1px solid var(--rule); } .evidence p { margin: 0 0 4px; overflow-wrap: anywhere; }
@media (max-width: 1080px) { .columns.open { grid-template-columns: 1fr; } .list, .detail { max-height: none; } }
</style>
