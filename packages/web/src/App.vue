<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import AppHead from './components/AppHead.vue'
import FindPalette from './components/FindPalette.vue'
import KeysHelp from './components/KeysHelp.vue'
import SurveyState from './components/SurveyState.vue'
import { usePreferences } from './composables/usePreferences'
import { useProjectStore } from './stores/project'

const route = useRoute()
const store = useProjectStore()
const finding = ref(false)
const showingKeys = ref(false)
usePreferences()

watch(() => route.params.project, id => { if (id !== undefined) void store.open(Number(id)) }, { immediate: true })

function onKey(event: KeyboardEvent): void {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') { event.preventDefault(); finding.value = true }
  const typing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName)
  if (event.key === '?' && !typing) showingKeys.value = !showingKeys.value
}
addEventListener('keydown', onKey)
addEventListener('focus', () => void store.checkStale())
</script>

<template>
  <AppHead @find="finding = true" />
  <SurveyState v-if="route.params.project !== undefined" />
  <main><RouterView :key="String(route.params.project ?? '')" /></main>
  <FindPalette v-if="finding" @close="finding = false" />
  <KeysHelp v-if="showingKeys" @close="showingKeys = false" />
</template>
