<script setup lang="ts">
import { computed } from 'vue'
import type { CycleView } from '@hollowmoor/contract/views'
import { layoutLadder } from '@hollowmoor/core/layout/ladder'
import type { Bracket } from '@hollowmoor/core/layout/ladder'
import { counted, labelOf, shortened } from '../../labels'
import { arrow } from '../../what-if'

const props = defineProps<{ cycle: CycleView; selected: string | null; struck: readonly string[] }>()
const emit = defineEmits<{ (e: 'select', from: string, to: string): void; (e: 'strike', from: string, to: string): void }>()

const small = computed(() => props.cycle.members.length <= 12)
/** Beyond a dozen members only the cut is bracketed, and what is selected. */
const ladder = computed(() => layoutLadder(props.cycle, small.value ? 60 : 0))
const step = computed(() => (small.value ? Math.max(46, Math.min(96, 420 / props.cycle.members.length)) : 24))
const lane = 30
const names = { left: computed(() => 26 + ladder.value.lanes.forward * lane), width: 190 }
const right = computed(() => names.left.value + names.width)
const width = computed(() => right.value + 40 + ladder.value.lanes.back * lane + 40)
const height = computed(() => ladder.value.rungs.length * step.value + 20)
const y = (row: number) => 16 + row * step.value + step.value / 2
const thick = (references: number) => Math.min(11, 2 + 1.5 * Math.sqrt(references))
function path(one: Bracket): string {
  const a = y(one.fromRow) + (one.back ? -5 : 5), b = y(one.toRow) + (one.back ? 5 : -5)
  const x = one.back ? right.value + 22 + one.lane * lane + lane / 2 : names.left.value - 8 - one.lane * lane - lane / 2
  const inner = one.back ? right.value + 6 : names.left.value - 4
  return `M${inner},${a}H${x}V${b}H${inner + (one.back ? 5 : -5)}`
}
function head(one: Bracket): string {
  const b = y(one.toRow) + (one.back ? 5 : -5), size = 5 + thick(one.references) / 3
  const tip = one.back ? right.value + 3 : names.left.value - 1
  return one.back ? `M${tip},${b}l${size},${-size}v${2 * size}z` : `M${tip},${b}l${-size},${-size}v${2 * size}z`
}
function tag(one: Bracket) {
  return { x: one.back ? right.value + 22 + one.lane * lane + lane / 2 : names.left.value - 8 - one.lane * lane - lane / 2, y: (y(one.fromRow) + y(one.toRow)) / 2 }
}
const sorted = computed(() => [...ladder.value.brackets].sort((a, b) => Number(arrow(a.from, a.to) === props.selected) - Number(arrow(b.from, b.to) === props.selected)))
</script>

<template>
  <div class="holder">
    <svg :viewBox="`0 0 ${width} ${height}`" :style="{ width: `${width}px`, maxWidth: small ? '100%' : undefined }" class="ladder" role="group" aria-label="Members in the order that the cut leaves">
      <g v-for="(member, row) in ladder.rungs" :key="member">
        <rect :x="names.left.value" :y="y(row) - (small ? 15 : 10)" :width="names.width" :height="small ? 30 : 20" class="rung" />
        <text :x="names.left.value + 10" :y="y(row) + 5"><title>{{ member }}</title>{{ shortened(labelOf(member), 24) }}</text>
      </g>
      <g v-for="one in sorted" :key="arrow(one.from, one.to)" class="bracket" :class="{ back: one.back, chosen: arrow(one.from, one.to) === selected, struck: struck.includes(arrow(one.from, one.to)) }" tabindex="0" role="button" :aria-label="`${labelOf(one.from)} to ${labelOf(one.to)}, ${counted(one.references, 'reference')}${one.back ? ', part of the best cut' : ''}${struck.includes(arrow(one.from, one.to)) ? ', struck out' : ''}`" @click="emit('select', one.from, one.to)" @keydown.enter="emit('select', one.from, one.to)" @keydown.space.prevent="emit('strike', one.from, one.to)">
        <path :d="path(one)" class="hit" />
        <path :d="path(one)" class="band" :style="{ strokeWidth: thick(one.references) }" />
        <path :d="head(one)" class="tip" />
        <rect :x="tag(one).x - 15" :y="tag(one).y - 10" width="30" height="19" rx="2" class="tag" />
        <text :x="tag(one).x" :y="tag(one).y + 4" text-anchor="middle" class="number">{{ one.references }}</text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.holder { overflow: auto; padding: 8px; }
.ladder { display: block; margin: 0 auto; }
.rung { fill: var(--stone); stroke: var(--ink); stroke-width: 1.1; }
text { font-size: 14px; font-weight: 600; fill: var(--ink); }
.bracket { cursor: pointer; outline: none; }
.hit { stroke: transparent; stroke-width: 16; fill: none; }
.band { stroke: var(--stream); fill: none; }
.tip { fill: var(--soft); }
.tag { fill: var(--sheet); stroke: var(--stream); }
.number { font-size: 13px; }
.back .band { stroke: var(--rust); stroke-dasharray: 7 2.5; } .back .tip { fill: var(--rust); } .back .tag { stroke: var(--rust); } .back .number { fill: var(--rust); }
.bracket:hover .band, .chosen .band { stroke: var(--heather); } .chosen .tag, .bracket:focus-visible .tag { stroke: var(--heather); stroke-width: 2.6; }
.struck .band { opacity: .25; } .struck .number { text-decoration: line-through; }
</style>
