<script setup lang="ts">
import { ref, watch } from 'vue'
import { groupsText, movedTo, readGroups } from '../../member-groups'
import type { MemberGroups } from '../../member-groups'

const props = defineProps<{ modelValue: string; members: readonly string[] }>()
const emit = defineEmits<{ (e: 'update:modelValue', value: string): void }>()
const groups = ref<MemberGroups>(readGroups(props.modelValue, props.members))
watch(() => props.modelValue, text => { if (text !== groupsText(groups.value)) groups.value = readGroups(text, props.members) })
const dragged = ref<string | null>(null)

function change(next: MemberGroups): void {
  groups.value = next
  emit('update:modelValue', groupsText(next))
}
function move(member: string, role: number): void { change(movedTo(groups.value, member, role, props.members)) }
function rename(role: number, name: string): void { change({ ...groups.value, roles: groups.value.roles.map((one, at) => (at === role ? { ...one, name } : one)) }) }
function add(): void { groups.value = { ...groups.value, roles: [...groups.value.roles, { name: `Role${groups.value.roles.length + 1}`, members: [] }] } }
function drop(role: number): void {
  if (dragged.value !== null) move(dragged.value, role)
  dragged.value = null
}
</script>

<template>
  <div class="roles">
    <section v-for="(role, at) in groups.roles" :key="at" class="role" @dragover.prevent @drop.prevent="drop(at)">
      <input :value="role.name" :aria-label="`Name of role ${at + 1}`" class="mono" @change="rename(at, ($event.target as HTMLInputElement).value.trim())">
      <p v-for="member in role.members" :key="member" draggable="true" class="member" @dragstart="dragged = member">
        <span class="mono">{{ member }}</span>
        <select :aria-label="`Role of ${member}`" :value="at" @change="move(member, Number(($event.target as HTMLSelectElement).value))">
          <option v-for="(other, to) in groups.roles" :key="to" :value="to">{{ other.name }}</option><option :value="-1">in none</option>
        </select>
      </p>
      <p v-if="role.members.length === 0" class="soft">Drop members here; a role without any is left out.</p>
    </section>
    <section class="role" @dragover.prevent @drop.prevent="drop(-1)">
      <strong class="soft">in none: these stay</strong>
      <p v-for="member in groups.rest" :key="member" draggable="true" class="member" @dragstart="dragged = member">
        <span class="mono">{{ member }}</span>
        <select :aria-label="`Role of ${member}`" :value="-1" @change="move(member, Number(($event.target as HTMLSelectElement).value))">
          <option v-for="(other, to) in groups.roles" :key="to" :value="to">{{ other.name }}</option><option :value="-1">in none</option>
        </select>
      </p>
    </section>
    <el-button size="small" @click="add">Add a role</el-button>
  </div>
</template>

<style scoped>
.roles { display: flex; flex-wrap: wrap; gap: 10px; align-items: flex-start; }
.role { border: 1px solid var(--rule); border-radius: 3px; padding: 8px 10px; min-width: 210px; background: var(--mist); }
.role input { width: 100%; border: 1px solid var(--rule); background: var(--sheet); color: inherit; padding: 3px 6px; font-size: 13.5px; }
.member { display: flex; justify-content: space-between; gap: 10px; margin: 5px 0 0; cursor: grab; font-size: 13.5px; }
.member select { max-width: 110px; font-size: 13px; background: var(--sheet); color: var(--soft-ink); border: 1px solid var(--rule); }
</style>
