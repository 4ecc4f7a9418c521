<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { useKeys } from './keys'

/** Finds among the rows of a view: `/` goes in, Esc gives the keys back to where they were. */
const text = defineModel<string>({ required: true })
withDefaults(defineProps<{ label?: string; placeholder?: string }>(), {
  label: 'Find',
  placeholder: 'Find (/)',
})

const field = ref<HTMLInputElement>()
let came: Element | null = null
async function begin() {
  came = document.activeElement
  // The letter that came with the key is not one of the text.
  await nextTick()
  field.value?.focus()
  field.value?.select()
}
function leave() {
  if (came instanceof HTMLElement && came !== document.body && came.isConnected) came.focus()
  else field.value?.blur()
}
useKeys({ '/': () => void begin() })
</script>

<template>
  <input
    ref="field"
    v-model="text"
    class="tool find no-print"
    type="search"
    :placeholder="placeholder"
    :aria-label="label"
    @keydown.esc.stop.prevent="leave"
  />
</template>
