<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ProblemNote from '../../shared/ProblemNote.vue'
import type { Rec } from '../plan/queries'
import { useListEdit } from '../plan/useByHand'

/** Lists of records under a name: opened, kept, taken away. */
const { plan, change, edit } = useListEdit()
const lists = computed(() => (plan.data.value?.sections.record_list ?? []) as Rec[])
const name = ref('')
const route = useRoute()
const router = useRouter()
/** What is asked, as the address has it; rows are listed when somebody asks for them. */
const asked = () => {
  const { query } = router.resolve(route.fullPath)
  const rest = { ...query }
  delete rest.list
  return router.resolve({ path: route.path, query: rest }).fullPath.split('?')[1] ?? ''
}
function keep() {
  const called = name.value.trim()
  if (!called) return
  const list = { name: called, asked: asked() }
  edit('record_list', (lists) => [...lists.filter((one) => one.name !== called), list], `list ${called} kept`)
  name.value = ''
}
const remove = (gone: Rec) =>
  edit(
    'record_list',
    (lists) => lists.filter((one) => one.name !== gone.name),
    `list ${String(gone.name)} removed`,
  )
const openOne = (one: Rec) => void router.push(`/records?${String(one.asked ?? '')}`)
</script>

<template>
  <form class="kept no-print" aria-label="Kept lists" @submit.prevent="keep">
    <span v-for="one in lists" :key="String(one.name)">
      <button type="button" class="plain link" @click="openOne(one)">{{ one.name }}</button>
      <button type="button" class="plain" :aria-label="`Remove the list ${one.name}`" @click="remove(one)">
        ×
      </button>
    </span>
    <input
      v-model="name"
      class="tool"
      maxlength="100"
      aria-label="Name of this list"
      placeholder="Name of this list"
    />
    <button type="submit" class="tool" :disabled="change.isPending.value">Keep</button>
    <ProblemNote :error="change.error.value" />
  </form>
</template>

<style scoped>
.kept {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
}
</style>
