<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { nextTick, ref } from 'vue'
import { answer, instance } from '../api/client'
import { elsewhere, workspace } from './workspace'

const NEW = '+'
const names = useQuery({
  queryKey: ['workspaces'],
  queryFn: () => answer(instance.GET('/api/workspaces')),
})
const picker = ref<HTMLSelectElement>()
const field = ref<HTMLInputElement>()
const naming = ref(false)
const name = ref('')
const problem = ref('')

/** Arrows alone go through the list: what they come to is taken by Enter, by leaving it, or by the pointer. */
let byKey = false
function keyed(event: KeyboardEvent) {
  byKey = event.key !== 'Enter'
  if (event.key === 'Enter') void go()
  if (event.key === 'Escape' && picker.value) picker.value.value = workspace
}

async function go() {
  const chosen = picker.value?.value ?? workspace
  if (chosen === NEW) {
    naming.value = true
    await nextTick()
    field.value?.focus()
  } else if (chosen !== workspace) window.location.assign(elsewhere(chosen))
}

async function begin() {
  const wanted = name.value.trim()
  if (names.data.value?.includes(wanted)) {
    problem.value = `There is a workspace ${wanted}: choose another name`
    return
  }
  try {
    await answer(instance.POST('/api/workspaces', { body: { name: wanted } }))
    window.location.assign(elsewhere(wanted))
  } catch (refused) {
    problem.value = (refused as Error).message
  }
}

async function leave() {
  naming.value = false
  name.value = problem.value = ''
  await nextTick()
  if (picker.value) picker.value.value = workspace
  picker.value?.focus()
}
</script>

<template>
  <div class="workspaces">
    <select
      ref="picker"
      class="picker"
      aria-label="Workspace"
      :title="`Workspace ${workspace}; choose another or create one`"
      :value="workspace"
      @keydown="keyed"
      @pointerdown="byKey = false"
      @change="byKey || go()"
      @blur="picker && (picker.value = workspace)"
    >
      <option v-for="each in names.data.value ?? [workspace]" :key="each" :value="each">{{ each }}</option>
      <option :value="NEW">New workspace</option>
    </select>
    <form v-if="naming" class="naming" @submit.prevent="begin" @keydown.esc.stop="leave">
      <label>
        Name of the new workspace
        <input
          ref="field"
          v-model="name"
          maxlength="40"
          required
          placeholder="client-a"
          :aria-invalid="!!problem || undefined"
          :aria-errormessage="problem ? 'no-such-name' : undefined"
        />
      </label>
      <p v-if="problem" id="no-such-name" role="alert">{{ problem }}</p>
      <p v-else class="quiet">Small letters, digits and hyphens. It starts empty.</p>
      <button type="submit" class="plain link">Create it</button>
      <button type="button" class="plain link" @click="leave">Leave</button>
    </form>
  </div>
</template>

<style scoped>
.workspaces {
  position: relative;
}

.picker {
  width: 66px;
  margin: 0 0 20px;
  padding: 1px 0;
  font-size: 13px;
  text-overflow: ellipsis;
  border-bottom: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
}

.naming {
  position: absolute;
  z-index: 20;
  top: 0;
  left: 76px;
  width: 280px;
  padding: 10px 12px;
  border: 1px solid var(--ink);
  background: var(--paper);
}

.naming p {
  margin: 4px 0 8px;
}

.naming [role='alert'] {
  color: var(--loses);
}

.naming input {
  width: 100%;
}

.naming button {
  margin-right: 10px;
}

@media (max-width: 700px) {
  .picker {
    margin: 0;
  }
}
</style>
