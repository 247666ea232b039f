<script setup lang="ts">
import { computed } from 'vue'
import type { ClassView } from '@hollowmoor/contract/views'
import { usePreferences } from '../../composables/usePreferences'
import { counted, labelOf } from '../../labels'

const props = defineProps<{ view: ClassView; root: string }>()
const { editorHref } = usePreferences()
const members = computed(() => [...props.view.members].filter(member => member.kind !== 'constructor').sort((a, b) => b.clients - a.clients || a.line - b.line))
const usedBy = (member: ClassView['members'][number]) => (!member.public ? '' : member.clients > 0 ? String(member.clients) : member.tests > 0 ? 'tests only' : 'nobody')
const ROW = 24, LEFT = 12, RIGHT = 330
/** Each group of methods with the fields they share, methods left and fields right, a line where a method's group uses the field. */
const drawings = computed(() => props.view.cohesion.groups.slice(0, 6).map(group => {
  const methods = group.methods.slice(0, 12), fields = group.fields.slice(0, 12)
  return { group, methods, fields, height: Math.max(methods.length, fields.length) * ROW + 8, more: group.methods.length - methods.length }
}))
</script>

<template>
  <section class="sheet">
    <header><h2>Its members, by how many types use them</h2></header>
    <table class="plain"><tbody><tr v-for="(member, index) in members.slice(0, 80)" :key="`${member.name}${index}`"><td class="mono"><a :href="editorHref(root, view.row.file, member.line)">{{ member.name }}</a></td><td class="soft">{{ member.public ? '' : 'hidden' }} {{ member.kind }}<span v-if="member.refuses" class="heed"> · empty or only throws</span></td><td class="figure" :class="{ soft: member.clients === 0 }">{{ usedBy(member) }}</td></tr></tbody></table>
    <template v-if="view.clientGroups.length > 1">
      <header class="second"><h2>Its clients fall into {{ view.clientGroups.length }} groups that use separate members</h2></header>
      <p v-for="(group, index) in view.clientGroups" :key="index" class="group"><strong class="mono">{{ group.clients.slice(0, 4).map(id => labelOf(id)).join(', ') }}{{ group.clients.length > 4 ? ` and ${group.clients.length - 4} more` : '' }}</strong> <span class="soft">{{ group.clients.length === 1 ? 'uses' : 'use' }}</span> <span class="mono">{{ group.members.join(', ') }}</span></p>
    </template>
    <template v-if="view.cohesion.lcom4 !== null">
      <header class="second"><h2>{{ view.cohesion.groups.length > 1 ? `Its methods form ${view.cohesion.groups.length} groups over shared fields` : 'Its methods share their fields' }} <span class="soft">(LCOM4 {{ view.cohesion.lcom4 }}{{ view.cohesion.tcc === null ? '' : `, TCC ${view.cohesion.tcc.toFixed(2)}` }})</span></h2></header>
      <template v-if="view.cohesion.groups.length > 1">
        <svg v-for="(one, at) in drawings" :key="at" :viewBox="`0 0 460 ${one.height}`" class="groups" role="img" :aria-label="`Group of ${one.group.methods.join(', ')} over ${one.group.fields.join(', ')}`">
          <path :d="`M${LEFT + 150},${one.height / 2}H${RIGHT - 12}`" class="link" /><path :d="`M${LEFT + 150},6V${one.methods.length * ROW}M${RIGHT - 12},6V${one.fields.length * ROW}`" class="link" />
          <text v-for="(name, index) in one.methods" :key="`m${name}`" :x="LEFT + 142" :y="index * ROW + 19" text-anchor="end">{{ name.length > 20 ? `${name.slice(0, 8)}…${name.slice(-10)}` : name }}</text>
          <text v-for="(name, index) in one.fields" :key="`f${name}`" :x="RIGHT" :y="index * ROW + 19" class="field">{{ name.length > 16 ? `${name.slice(0, 6)}…${name.slice(-8)}` : name }}</text>
          <text v-if="one.more > 0" :x="(LEFT + 150 + RIGHT) / 2" :y="one.height / 2 - 5" text-anchor="middle" class="more">and {{ one.more }} more methods</text>
        </svg>
        <p class="group"><template v-if="view.cohesion.between.length === 0">No group calls another: each could be a class of its own.</template><template v-else>Against dividing it: {{ counted(view.cohesion.between.length, 'call') }} between groups, such as <a class="mono" :href="editorHref(root, view.row.file, view.cohesion.between[0]!.line)">{{ view.cohesion.between[0]!.from }} → {{ view.cohesion.between[0]!.to }}</a>.</template></p>
      </template>
    </template>
  </section>
</template>

<style scoped>
.second { border-top: 1px solid var(--rule); }
.group { padding: 5px 14px; margin: 0; font-size: 14px; overflow-wrap: anywhere; }
.groups { width: 100%; max-width: 560px; display: block; border-bottom: 1px dotted var(--rule); }
.groups text { font: 13px var(--mono); fill: var(--ink); } .groups .field { fill: var(--heather); } .groups .more { font: 13px 'Source Sans 3', sans-serif; fill: var(--soft); }
.link { stroke: var(--stream); stroke-width: 2.2; fill: none; }
</style>
