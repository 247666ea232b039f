<script setup lang="ts">
import { computed } from 'vue'
import type { ChangeView } from '@hollowmoor/contract/views'
import { usePreferences } from '../../composables/usePreferences'
import { counted } from '../../labels'

type Beside = NonNullable<ChangeView['steps'][number]['beside']>
const props = defineProps<{ beside: Beside; files: ChangeView['files']; root: string }>()
const { editorHref } = usePreferences()
/** The new test: as many lines as the old one has, from what builds the object on. */
const added = computed(() => {
  const lines = props.files.find(file => file.path === props.beside.newPath)?.hunks.flatMap(hunk => hunk.lines.map(line => line.slice(1))) ?? []
  const begin = lines.findIndex(line => /^\s*\/\*\* An? .* by itself/.test(line))
  return { line: begin + 1, text: lines.slice(begin, begin + Math.max(props.beside.text.length, 12)) }
})
/** Whether the new one needs no more of anything. */
const isLess = computed(() => props.beside.new.lines <= props.beside.old.lines && props.beside.new.realObjects <= props.beside.old.realObjects)
const told = ({ lines, realObjects }: { lines: number; realObjects: number }) => `${counted(lines, 'line')} of set-up, ${counted(realObjects, 'real object')}`
</script>

<template>
  <section class="sheet beside">
    <header><h2>The test that there is, and the new one</h2></header>
    <div class="sides">
      <div><p><a class="mono" :href="editorHref(root, beside.path, beside.line)">{{ beside.path }}:{{ beside.line }}</a><br /><strong>{{ told(beside.old) }}</strong></p><pre>{{ beside.text.join('\n') }}</pre></div>
      <div><p><span class="mono">{{ beside.newPath }}:{{ added.line }}</span><br /><strong :class="{ good: isLess }">{{ told(beside.new) }}, {{ counted(beside.new.doubles, 'double') }}</strong></p><pre>{{ added.text.join('\n') }}</pre></div>
    </div>
  </section>
</template>

<style scoped>
.beside { margin-top: 12px; } .sides { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 14px; padding: 8px 14px 12px; } .sides p { margin: 0 0 6px; overflow-wrap: anywhere; }
pre { background: var(--code); padding: 8px; margin: 0; font: 13px/1.5 var(--mono); white-space: pre-wrap; overflow-wrap: anywhere; max-height: 320px; overflow: auto; }
@media (max-width: 1080px) { .sides { grid-template-columns: 1fr; } }
</style>
