<script setup lang="ts">
import { ref } from 'vue'
import type { ChangeView } from '@hollowmoor/contract/views'
import { counted } from '../../labels'

defineProps<{ step: ChangeView['steps'][number]; frozen: boolean; dividing: boolean }>()
const emit = defineEmits<{ divide: [size: number] }>()
/** Fewer files than this are reviewed at once. */
const FEWEST = 4
const open = ref(false), size = ref(4)
</script>

<template>
  <div v-if="(step.files ?? 0) >= FEWEST" class="batches">
    <p v-if="step.batches?.length === 1" class="soft">Its {{ counted(step.files ?? 0, 'file') }} have to change at once: in smaller batches it would not compile in between.</p>
    <template v-else-if="step.batches">
      <p class="soft">In {{ step.batches.length }} batches, each of which compiles on those before it; the branch and the patches have one commit for each.</p>
      <ol><li v-for="(paths, index) in step.batches" :key="index">{{ counted(paths.length, 'file') }}: <template v-for="(path, at) in paths.slice(0, 8)" :key="path">{{ at > 0 ? ', ' : '' }}<a :href="`#file-${path}`" class="mono">{{ path.slice(path.lastIndexOf('/') + 1) }}</a></template><span v-if="paths.length > 8"> and {{ paths.length - 8 }} more</span></li></ol>
    </template>
    <form v-if="open && !frozen" @submit.prevent="emit('divide', size); open = false">
      <label>Batches of at most <el-input-number v-model="size" :min="1" :max="Math.max(1, (step.files ?? 2) - 1)" size="small" aria-label="Files in a batch" /> files</label>
      <el-button size="small" native-type="submit">Divide</el-button> <el-button size="small" text @click="open = false">Leave it</el-button>
    </form>
    <p v-else-if="dividing" role="status" class="soft">Each batch is compiled…</p>
    <el-button v-else size="small" :disabled="frozen" @click="open = true">{{ step.batches ? 'Divide it otherwise' : 'Divide it into batches' }}</el-button>
  </div>
</template>

<style scoped>
.batches { margin: 6px 0 2px; } p { margin: 0 0 4px; } ol { margin: 0 0 6px; padding-left: 22px; } form { display: flex; gap: 8px; align-items: center; }
</style>
