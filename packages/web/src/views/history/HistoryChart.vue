<script setup lang="ts">
import { scaleLinear, scalePoint } from 'd3-scale'
import { line } from 'd3-shape'
import { computed } from 'vue'
import type { HistoryRow } from '@hollowmoor/contract/views'

const props = defineProps<{ rows: readonly HistoryRow[]; before: number | null; after: number | null }>()
const emit = defineEmits<{ (e: 'choose', id: number): void }>()
const width = 700, height = 230, left = 44, right = 176, top = 14, bottom = 34
const shareOf = (row: HistoryRow, kinds: readonly (keyof HistoryRow['shares']['verdicts'])[]) => {
  const { verdicts } = row.shares
  const all = verdicts.alone + verdicts['with-real-classes'] + verdicts['needs-outside'] + verdicts['not-known']
  return all === 0 ? 0 : kinds.reduce((sum, kind) => sum + verdicts[kind], 0) / all
}
const series = [
  { name: 'tested alone', mark: 'alone', of: (row: HistoryRow) => shareOf(row, ['alone']) },
  { name: 'or with real classes', mark: 'real', of: (row: HistoryRow) => shareOf(row, ['alone', 'with-real-classes']) },
  { name: 'joints welded', mark: 'welded', of: (row: HistoryRow) => { const { welded, bolted, plugged } = row.shares; return welded + bolted + plugged === 0 ? 0 : welded / (welded + bolted + plugged) } }
]
const x = computed(() => scalePoint<number>().domain(props.rows.map(row => row.id)).range([left, width - right]).padding(0.3))
const y = scaleLinear().domain([0, 1]).range([height - bottom, top])
const lines = computed(() => series.map(one => {
  const points = props.rows.map(row => [x.value(row.id)!, y(one.of(row))] as [number, number])
  return { ...one, points, path: line()(points) ?? '', last: points.at(-1) }
}))
/** Names at the lines' ends, pushed apart where they would lie over each other. */
const labels = computed(() => {
  const wanted = lines.value.flatMap(one => (one.last ? [{ ...one, at: one.last[1] }] : [])).sort((a, b) => a.at - b.at)
  wanted.forEach((one, index) => { if (index > 0) one.at = Math.max(one.at, wanted[index - 1]!.at + 17) })
  return wanted
})
const percent = (value: number) => `${Math.round(value * 100)} %`
</script>

<template>
  <svg :viewBox="`0 0 ${width} ${height}`" class="chart" role="group" aria-label="Shares of the project over its surveys">
    <g v-for="tick in [0, 0.25, 0.5, 0.75, 1]" :key="tick"><path :d="`M${left},${y(tick)}H${width - right}`" class="grid" /><text :x="left - 6" :y="y(tick) + 4" text-anchor="end">{{ percent(tick) }}</text></g>
    <path v-for="one in lines" :key="one.name" :d="one.path" class="line" :class="one.mark" />
    <g v-for="row in props.rows" :key="row.id" class="moment" :class="{ chosen: row.id === props.before || row.id === props.after }" tabindex="0" role="button" :aria-label="`Survey of ${row.at.slice(0, 16)}: ${series.map(one => `${percent(one.of(row))} ${one.name}`).join(', ')}`" @click="emit('choose', row.id)" @keydown.enter="emit('choose', row.id)">
      <rect :x="x(row.id)! - 6" :y="top" width="12" :height="height - top - bottom" class="hit" />
      <template v-for="one in series" :key="one.name">
        <circle v-if="one.mark === 'alone'" :cx="x(row.id)" :cy="y(one.of(row))" r="4" class="alone" />
        <rect v-else-if="one.mark === 'welded'" :x="x(row.id)! - 3.5" :y="y(one.of(row)) - 3.5" width="7" height="7" class="welded" />
        <path v-else :d="`M${x(row.id)},${y(one.of(row)) - 5}l5,8h-10z`" class="real" />
      </template>
      <title>{{ row.at.slice(0, 16).replace('T', ' ') }} {{ row.subject }}</title>
    </g>
    <text v-for="one in labels" :key="one.name" :x="width - right + 10" :y="one.at + 4" class="name" :class="one.mark">{{ percent(one.of(props.rows.at(-1)!)) }} {{ one.name }}</text>
    <text v-if="props.rows.length > 0" :x="x(props.rows[0]!.id)" :y="height - 12" text-anchor="start">{{ props.rows[0]!.at.slice(0, 10) }}</text>
    <text v-if="props.rows.length > 1" :x="x(props.rows.at(-1)!.id)" :y="height - 12" text-anchor="end">{{ props.rows.at(-1)!.at.slice(0, 10) }}</text>
  </svg>
</template>

<style scoped>
.chart { width: 100%; max-height: 320px; display: block; }
text { font-size: 13px; fill: var(--soft); } .name { font-weight: 600; }
.grid { stroke: var(--rule); } .line { fill: none; stroke-width: 2; }
.line.alone { stroke: var(--bog); } .line.real { stroke: var(--gorse); } .line.welded { stroke: var(--rust); }
circle.alone, .name.alone { fill: var(--bog); } path.real, .name.real { fill: var(--gorse); } rect.welded, .name.welded { fill: var(--rust); }
.line.alone, .line.real, .line.welded { fill: none; }
.hit { fill: transparent; } .moment { cursor: pointer; outline: none; } .moment:hover .hit, .moment:focus-visible .hit { fill: var(--heather-soft); } .moment.chosen .hit { fill: var(--heather); opacity: .25; }
</style>
