<script setup lang="ts">
import type { ReachView, SetupView } from '@hollowmoor/contract/views'
import { usePreferences } from '../../composables/usePreferences'
import { counted, effectWord } from '../../labels'

const props = defineProps<{ reach: ReachView; name: string; root: string; project: number; type: string; isBuilt: boolean; hasFirstTest: boolean }>()
const { editorHref } = usePreferences()
const memberWord = (member: string) => (member === '' ? 'when it is loaded' : member === 'constructor' ? 'when it is made' : member)
/** The tree of what has to be built, flattened for a list with indents. */
function rows(nodes: readonly SetupView[], depth = 0): { node: SetupView; depth: number }[] {
  return nodes.flatMap(node => [{ node, depth }, ...rows(node.children, depth + 1)])
}
const kindWords: Record<SetupView['kind'], string> = { double: 'a double will do', real: 'has to be built', literal: 'a plain value', circular: 'goes round in a circle', external: 'from a library' }
</script>

<template>
  <section class="sheet">
    <header><h2>What it reaches outside, by the shortest way</h2></header>
    <p v-if="!props.reach.searched" class="empty">The ways are looked for as soon as the code is read again.</p>
    <p v-else-if="props.reach.effects.length === 0" class="empty">Nothing: no file, clock, server or screen is touched, whatever it calls.</p>
    <details v-for="effect in props.reach.effects" :key="effect.kind" class="effect" :open="props.reach.effects.length === 1">
      <summary><strong :class="effect.borne || effect.kind === 'unknown' || effect.kind === 'unresolved' ? 'soft' : 'bad'">{{ effectWord(effect.kind) }}</strong> <span class="soft">{{ effect.borne ? 'does not disturb a test' : counted(effect.path.length, 'step') }}: {{ effect.path.map(step => step.name).filter((name, index, all) => name !== all[index - 1]).join(' → ') }}</span></summary>
      <ol><li v-for="(step, index) in effect.path" :key="index"><RouterLink class="mono" :to="{ query: { type: step.type } }">{{ step.name }}</RouterLink> <span class="soft">{{ memberWord(step.member) }}</span> <a class="mono" :href="editorHref(props.root, step.file, step.line, step.column)" title="Open in your editor">{{ step.file }}:{{ step.line }}</a></li></ol>
    </details>
    <p v-if="props.reach.plugs && props.reach.plugs.collaborators.length > 0" class="plug">Plug <template v-for="(one, index) in props.reach.plugs.collaborators" :key="one.name">{{ index > 0 ? (index === props.reach.plugs.collaborators.length - 1 ? ' and ' : ', ') : '' }}<RouterLink v-if="one.type" class="mono" :to="{ query: { type: one.type } }">{{ one.name }}</RouterLink><span v-else class="mono">{{ one.name }}</span></template> and it reaches nothing outside{{ props.reach.plugs.proven ? '; no smaller set does' : '' }}.<template v-if="props.reach.plugs.others > 0"> The same would free {{ counted(props.reach.plugs.others, 'other type') }}.</template></p>
    <p v-else-if="props.reach.held" class="plug heed">No plug frees it: its base class or what it inherits holds it.</p>
    <template v-if="props.isBuilt">
      <header class="second"><h2>To build one in a test: {{ counted(props.reach.setup.realObjects, 'real object') }}, {{ counted(props.reach.setup.doubles, 'double') }}, about {{ counted(props.reach.setup.lines, 'line') }}</h2><RouterLink v-if="props.hasFirstTest" :to="{ name: 'new-change', params: { project: props.project }, query: { step: `first-test:${props.type}`, about: props.type } }">Write its first test</RouterLink></header>
      <p v-if="props.reach.setup.arguments.length === 0" class="empty">Its constructor takes nothing.</p>
      <ul class="tree"><li v-for="({ node, depth }, index) in rows(props.reach.setup.arguments).slice(0, 80)" :key="index" :style="{ paddingLeft: `${14 + depth * 18}px` }"><span class="mono">{{ node.name || node.text }}</span>: <RouterLink v-if="node.type" class="mono" :to="{ query: { type: node.type } }">{{ node.text }}</RouterLink><span v-else class="mono soft">{{ node.text }}</span> <span :class="node.kind === 'real' || node.kind === 'external' ? 'heed' : node.kind === 'double' ? 'good' : 'soft'">{{ kindWords[node.kind] }}</span><span v-if="node.wantedBy > 0" class="soft" title="Wanted all over the project, and speaks of nothing else in it"> · cross-cutting, wanted by {{ counted(node.wantedBy, 'constructor') }}</span></li></ul>
    </template>
  </section>
</template>

<style scoped>
.effect { padding: 5px 14px; border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent); font-size: 14px; }
summary { cursor: pointer; } ol { margin: 4px 0 6px; padding-left: 22px; }
.plug { padding: 8px 14px; margin: 0; }
.second { border-top: 1px solid var(--rule); }
.tree { list-style: none; margin: 0; padding: 6px 0; font-size: 14px; } .tree li { padding: 2px 14px; overflow-wrap: anywhere; }
.empty { padding: 12px 14px; text-align: left; }
</style>
