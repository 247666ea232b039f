<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{ excerpt: readonly string[]; firstLine: number; line: number; mark: readonly [number, number] }>()
const lines = computed(() => props.excerpt.map((text, index) => {
  const number = props.firstLine + index
  const [start, end] = props.mark
  if (number !== props.line) return { number, before: text, mark: '', after: '' }
  // What is marked far to the right is brought into sight.
  const before = start > 46 ? `…${text.slice(start - 34, start)}` : text.slice(0, start)
  return { number, before, mark: text.slice(start, end), after: text.slice(end) }
}))
</script>

<template>
  <pre><code><span v-for="one in lines" :key="one.number" class="line"><span class="number">{{ one.number }}</span>{{ one.before }}<mark v-if="one.mark">{{ one.mark }}</mark>{{ one.after }}
</span></code></pre>
</template>

<style scoped>
pre { margin: 0; background: var(--code); padding: 5px 8px; overflow-x: auto; font-size: 13px; line-height: 1.45; }
.number { display: inline-block; width: 4ch; margin-right: 1ch; text-align: right; color: var(--soft); user-select: none; }
mark { background: var(--rust-soft); color: inherit; font-weight: 600; box-shadow: inset 0 -2px 0 var(--rust); }
</style>
