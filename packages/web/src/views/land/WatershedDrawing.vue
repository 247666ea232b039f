<script setup lang="ts">
import { select } from 'd3-selection'
import { arc as arcShape } from 'd3-shape'
import { zoom, zoomIdentity } from 'd3-zoom'
import { computed, onMounted, ref, watch } from 'vue'
import type { GraphView } from '@hollowmoor/contract/views'
import { apart } from '@hollowmoor/core/layout/apart'
import { layoutWatershed } from '@hollowmoor/core/layout/watershed'
import { counted, shortened } from '../../labels'

const props = defineProps<{ graph: GraphView; selected: string | null }>()
const emit = defineEmits<{ (e: 'select', module: string | null): void; (e: 'open', module: string): void; (e: 'cut', from: string, to: string): void }>()

const width = 860, height = 560
const drawing = computed(() => layoutWatershed(props.graph, width, height))
const crowded = computed(() => props.graph.nodes.length > 16)
/** Where there are many stones, ribbons show for the selected one; what flows back always shows. */
const ribbons = computed(() => drawing.value.ribbons.filter(one => touches(one) || (one.back ? !widest.value || widest.value.has(one) : !crowded.value)))
const touches = (one: { from: string; to: string }) => one.from === props.selected || one.to === props.selected
/** Where more flows back than can be drawn legibly, the widest; null where all of it can. */
const MOST_BACK = 24, MOST_NAMES = 60
const widest = computed(() => {
  const back = drawing.value.ribbons.filter(one => one.back)
  return back.length <= MOST_BACK ? null : new Set([...back].sort((a, b) => b.references - a.references).slice(0, MOST_BACK / 2))
})
const hidden = computed(() => drawing.value.ribbons.filter(one => one.back).length - ribbons.value.filter(one => one.back).length)
const tagBox = (one: { x: number; y: number }) => ({ x: one.x, y: one.y, width: 50, height: 20 })
const wantTags = computed(() => ribbons.value.filter(one => one.back || touches(one)))
/** Where there are many stones, only what lies over nothing else is written: first the widest, and what is chosen. */
const labelled = computed(() => drawing.value.stones.length <= MOST_NAMES ? wantTags.value : apart([...wantTags.value].sort((a, b) => b.references - a.references).slice(0, MOST_BACK), tagBox))
const named = computed(() => {
  const { stones } = drawing.value
  if (stones.length <= MOST_NAMES) return null
  const ends = new Set(ribbons.value.flatMap(one => [one.from, one.to]))
  const rank = (stone: { id: string; radius: number }) => (stone.id === props.selected ? 2e6 : ends.has(stone.id) ? 1e6 : 0) + stone.radius
  const wanted = [...stones].sort((a, b) => rank(b) - rank(a)).slice(0, MOST_NAMES)
  return new Set(apart(wanted, stone => ({ x: stone.x, y: stone.y + stone.radius + 11, width: shortened(stone.label, 16).length * 7.4, height: 16 }), [...labelled.value.map(tagBox), ...stones.map(({ x, y, radius }) => ({ x, y, width: radius, height: radius }))]).map(stone => stone.id))
})
const dim = (from: string, to: string) => props.selected !== null && from !== props.selected && to !== props.selected
const nodes = computed(() => new Map(props.graph.nodes.map(node => [node.id, node])))

const freeOf = (id: string) => { const { verdicts } = nodes.value.get(id)!; return verdicts.alone + verdicts['with-real-classes'] }
const logicOf = (id: string) => { const { verdicts } = nodes.value.get(id)!; return freeOf(id) + verdicts['needs-outside'] + verdicts['not-known'] }
const shareOf = (id: string) => (logicOf(id) === 0 ? '–' : `${freeOf(id)}/${logicOf(id)}`)
/** An arc inside the stone's edge, as long as the share of its types that can be tested without the outside. */
function ringOf(stone: { id: string; x: number; y: number; radius: number }): string | null {
  const all = logicOf(stone.id), free = freeOf(stone.id)
  if (all === 0 || free === 0 || stone.radius < 7) return null
  const inner = Math.max(2, stone.radius - 5), outer = stone.radius - 1
  return arcShape()({ innerRadius: inner, outerRadius: outer, startAngle: 0, endAngle: (2 * Math.PI * free) / all })
}
const svg = ref<SVGSVGElement | null>(null)
const transform = ref('')
const zooming = zoom<SVGSVGElement, unknown>().scaleExtent([0.6, 6]).on('zoom', event => { transform.value = String(event.transform) })
onMounted(() => { if (svg.value) select(svg.value).call(zooming).on('dblclick.zoom', null) })
watch(() => props.graph.within, () => { if (svg.value) select(svg.value).call(zooming.transform, zoomIdentity) })

function describe(id: string): string {
  const node = nodes.value.get(id)!
  const uses = props.graph.dependencies.filter(one => one.from === id), used = props.graph.dependencies.filter(one => one.to === id)
  return `${node.label}: ${counted(node.types, 'type')}, ${counted(node.lines, 'line')}; ${logicOf(id) === 0 ? 'no logic' : `${freeOf(id)} of ${logicOf(id)} types with logic can be tested without the outside`}; uses ${uses.length}, used by ${used.length}${node.opens ? '; can be opened' : ''}`
}
</script>

<template>
  <svg ref="svg" :viewBox="`0 0 ${width} ${height}`" class="watershed" role="group" aria-label="Dependency map" @click.self="emit('select', null)">
    <g :transform="transform">
      <path v-for="pool in drawing.pools" :key="pool.members.join()" :d="pool.path" class="pool" />
      <g v-for="one in ribbons" :key="`${one.from} ${one.to}`" :class="{ dim: dim(one.from, one.to) }">
        <path :d="one.path" :class="one.back ? 'back' : 'ribbon'"><title>{{ nodes.get(one.from)?.label }} → {{ nodes.get(one.to)?.label }}: {{ counted(one.references, 'reference') }}</title></path>
      </g>
      <g v-for="stone in drawing.stones" :key="stone.id" class="stone" :class="{ chosen: stone.id === selected }" tabindex="0" role="button" :aria-label="describe(stone.id)" @click.stop="emit('select', stone.id)" @keydown.enter="nodes.get(stone.id)?.opens ? emit('open', stone.id) : emit('select', stone.id)" @keydown.space.prevent="emit('select', stone.id)" @dblclick="nodes.get(stone.id)?.opens && emit('open', stone.id)">
        <title>{{ describe(stone.id) }}</title>
        <circle :cx="stone.x" :cy="stone.y" :r="stone.radius" />
        <path v-if="ringOf(stone)" :d="ringOf(stone)!" :transform="`translate(${stone.x},${stone.y})`" class="ring" />
        <text v-if="stone.radius > 17" :x="stone.x" :y="stone.y + 5" text-anchor="middle" class="share">{{ shareOf(stone.id) }}</text>
        <path v-if="nodes.get(stone.id)?.opens" :d="`M${stone.x - 4},${stone.y - 2 + (stone.radius > 17 ? 14 : 0)}h8M${stone.x - 4},${stone.y + 2 + (stone.radius > 17 ? 14 : 0)}h8`" class="opens" />
        <text v-if="!named || named.has(stone.id)" :x="stone.x" :y="stone.y + stone.radius + 15" text-anchor="middle">{{ shortened(stone.label, crowded ? 16 : 22) }}</text>
      </g>
      <g v-for="one in labelled" :key="`label ${one.from} ${one.to}`" class="tag" :class="{ back: one.back }" :tabindex="one.back ? 0 : undefined" :role="one.back ? 'link' : undefined" :aria-label="one.back ? `${nodes.get(one.from)?.label} to ${nodes.get(one.to)?.label} flows back: ${counted(one.references, 'reference')}` : undefined" @click.stop="one.back && emit('cut', one.from, one.to)" @keydown.enter="one.back && emit('cut', one.from, one.to)">
        <rect :x="one.x - 24" :y="one.y - 10" width="48" height="19" rx="2" /><text :x="one.x" :y="one.y + 4" text-anchor="middle">{{ one.references }} ref{{ one.references === 1 ? '' : 's' }}</text>
      </g>
    </g>
    <text v-if="hidden > 0" x="8" :y="height - 8" class="more">The widest of what flows back; {{ counted(hidden, 'more dependency', 'more dependencies') }} with a module chosen, or under Cycles.</text>
  </svg>
</template>

<style scoped>
.watershed { width: 100%; height: min(calc(100vh - 252px), 900px); min-height: 380px; display: block; cursor: grab; }
.pool { fill: var(--pool); opacity: .55; }
.ribbon { fill: var(--stream); opacity: .8; }
.back { fill: var(--rust); }
.dim { opacity: .22; }
.stone { cursor: pointer; outline: none; }
.stone circle { fill: var(--stone); stroke: var(--ink); stroke-width: 1.4; }
.ring { fill: var(--bog); pointer-events: none; }
.stone .share { font-size: 13px; font-weight: 600; fill: var(--soft); stroke-width: 0; pointer-events: none; }
.stone:hover circle { fill: var(--heather-soft); }
.stone.chosen circle, .stone:focus-visible circle { stroke: var(--heather); stroke-width: 3.4; }
.stone text { font-size: 13.5px; font-weight: 600; fill: var(--ink); paint-order: stroke; stroke: var(--sheet); stroke-width: 4px; }
.more { font-size: 13px; fill: var(--soft); }
.opens { stroke: var(--soft); stroke-width: 1.6; fill: none; }
.tag rect { fill: var(--sheet); stroke: var(--stream); }
.tag text { font-size: 12.5px; font-weight: 600; fill: var(--ink); }
.tag.back { cursor: pointer; } .tag.back rect { stroke: var(--rust); stroke-width: 1.5; fill: var(--sheet); } .tag.back text { fill: var(--rust); }
.tag.back:focus-visible rect { stroke-width: 3; }
</style>
