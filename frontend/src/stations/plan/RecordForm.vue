<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import FieldInput from './FieldInput.vue'
import type { PlanField, Rec } from './queries'
import { renaming } from './records'

const props = defineProps<{
  title: string
  fields: PlanField[]
  record: Rec
  error: unknown
  busy: boolean
  locked?: boolean
  /** The list it is in; a new record has no name that anybody knows. */
  section?: string
}>()
const emit = defineEmits<{ keep: [record: Rec]; close: [] }>()

// Also when the focus is gone, as it is from a button that was just switched off.
useKeys({ Escape: () => emit('close') })

const draft = ref<Rec>({ ...props.record })
watch(
  () => props.record,
  (record) => (draft.value = { ...record }),
)
const renamed = computed(() => renaming(props.section ?? '', props.record, draft.value))
const form = ref<HTMLElement>()
onMounted(async () => {
  await nextTick()
  form.value?.querySelector<HTMLElement>('input, select, textarea')?.focus()
})
</script>

<template>
  <aside class="panel" :aria-label="title">
    <form ref="form" @submit.prevent="$emit('keep', draft)">
      <header>
        <h2>{{ title }}</h2>
        <button
          type="button"
          class="plain"
          aria-label="Close the form"
          title="Close (Esc)"
          @click="$emit('close')"
        >
          ✕
        </button>
      </header>
      <FieldInput
        v-for="field in fields"
        :key="field.name"
        :field="field"
        :model-value="draft[field.name]"
        @update:model-value="draft = { ...draft, [field.name]: $event }"
      />
      <p v-if="renamed" class="quiet" role="status">{{ renamed }}</p>
      <slot :draft="draft" />
      <ProblemNote :error="error" />
      <div class="choice">
        <v-btn type="submit" variant="flat" color="primary" :disabled="busy">Keep</v-btn>
        <v-btn @click="$emit('close')">Leave as it is</v-btn>
      </div>
    </form>
  </aside>
</template>

<style scoped>
.panel {
  position: fixed;
  inset: 0 0 0 auto;
  width: min(560px, 100vw);
  overflow: auto;
  background: var(--sheet);
  border-left: 2px solid var(--ink);
  padding: 12px 16px;
  z-index: 6;
}

header {
  display: flex;
  justify-content: space-between;
  margin-bottom: 10px;
}

.choice {
  display: flex;
  gap: 10px;
  position: sticky;
  bottom: -12px;
  background: var(--sheet);
  padding: 8px 0 12px;
}
</style>
