<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'

/** `options`: the lines by their numbers, in order; the value is those chosen, as `12-18`. */
const props = defineProps<{ modelValue: string; options: readonly { readonly value: string; readonly label: string }[]; label: string }>()
const emit = defineEmits<{ (e: 'update:modelValue', value: string): void }>()
const chosen = computed(() => {
  const [from, to] = props.modelValue.split('-').map(Number)
  return Number.isInteger(from) && Number.isInteger(to) ? { from: from!, to: to! } : null
})
const first = computed(() => Number(props.options[0]?.value ?? 1)), last = computed(() => Number(props.options.at(-1)?.value ?? 1))
const list = ref<HTMLElement | null>(null)
const isChosen = (line: number) => chosen.value !== null && line >= chosen.value.from && line <= chosen.value.to

function choose(from: number, to: number): void { emit('update:modelValue', `${Math.min(from, to)}-${Math.max(from, to)}`) }
/** A line begins anew; with the shift key it is the other end. */
function pick(line: number, isOtherEnd: boolean): void { choose(isOtherEnd && chosen.value ? (line < chosen.value.from ? chosen.value.to : chosen.value.from) : line, line) }
/** What is typed ends or begins the lines, and takes the other end along where it would pass it. */
function type(end: 'from' | 'to', event: Event): void {
  const line = Math.max(first.value, Math.min(last.value, Number((event.target as HTMLInputElement).value)))
  const { from, to } = chosen.value ?? { from: line, to: line }
  choose(end === 'from' ? line : Math.min(from, line), end === 'from' ? Math.max(to, line) : line)
}
onMounted(async () => {
  await nextTick()
  const row = list.value?.querySelector<HTMLElement>('.chosen')
  if (row && list.value) list.value.scrollTop = row.offsetTop - list.value.offsetTop - 40
})
</script>

<template>
  <div class="picker">
    <p>
      from line <input type="number" :min="first" :max="last" :value="chosen?.from ?? ''" :aria-label="`${label}: first`" @change="type('from', $event)">
      to <input type="number" :min="first" :max="last" :value="chosen?.to ?? ''" :aria-label="`${label}: last`" @change="type('to', $event)">
      <span class="soft hint">or click the first one, and the last one with the shift key</span>
    </p>
    <pre ref="list"><code><span v-for="one in options" :key="one.value" class="line" :class="{ chosen: isChosen(Number(one.value)) }" @click="pick(Number(one.value), $event.shiftKey)"><span class="number">{{ one.value }}</span>{{ one.label }}
</span></code></pre>
  </div>
</template>

<style scoped>
.picker p { margin: 0 0 6px; } .picker input { width: 70px; border: 1px solid var(--rule); background: var(--sheet); color: inherit; padding: 3px 6px; font-size: 13.5px; }
pre { margin: 0; max-height: 320px; overflow: auto; background: var(--code); padding: 5px 0; font-size: 13px; line-height: 1.45; user-select: none; }
.line { display: block; padding: 0 8px; cursor: pointer; white-space: pre; } .line:hover { background: var(--heather-soft); }
.line.chosen { background: var(--heather-soft); box-shadow: inset 3px 0 0 var(--heather); }
.hint { margin-left: 10px; }
.number { display: inline-block; width: 4ch; margin-right: 1ch; text-align: right; color: var(--soft); }
</style>
