<script setup lang="ts">
import { computed } from 'vue'
import type { FileView } from '@hollowmoor/contract/views'
import { usePreferences } from '../../composables/usePreferences'
import { pairLines } from '../../pair-lines'

const props = defineProps<{ file: FileView; refused: 'all' | readonly number[] | undefined; frozen: boolean; root: string }>()
const emit = defineEmits<{ (e: 'decide', refused: 'all' | number[] | undefined): void }>()
const { editorHref } = usePreferences()
const isRefused = (hunk: number) => props.refused === 'all' || (props.refused?.includes(hunk) ?? false)
const paired = computed(() => props.file.hunks.map(pairLines))

function toggle(hunk: number): void {
  const before = props.refused === 'all' ? props.file.hunks.map((_, index) => index) : [...(props.refused ?? [])]
  const after = before.includes(hunk) ? before.filter(one => one !== hunk) : [...before, hunk].sort((a, b) => a - b)
  emit('decide', after.length === 0 ? undefined : after.length === props.file.hunks.length ? 'all' : after)
}
</script>

<template>
  <section class="sheet file" :class="{ refused: refused === 'all' }">
    <header>
      <h2><a class="mono" :href="editorHref(root, file.path, file.hunks[0]?.oldStart ?? 1)">{{ file.path }}</a> {{ file.isNew ? 'new file' : file.isGone ? 'removed' : '' }}</h2>
      <el-checkbox :model-value="refused !== 'all'" :indeterminate="Array.isArray(refused)" :disabled="frozen" label="accept this file" @change="emit('decide', refused === 'all' ? undefined : 'all')" />
    </header>
    <div v-for="(hunk, index) in paired" :key="index" class="hunk" :class="{ refused: isRefused(index) }">
      <div v-if="file.hunks.length > 1" class="bar"><span class="soft">lines {{ file.hunks[index]!.oldStart }} on</span> <el-checkbox size="small" :model-value="!isRefused(index)" :disabled="frozen" label="accept" @change="toggle(index)" /></div>
      <table><tbody>
        <tr v-for="(row, at) in hunk" :key="at">
          <!-- What is new has no side before, and what goes none after. -->
          <template v-if="!file.isNew"><td class="number">{{ row.oldNumber ?? '' }}</td><td class="text" :class="{ removed: row.changed && row.old !== null, none: row.old === null }"><code>{{ row.old ?? '' }}</code></td></template>
          <template v-if="!file.isGone"><td class="number">{{ row.newNumber ?? '' }}</td><td class="text" :class="{ added: row.changed && row.new !== null, none: row.new === null }"><code>{{ row.new ?? '' }}</code></td></template>
        </tr>
      </tbody></table>
    </div>
  </section>
</template>

<style scoped>
.file { margin-top: 12px; overflow: hidden; }
.refused table { opacity: .38; text-decoration: line-through; }
.bar { display: flex; gap: 14px; align-items: center; padding: 0 14px; background: var(--code); }
table { width: 100%; border-collapse: collapse; table-layout: fixed; }
.number { width: 44px; text-align: right; padding: 0 8px; color: var(--soft); font: 12px var(--mono); user-select: none; vertical-align: top; line-height: 20px; }
.text { padding: 0 6px; line-height: 20px; white-space: pre-wrap; overflow-wrap: anywhere; }
.text code { font-size: 13px; }
.removed { background: var(--removed); box-shadow: inset 3px 0 0 var(--rust); } .added { background: var(--added); box-shadow: inset 3px 0 0 var(--bog); } .none { background: var(--code); }
</style>
