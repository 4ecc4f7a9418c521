<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useKeys } from '../../shared/keys'
import type { useByHand } from '../plan/useByHand'
import { objectWords } from './matterWords'

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
const fields = { reason, until, whose, note }
const called = () =>
  props.matters.length > 1 ? `${props.matters.length} matters` : objectWords(first.value.object)
/** What is being written stays when the list is asked anew: only another matter begins anew. */
watch(
  first,
  (now, before) => {
    const key = (one: typeof now) => [one.kind, one.kept_object, one.kept_first_day].join()
    const same = before && key(now) === key(before)
    for (const name of ['reason', 'until', 'whose', 'note'] as const)
      if (!same || fields[name].value === before[name]) fields[name].value = now[name]
  },
  { immediate: true },
)
/** Each under the key that it was kept under, though its first day may have moved since. */
const keys = () =>
  props.matters.map((one) => ({
    kind: one.kind,
    object: one.kept_object,
    ...(one.kept_first_day ? { first_day: one.kept_first_day } : {}),
  }))
const accept = () =>
  props.byHand.sayOf(
    keys().map((key, at) => ({ ...key, accepted_rows: props.matters[at]!.all_rows })),
    { accepted_reason: reason.value.trim(), accepted_until: until.value || null },
    `matter accepted: ${called()}`,
  )
const reopen = () =>
  props.byHand.sayOf(
    keys(),
    { accepted_reason: '', accepted_until: null, accepted_rows: null },
    `matter opened again: ${called()}`,
  )
/** Only what was changed is said: of several each keeps the rest. */
const changed = computed(() => ({
  ...(whose.value.trim() === first.value.whose ? {} : { whose: whose.value.trim() }),
  ...(note.value.trim() === first.value.note ? {} : { note: note.value.trim() }),
}))
const say = () => props.byHand.sayOf(keys(), changed.value, `matter given to somebody: ${called()}`)
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
    <button type="submit" class="tool" :disabled="busy || !Object.keys(changed).length">Say so</button>
  </form>
</template>
