<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { usePreferences } from '../composables/usePreferences'
import { useProjectStore } from '../stores/project'

defineEmits<{ (e: 'find'): void }>()
const route = useRoute()
const store = useProjectStore()
const { theme, toggleTheme } = usePreferences()
const inProject = computed(() => route.params.project !== undefined)
const links = [
  { name: 'land', label: 'Lay of the land', also: ['modules'] }, { name: 'findings', label: 'Next steps', also: [] }, { name: 'cycles', label: 'Cycles', also: [] },
  { name: 'classes', label: 'Classes', also: ['class'] }, { name: 'changes', label: 'Changes', also: ['new-change', 'change'] },
  { name: 'history', label: 'History', also: [] }, { name: 'settings', label: 'Settings', also: [] }
]
const isHere = (link: (typeof links)[number]) => route.name === link.name || link.also.includes(String(route.name))
</script>

<template>
  <header class="head">
    <RouterLink class="brand" to="/">Hollowmoor</RouterLink>
    <template v-if="inProject">
      <span class="project" :title="store.project?.path">{{ store.project?.name }}</span>
      <nav aria-label="Views">
        <RouterLink v-for="link in links" :key="link.name" :to="{ name: link.name, params: { project: route.params.project } }" :class="{ here: isHere(link) }" :aria-current="isHere(link) ? 'page' : undefined">{{ link.label }}</RouterLink>
      </nav>
    </template>
    <span class="fill" />
    <button v-if="inProject" class="tool" @click="$emit('find')">Find <kbd>Ctrl K</kbd></button>
    <button class="tool" @click="toggleTheme">{{ theme === 'dark' ? 'Light' : 'Dark' }}</button>
  </header>
</template>

<style scoped>
.head { background: var(--peat); color: var(--on-peat); display: flex; align-items: center; gap: 20px; padding: 0 22px; height: 46px; }
.brand { color: inherit; font-weight: 700; text-decoration: none; font-size: 16px; }
.project { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; max-width: 26ch; }
nav { display: flex; height: 100%; }
nav a { color: inherit; text-decoration: none; padding: 0 12px; display: flex; align-items: center; border-bottom: 3px solid transparent; border-top: 3px solid transparent; white-space: nowrap; }
nav a:hover { background: rgb(255 255 255 / 8%); }
nav a.here { border-bottom-color: #c58f00; }
.fill { flex: 1; }
.tool { background: rgb(255 255 255 / 10%); color: inherit; border: 0; border-radius: 3px; font: inherit; font-size: 14px; padding: 4px 10px; cursor: pointer; white-space: nowrap; }
.tool:hover { background: rgb(255 255 255 / 18%); }
kbd { font: inherit; font-size: 12px; opacity: .8; margin-left: 6px; }
@media (max-width: 1100px) { .project, kbd { display: none; } .head { gap: 10px; } }
</style>
