<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

/** Reads out what has the focus or is pointed at: whatever says so of itself. */
const props = defineProps<{ otherwise: string }>()

const said = ref('')
const focused = ref('')
const of = (target: EventTarget | null) =>
  target instanceof Element ? (target.closest<HTMLElement>('[data-says]')?.dataset.says ?? '') : ''
useEventListener('focusin', (event) => {
  focused.value = of(event.target)
  said.value = focused.value
})
useEventListener('focusout', (event: FocusEvent) => {
  if (!event.relatedTarget) focused.value = said.value = ''
})
/** Only a pointer that moves points at anything: what scrolls under one that rests does not take the word. */
useEventListener('pointermove', (event) => {
  if (event.movementX || event.movementY) said.value = of(event.target) || focused.value
})
</script>

<template>
  <p class="foot-line no-print" aria-hidden="true">{{ said || props.otherwise }}</p>
</template>

<style scoped>
.foot-line {
  position: sticky;
  bottom: 0;
  z-index: 3;
  height: 32px;
  line-height: 32px;
  margin: 0;
  background: var(--paper);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink);
}
</style>
