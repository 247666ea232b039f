<script setup lang="ts">
defineProps<{ kind: 'welded' | 'bolted' | 'plugged' | 'inert' }>()
const words = { welded: 'Welded: nothing outside can replace it', bolted: 'Bolted: handed in, but as a concrete class', plugged: 'Plugged: handed in as an abstraction', inert: 'Inert: only data, needs no replacing' }
</script>

<template>
  <svg viewBox="0 0 64 16" width="64" height="16" role="img" :aria-label="words[kind]" class="glyph" :class="kind">
    <title>{{ words[kind] }}</title>
    <template v-if="kind === 'welded'"><rect x="0" y="4" width="64" height="8" class="fill" /><path d="M4 12l6-8M14 12l6-8M24 12l6-8M34 12l6-8M44 12l6-8M54 12l6-8" class="hatch" /></template>
    <template v-else-if="kind === 'bolted'"><rect x="0" y="6.5" width="64" height="3" class="fill" /><circle cx="32" cy="8" r="6.2" class="head" /><path d="M28.5 8h7" class="slot" /></template>
    <template v-else-if="kind === 'plugged'"><path d="M0 8h22" class="wire" /><rect x="22" y="3.5" width="6" height="9" class="fill" /><path d="M44 2.5h-6v11h6M38 8h26" class="wire socket" /></template>
    <path v-else d="M0 8h64" class="thin" />
  </svg>
</template>

<style scoped>
.glyph { display: block; }
.welded .fill { fill: var(--rust); } .hatch { stroke: var(--sheet); stroke-width: 2; }
.bolted .fill { fill: var(--gorse-mark); } .head { fill: var(--sheet); stroke: var(--gorse-mark); stroke-width: 2.4; } .slot { stroke: var(--gorse-mark); stroke-width: 2.4; }
.plugged .fill { fill: var(--bog); } .wire { stroke: var(--bog); stroke-width: 2.4; fill: none; }
.thin { stroke: var(--soft); stroke-width: 1.2; stroke-dasharray: 2 3; }
</style>
