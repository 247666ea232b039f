<script setup lang="ts">
import { ref } from 'vue'
import type { ComparisonView } from '@hollowmoor/contract/views'
import { usePreferences } from '../composables/usePreferences'
import { counted, labelOf, VERDICT_WORDS } from '../labels'

const props = defineProps<{ comparison: ComparisonView; root: string; project: number }>()
const { editorHref } = usePreferences()
const most = ref(12)
const names = (ids: readonly string[]) => ids.map(id => labelOf(id)).join(', ')
const places = (from: { places: ComparisonView['come'][number]['places'] }) => from.places.slice(0, 2)
</script>

<template>
  <div class="comparison">
    <p v-if="props.comparison.opened.length + props.comparison.closed.length + props.comparison.come.length + props.comparison.gone.length + props.comparison.freed.length + props.comparison.tied.length === 0" class="soft">Nothing is different in what depends on what, in the cycles and in what can be tested alone.</p>
    <p v-for="(one, index) in props.comparison.opened" :key="`o${index}`"><span class="bad">Opened:</span> a cycle of {{ one.level }} with {{ names(one.members) }}<span v-if="one.joined.length < one.members.length" class="soft"> ({{ names(one.joined) }} came in)</span></p>
    <p v-for="(one, index) in props.comparison.closed" :key="`c${index}`"><span class="good">Closed:</span> the cycle of {{ one.level }} with {{ names(one.members) }}</p>
    <p v-if="props.comparison.tied.length > 0"><span class="bad">{{ counted(props.comparison.tied.length, 'type') }} tied to the outside:</span> <template v-for="(one, index) in props.comparison.tied.slice(0, most)" :key="one.type">{{ index > 0 ? ', ' : '' }}<RouterLink class="mono" :to="{ name: 'class', params: { project: props.project }, query: { type: one.type } }">{{ labelOf(one.type) }}</RouterLink> <span class="soft">({{ one.before === null ? 'new' : VERDICT_WORDS[one.before] }} → {{ VERDICT_WORDS[one.after] }})</span></template></p>
    <p v-if="props.comparison.freed.length > 0"><span class="good">{{ counted(props.comparison.freed.length, 'type') }} freed:</span> <template v-for="(one, index) in props.comparison.freed.slice(0, most)" :key="one.type">{{ index > 0 ? ', ' : '' }}<RouterLink class="mono" :to="{ name: 'class', params: { project: props.project }, query: { type: one.type } }">{{ labelOf(one.type) }}</RouterLink> <span class="soft">({{ VERDICT_WORDS[one.before] }} → {{ VERDICT_WORDS[one.after] }})</span></template></p>
    <template v-for="[list, word] in ([[props.comparison.come, 'come'], [props.comparison.gone, 'gone']] as const)" :key="word">
      <p v-if="list.length > 0" class="lead"><strong>{{ counted(list.length, 'dependency', 'dependencies') }} {{ word === 'come' ? 'added' : 'gone' }}</strong></p>
      <table v-if="list.length > 0" class="plain"><tbody><tr v-for="one in list.slice(0, most)" :key="`${one.from} ${one.to}`"><td><span class="mono">{{ labelOf(one.from) }}</span> → <span class="mono">{{ labelOf(one.to) }}</span></td><td class="figure refs">{{ counted(one.references, 'ref') }}</td><td><template v-for="place in places(one)" :key="`${place.file}${place.line}`"><a v-if="word === 'come'" class="mono" :href="editorHref(props.root, place.file, place.line)">{{ place.file }}:{{ place.line }}</a><span v-else class="mono soft">{{ place.file }}:{{ place.line }}</span><span v-if="place.commit" class="soft"> in {{ place.commit }}</span>&ensp;</template></td></tr></tbody></table>
    </template>
    <p v-if="Math.max(props.comparison.come.length, props.comparison.gone.length, props.comparison.tied.length, props.comparison.freed.length) > most"><el-button size="small" @click="most += 200">Show more</el-button></p>
  </div>
</template>

<style scoped>
.comparison { padding: 8px 14px 12px; } p { margin: 5px 0; overflow-wrap: anywhere; } .lead { margin-top: 10px; } .refs { white-space: nowrap; }
</style>
