<script setup lang="ts">
import type { ReferenceView } from '@hollowmoor/contract/views'
import { usePreferences } from '../composables/usePreferences'
import { labelOf } from '../labels'
import ExcerptLines from './ExcerptLines.vue'

defineProps<{ reference: ReferenceView; root: string }>()
const { editorHref } = usePreferences()
</script>

<template>
  <article class="reference">
    <p>
      <a :href="editorHref(root, reference.file, reference.line, reference.column)" class="mono" title="Open in your editor">{{ reference.file }}:{{ reference.line }}</a>
      <span class="soft what">{{ reference.kind }} {{ reference.member ? `${labelOf(reference.to)}.${reference.member}` : labelOf(reference.to) }}{{ reference.typeOnly ? ', erased by the compiler' : '' }}</span>
    </p>
    <ExcerptLines :excerpt="reference.excerpt" :first-line="reference.firstLine" :line="reference.line" :mark="reference.mark" />
  </article>
</template>

<style scoped>
.reference { padding: 8px 14px; border-bottom: 1px solid var(--rule); }
.what { margin-left: 7px; }
p { margin: 0 0 4px; overflow-wrap: anywhere; }
</style>
