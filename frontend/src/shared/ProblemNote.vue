<script setup lang="ts">
import { computed, onUnmounted, ref, useId, watch } from 'vue'
import { markInvalid } from './invalid'
import { Left } from './trial'

/** What went wrong; the field it speaks of is marked. */
const props = defineProps<{ error: unknown }>()
const wrong = computed(() => (props.error instanceof Left ? null : props.error))
const id = useId()
const note = ref<HTMLElement>()
let clear = () => {}
watch(
  [note, wrong],
  ([here, error]) => {
    clear()
    clear = here && error ? markInvalid(here, (error as Error).message) : () => {}
  },
  { flush: 'post' },
)
onUnmounted(() => clear())
</script>

<template>
  <p v-if="wrong" :id="id" ref="note" class="problem" role="alert">{{ (wrong as Error).message }}</p>
</template>

<style scoped>
.problem {
  border-left: 4px solid var(--loses);
  background: var(--sheet);
  padding: 6px 10px;
  margin: 8px 0;
  max-width: 900px;
}
</style>
