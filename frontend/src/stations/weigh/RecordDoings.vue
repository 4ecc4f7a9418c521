<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import UndoByHand from '../plan/UndoByHand.vue'
import { useByHand } from '../plan/useByHand'
import type { RecordOut } from './recordWords'

/** What can be done with a record: take it out or put it back, look at its person, open the rule that it goes by. */
const props = defineProps<{ record: RecordOut }>()
const byHand = useByHand()
const { busy, error } = byHand
const isOut = computed(() => ['test', 'quarantined'].includes(props.record.apart ?? ''))
const turn = () =>
  byHand.put({ table: props.record.table as 'leads' | 'conversions', id: props.record.id }, !isOut.value)

/** The list of the plan by which a record counts or not. */
const rule = computed(() => {
  const { apart, by } = props.record
  if (apart === 'quarantined') return by === 'by hand' ? 'record' : 'quarantine'
  return apart === 'word' ? 'status' : 'goal'
})
const router = useRouter()
const openRule = () => void router.push({ name: 'plan', query: { section: rule.value } })
const openPerson = () => {
  const { query } = router.currentRoute.value
  void router.push({ name: 'person', query: { ...query, table: props.record.table, id: props.record.id } })
}
useKeys({ Delete: turn, p: openPerson, o: openRule })
</script>

<template>
  <p class="doings no-print">
    <button type="button" class="tool" :disabled="busy" title="Delete" @click="turn">
      {{ isOut ? 'Put back' : 'Take out' }}
    </button>
    <button type="button" class="tool" title="p" @click="openPerson">Person</button>
    <button type="button" class="tool" title="o" @click="openRule">Rule</button>
    <router-link
      v-if="record.apart === 'quarantined' && record.by !== 'by hand'"
      class="link"
      :to="{ name: 'records', query: { where: `quarantined_by is ${record.by}`, list: 'yes' } }"
      >All of {{ record.by }}</router-link
    >
    <UndoByHand :by-hand="byHand" />
  </p>
  <ProblemNote :error="error" />
</template>

<style scoped>
.doings {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  margin: 4px 0;
}
</style>
