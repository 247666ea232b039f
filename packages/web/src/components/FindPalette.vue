<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { TypeRow } from '@hollowmoor/contract/views'
import { api } from '../api/client'
import { KIND_WORDS } from '../labels'
import { search } from '../search'

const emit = defineEmits<{ (e: 'close'): void }>()
const route = useRoute()
const router = useRouter()
const text = ref('')
const chosen = ref(0)
const types = ref<TypeRow[]>([])
const input = ref<HTMLInputElement | null>(null)
const project = Number(route.params.project)
if (Number.isFinite(project)) void api.types(project).then(rows => { types.value = rows }, () => undefined)
void nextTick(() => input.value?.focus())

const found = computed(() => search(types.value, text.value, 12))

function open(row: TypeRow | undefined): void {
  if (!row) return
  void router.push({ name: 'class', params: { project }, query: { type: row.id } })
  emit('close')
}
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') emit('close')
  else if (event.key === 'ArrowDown') { chosen.value = Math.min(found.value.length - 1, chosen.value + 1); event.preventDefault() }
  else if (event.key === 'ArrowUp') { chosen.value = Math.max(0, chosen.value - 1); event.preventDefault() }
  else if (event.key === 'Enter') open(found.value[chosen.value])
  else chosen.value = 0
}
</script>

<template>
  <div class="veil" @click.self="emit('close')">
    <div class="box sheet" role="dialog" aria-label="Find">
      <input ref="input" v-model="text" placeholder="Name of a class, interface, file or folder" aria-label="Find" @keydown="onKey" />
      <ol>
        <li v-for="(row, index) in found" :key="row.id" :class="{ chosen: index === chosen }">
          <button class="row" @click="open(row)"><strong>{{ row.name }}</strong> <span class="soft">{{ KIND_WORDS[row.kind] ?? row.kind }} · {{ row.file }}:{{ row.line }}</span></button>
        </li>
        <li v-if="found.length === 0" class="empty">Nothing of that name.</li>
      </ol>
    </div>
  </div>
</template>

<style scoped>
.veil { position: fixed; inset: 0; background: rgb(0 0 0 / 30%); z-index: 30; }
.box { width: min(640px, 92vw); margin: 9vh auto 0; box-shadow: 0 8px 30px rgb(0 0 0 / 30%); }
input { width: 100%; border: 0; border-bottom: 1px solid var(--rule); background: transparent; color: var(--ink); font: inherit; font-size: 17px; padding: 12px 14px; }
input:focus { outline: none; }
ol { list-style: none; margin: 0; padding: 4px 0; max-height: 56vh; overflow: auto; }
li .row { padding: 5px 14px; }
li.chosen { background: var(--heather-soft); }
</style>
