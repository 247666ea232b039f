<script setup lang="ts">
import type { ReferenceView } from '@hollowmoor/contract/views'
import { usePreferences } from '../composables/usePreferences'
import { labelOf } from '../labels'

const props = defineProps<{ reference: ReferenceView; root: string }>()
const { editorHref } = usePreferences()
const lines = props.reference.excerpt.map((text, index) => {
  const number = props.reference.firstLine + index
  const [start, end] = props.reference.mark
  if (number !== props.reference.line) return { number, before: text, mark: '', after: '' }
  // What is marked far to the right is brought into sight.
  const before = start > 46 ? `…${text.slice(start - 34, start)}` : text.slice(0, start)
  return { number, before, mark: text.slice(start, end), after: text.slice(end) }
})
</script>

<template>
  <article class="reference">
    <p>
      <a :href="editorHref(root, reference.file, reference.line, reference.column)" class="mono" title="Open in your editor">{{ reference.file }}:{{ reference.line }}</a>
      <span class="soft what">{{ reference.kind }} {{ reference.member ? `${labelOf(reference.to)}.${reference.member}` : labelOf(reference.to) }}{{ reference.typeOnly ? ', erased by the compiler' : '' }}</span>
    </p>
    <pre><code><span v-for="line in lines" :key="line.number" class="line"><span class="number">{{ line.number }}</span>{{ line.before }}<mark v-if="line.mark">{{ line.mark }}</mark>{{ line.after }}
</span></code></pre>
  </article>
</template>

<style scoped>
.reference { padding: 8px 14px; border-bottom: 1px solid var(--rule); }

.what { margin-left: 7px; }
p { margin: 0 0 4px; overflow-wrap: anywhere; }
pre { margin: 0; background: var(--code); padding: 5px 8px; overflow-x: auto; font-size: 13px; line-height: 1.45; }
.number { display: inline-block; width: 4ch; margin-right: 1ch; text-align: right; color: var(--soft); user-select: none; }
mark { background: var(--rust-soft); color: inherit; font-weight: 600; box-shadow: inset 0 -2px 0 var(--rust); }
</style>
