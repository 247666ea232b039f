<script setup lang="ts">
defineEmits<{ (e: 'close'): void }>()
const keys = [
  ['Ctrl K', 'find a class, module or file'], ['?', 'show or hide these keys'], ['Tab', 'go on to the next stone, row or button'],
  ['Enter', 'open what is selected'], ['Space', 'strike the selected dependency out, or accept a hunk'], ['Esc', 'close']
]
</script>

<template>
  <aside class="keys sheet" role="dialog" aria-label="Keys" @keydown.esc="$emit('close')">
    <header><h2>Keys</h2><el-button size="small" @click="$emit('close')">Close</el-button></header>
    <dl><template v-for="[key, what] in keys" :key="key"><dt class="mono">{{ key }}</dt><dd>{{ what }}</dd></template></dl>
  </aside>
</template>

<style scoped>
.keys { position: fixed; right: 22px; bottom: 22px; width: 340px; z-index: 20; box-shadow: 0 4px 18px rgb(0 0 0 / 22%); }
dl { display: grid; grid-template-columns: 70px 1fr; gap: 4px 10px; margin: 0; padding: 12px 14px; }
dd { margin: 0; }
</style>
