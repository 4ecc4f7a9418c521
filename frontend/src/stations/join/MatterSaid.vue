<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useKeys } from '../../shared/keys'
import type { useByHand } from '../plan/useByHand'

/** What is said of matters: accepted for a reason until a day, whose they are, a note. Several of a kind at once. */
const props = defineProps<{
  matters: readonly Schemas['OpenMatter'][]
  byHand: ReturnType<typeof useByHand>
}>()
const { busy } = props.byHand
const first = computed(() => props.matters[0]!)
const reason = ref('')
const until = ref('')
const whose = ref('')
const note = ref('')
watch(
  () =>
    props.matters
      .map((one) => `${one.kind} ${one.object.join()} ${one.first_day} ${one.reason} ${one.whose}`)
      .join(),
  () => {
    reason.value = first.value.reason
    until.value = first.value.until
    whose.value = first.value.whose
    note.value = first.value.note
  },
  { immediate: true },
)
const keys = () =>
  props.matters.map((one) => ({
    kind: one.kind,
    object: one.object.join(' / '),
    ...(one.first_day ? { first_day: one.first_day } : {}),
  }))
const called = () =>
  props.matters.length > 1 ? `${props.matters.length} matters` : first.value.object.join(' / ')
const rows = () => (props.matters.length === 1 ? { accepted_rows: first.value.all_rows } : {})
const accept = () =>
  props.byHand.sayOf(
    keys(),
    { accepted_reason: reason.value.trim(), accepted_until: until.value || null, ...rows() },
    `matter accepted: ${called()}`,
  )
const reopen = () =>
  props.byHand.sayOf(
    keys(),
    { accepted_reason: '', accepted_until: null, accepted_rows: null },
    `matter opened again: ${called()}`,
  )
const say = () =>
  props.byHand.sayOf(
    keys(),
    { whose: whose.value.trim(), note: note.value.trim() },
    `matter given to somebody: ${called()}`,
  )
const id = useId()
const focus = (name: string) => () => document.getElementById(`${id} ${name}`)?.focus()
useKeys({ x: focus('reason'), w: focus('whose') })
</script>

<template>
  <p v-if="first.is_accepted">
    Accepted: {{ first.reason }}<template v-if="first.until">, until {{ first.until }}</template
    >.
    <button type="button" class="tool" :disabled="busy" @click="reopen">Open it again</button>
  </p>
  <form v-else @submit.prevent="reason.trim() && accept()">
    <label :for="`${id} reason`">It may stay, because</label>
    <input :id="`${id} reason`" v-model="reason" type="text" autocomplete="off" class="tool" title="x" />
    <label :for="`${id} until`">until</label>
    <input :id="`${id} until`" v-model="until" type="date" class="tool" />
    <button type="submit" class="tool" :disabled="busy || !reason.trim()">Accept</button>
  </form>
  <form @submit.prevent="say">
    <label :for="`${id} whose`">Whose</label>
    <input :id="`${id} whose`" v-model="whose" type="text" autocomplete="off" class="tool short" title="w" />
    <label :for="`${id} note`">note</label>
    <input :id="`${id} note`" v-model="note" type="text" autocomplete="off" class="tool" />
    <button type="submit" class="tool" :disabled="busy || (whose === first.whose && note === first.note)">
      Say so
    </button>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  margin: 8px 0;
}

.short {
  width: 110px;
}
</style>
