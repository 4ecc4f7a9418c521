<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import FieldInput from './FieldInput.vue'
import type { PlanField, Rec } from './queries'
import { draft as draftTyped, forget, remember } from './drafts'
import { renaming } from './records'

const props = defineProps<{
  title: string
  fields: PlanField[]
  record: Rec
  error: unknown
  busy: boolean
  locked?: boolean
  /** The name under which what is typed stays until it is kept or dropped. */
  typedAs?: string
  /** The list it is in; a new record has no name that anybody knows. */
  section?: string
}>()
const emit = defineEmits<{ keep: [record: Rec]; close: [] }>()

// Also when the focus is gone, as it is from a button that was just switched off.
useKeys({ Escape: () => emit('close') })

const draft = ref<Rec>({})
/** Whether what is shown was typed earlier, and never kept. */
const again = ref(false)
function begin() {
  const earlier = props.typedAs ? draftTyped(props.typedAs) : undefined
  again.value = !!earlier
  draft.value = { ...(earlier ?? props.record) }
}
begin()
watch(() => [props.record, props.typedAs], begin)
watch(draft, (now) => {
  const same = JSON.stringify(now) === JSON.stringify(props.record)
  if (props.typedAs && same) forget(props.typedAs)
  else if (props.typedAs) remember(props.typedAs, now)
})
function startAnew() {
  again.value = false
  draft.value = { ...props.record }
}
function drop() {
  if (props.typedAs) forget(props.typedAs)
  emit('close')
}
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
          title="Close (Esc); what you typed stays for the next time"
          @click="$emit('close')"
        >
          ✕
        </button>
      </header>
      <p v-if="again" class="again" role="status">
        What you typed earlier and did not keep.
        <button type="button" class="plain link" @click="startAnew">Start from what is saved</button>
      </p>
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
        <v-btn @click="drop">Leave as it is</v-btn>
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

.again {
  border-left: 3px solid var(--accent);
  padding-left: 8px;
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
