<script setup lang="ts">
import { ref, watch } from 'vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import FieldInput from './FieldInput.vue'
import { useChangeGeneral, type Plan, type Rec } from './queries'

const props = defineProps<{ plan: Plan }>()
const change = useChangeGeneral()
const draft = ref<Rec>({})
watch(
  () => props.plan.general,
  (general) => (draft.value = { ...general }),
  { immediate: true },
)

/** Only what differs from what is kept; emptied fields go back to their default. */
function keep() {
  const before = props.plan.general as Rec
  const values: Rec = {}
  for (const { name } of props.plan.fields['']!) {
    const now = draft.value[name] ?? null
    if (JSON.stringify(now) !== JSON.stringify(before[name] ?? null)) values[name] = now === '' ? null : now
  }
  if (Object.keys(values).length) change.mutate({ basis: props.plan.basis, values })
}
</script>

<template>
  <form class="general" aria-label="Workspace settings" @submit.prevent="keep">
    <FieldInput
      v-for="field in plan.fields['']"
      :key="field.name"
      :field="field"
      :model-value="draft[field.name]"
      @update:model-value="draft = { ...draft, [field.name]: $event }"
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

.general > * {
  break-inside: avoid;
}
</style>
