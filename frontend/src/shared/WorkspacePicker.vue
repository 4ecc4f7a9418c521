<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { answer, instance } from '../api/client'
import { elsewhere, workspace } from './workspace'

const names = useQuery({
  queryKey: ['workspaces'],
  queryFn: () => answer(instance.GET('/api/workspaces')),
})

function go(event: Event) {
  const name = (event.target as HTMLSelectElement).value
  if (name !== workspace) window.location.assign(elsewhere(name))
}
</script>

<template>
  <select
    class="picker"
    aria-label="Workspace"
    :title="`Workspace ${workspace}; choose another`"
    :value="workspace"
    @change="go"
  >
    <option v-for="name in names.data.value ?? [workspace]" :key="name" :value="name">{{ name }}</option>
  </select>
</template>

<style scoped>
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

@media (max-width: 700px) {
  .picker {
    margin: 0;
  }
}
</style>
