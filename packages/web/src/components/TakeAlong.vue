<script setup lang="ts">
defineProps<{ project: number; files: readonly { readonly what: string; readonly label: string }[] }>()
</script>

<template>
  <span class="along"><span class="soft">take along:</span> <template v-for="(one, index) in files" :key="one.what">{{ index > 0 ? ', ' : '' }}<a :href="`/api/projects/${project}/export/${one.what}`" download>{{ one.label }}</a></template><slot /></span>
</template>

<style scoped>
.along { font-size: 14px; white-space: nowrap; }
</style>
