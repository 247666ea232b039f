<script setup lang="ts">
import { watch } from 'vue'
import type { ProjectView } from '@hollowmoor/contract/views'

/** The commands as they are typed; they run only once they are confirmed. */
export interface TypedCommands { compile: string; test: string; seconds: number }

const props = defineProps<{ project: ProjectView }>()
const commands = defineModel<TypedCommands>({ required: true })
watch(() => props.project, ({ commands: { compile, test, seconds }, proposed }) => {
  commands.value = { compile: compile || proposed.compile, test: test || proposed.test, seconds }
}, { immediate: true })
</script>

<template>
  <div class="commands">
    <label>compile <el-input v-model="commands.compile" class="mono" /></label><label>test <el-input v-model="commands.test" class="mono" /></label>
    <label>time limit, seconds <el-input-number v-model="commands.seconds" :min="1" :max="3600" :controls="false" /></label>
  </div>
</template>

<style scoped>
.commands { display: grid; gap: 7px; } label { display: grid; gap: 2px; font-size: 14px; }
</style>
