<script setup lang="ts">
import { ref, watch } from 'vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import FieldInput from './FieldInput.vue'
import { draft as typed, forget, remember } from './drafts'
import { useChangeGeneral, type Plan, type Rec } from './queries'

const props = defineProps<{ plan: Plan }>()
const change = useChangeGeneral()
const DRAFT = 'general'
const draft = ref<Rec>({})
/** Whether what is shown was typed earlier, and never kept. */
const again = ref(!!typed(DRAFT))
watch(
  () => props.plan.general,
  // Of what was typed earlier only the fields themselves: all others are as they stand by now.
  (general) => (draft.value = { ...general, ...typed(DRAFT) }),
  { immediate: true },
)
function type(name: string, value: unknown) {
  draft.value = { ...draft.value, [name]: value }
  remember(DRAFT, { ...typed(DRAFT), [name]: value })
}
function startAnew() {
  forget(DRAFT)
  again.value = false
  draft.value = { ...props.plan.general }
}

/** Only what differs from what is kept; emptied fields go back to their default. */
function keep() {
  const before = props.plan.general as Rec
  const values: Rec = {}
  for (const { name } of props.plan.fields['']!) {
    const now = draft.value[name] ?? null
    if (JSON.stringify(now) !== JSON.stringify(before[name] ?? null)) values[name] = now === '' ? null : now
  }
  again.value = false
  if (Object.keys(values).length)
    change.mutate({ basis: props.plan.basis, values }, { onSuccess: () => forget(DRAFT) })
  else forget(DRAFT)
}
</script>

<template>
  <form class="general" aria-label="Workspace settings" @submit.prevent="keep">
    <p v-if="again" class="again" role="status">
      What you typed earlier and did not keep.
      <button type="button" class="plain link" @click="startAnew">Start from what is saved</button>
    </p>
    <FieldInput
      v-for="field in plan.fields['']"
      :key="field.name"
      :field="field"
      :model-value="draft[field.name]"
      @update:model-value="type(field.name, $event)"
    />
    <ProblemNote :error="change.error.value" />
    <p v-if="change.isSuccess.value" role="status">Kept. Reports are restated.</p>
    <v-btn type="submit" variant="flat" color="primary" :disabled="change.isPending.value">Keep</v-btn>
  </form>
</template>

<style scoped>
.general {
  max-width: 1000px;
  columns: 2 420px;
  column-gap: 28px;
}

.again {
  border-left: 3px solid var(--accent);
  padding-left: 8px;
  column-span: all;
}

.general > * {
  break-inside: avoid;
}
</style>
