<script setup lang="ts">
import { VERDICT_WORDS } from '../labels'

defineProps<{ verdict: 'alone' | 'with-real-classes' | 'needs-outside' | 'not-known' }>()
</script>

<template>
  <span class="verdict" :class="verdict">
    <svg viewBox="0 0 14 14" width="14" height="14" aria-hidden="true">
      <circle v-if="verdict === 'alone'" cx="7" cy="7" r="5.5" class="full" />
      <template v-else-if="verdict === 'with-real-classes'"><circle cx="7" cy="7" r="5.2" class="line" /><path d="M7 1.8a5.2 5.2 0 0 1 0 10.4z" class="full" /></template>
      <path v-else-if="verdict === 'needs-outside'" d="M1.5 1.5h11v11h-11z M4 10l6-6 M6 4h4v4" class="line" />
      <text v-else x="7" y="11.5" text-anchor="middle" class="mark">?</text>
    </svg>
    {{ VERDICT_WORDS[verdict] }}
  </span>
</template>

<style scoped>
.verdict { display: inline-flex; gap: 5px; align-items: baseline; white-space: nowrap; font-weight: 600; }
.alone { color: var(--bog); } .with-real-classes { color: var(--gorse); } .needs-outside { color: var(--rust); } .not-known { color: var(--soft); }
svg { align-self: center; } .full { fill: currentColor; } .line { fill: none; stroke: currentColor; stroke-width: 1.6; } .mark { fill: currentColor; font-size: 13px; font-weight: 700; }
</style>
