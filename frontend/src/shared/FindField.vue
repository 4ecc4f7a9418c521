<script setup lang="ts">
import { defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { useKeys } from './keys'

/**
 * Finds among the rows of a view, and any record or person: `/` goes in, ↓ to the records found, Esc gives the keys back
 * to where they were.
 */
const rows = defineModel<string>({ required: true })
withDefaults(defineProps<{ label?: string; placeholder?: string; recent?: boolean }>(), {
  label: 'Find',
  placeholder: 'Find (/)',
  recent: false,
})

// Loaded when somebody looks for something: the first view does without.
const FoundRecords = defineAsyncComponent(() => import('./FoundRecords.vue'))

/** What is typed. An e-mail address is no word for rows, which stands in the page's address: it would tell on somebody. */
const text = ref(rows.value)
const isOfPerson = (typed: string) => typed.includes('@')
watch(text, (typed) => (rows.value = isOfPerson(typed) ? '' : typed))
watch(rows, (now) => {
  if (now || !isOfPerson(text.value)) text.value = now
})

const field = ref<HTMLInputElement>()
const finder = ref<HTMLElement>()
/** Whether the keys are in the field or in what it found. */
const inside = ref(false)
let came: Element | null = null
async function begin() {
  came = document.activeElement
  // The letter that came with the key is not one of the text.
  await nextTick()
  field.value?.focus()
  field.value?.select()
}
function leave() {
  inside.value = false
  if (came instanceof HTMLElement && came !== document.body && came.isConnected) came.focus()
  else if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
}
function went(event: FocusEvent) {
  inside.value = finder.value?.contains(event.relatedTarget as Node | null) ?? false
}
function step(by: number, event: KeyboardEvent) {
  const stops = [field.value, ...(finder.value?.querySelectorAll<HTMLElement>('.found button') ?? [])]
  const next = stops[stops.indexOf(document.activeElement as HTMLInputElement) + by]
  if (!next) return
  event.preventDefault()
  event.stopPropagation()
  next.focus()
}
useKeys({ '/': () => void begin() })
</script>

<template>
  <span
    ref="finder"
    class="finder no-print"
    @focusin="inside = true"
    @focusout="went"
    @keydown.esc.stop.prevent="leave"
    @keydown.down="step(1, $event)"
    @keydown.up="step(-1, $event)"
  >
    <input
      ref="field"
      v-model="text"
      class="tool find"
      type="search"
      :placeholder="placeholder"
      :aria-label="label"
    />
    <FoundRecords v-if="inside" :text="text" :recently="recent" @opened="inside = false" />
  </span>
</template>

<style scoped>
.finder {
  position: relative;
  display: inline-block;
}
</style>
