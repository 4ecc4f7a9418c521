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
/** Under a finger nothing is pointed at: what is tapped is read out. */
useEventListener(
  'click',
  (event) => {
    const words = of(event.target)
    if (words) said.value = words
  },
  { capture: true },
)
/** Only a pointer that moves points at anything: what scrolls under one that rests does not take the word. */
useEventListener('pointermove', (event) => {
  if (event.movementX || event.movementY) said.value = of(event.target) || focused.value
})
</script>

<template>
  <p class="foot-line no-print" :class="{ resting: !said }" aria-hidden="true">
    {{ said || props.otherwise }}
  </p>
</template>

<style scoped>
.foot-line {
  position: sticky;
  bottom: 0;
  z-index: 3;
  height: 24px;
  line-height: 24px;
  margin: 0;
  background: var(--paper);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink);
}

/* Above the trail, and only when it has something to say. */
@media (max-width: 700px) {
  .foot-line {
    position: fixed;
    inset: auto 0 48px;
    height: auto;
    padding: 6px 12px;
    line-height: 1.3;
    white-space: normal;
    border-top: 1px solid var(--line);
  }

  .foot-line.resting {
    display: none;
  }
}
</style>
