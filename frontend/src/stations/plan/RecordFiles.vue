<script setup lang="ts">
import TakeAway from '../../shared/TakeAway.vue'
import { useTakeInSection } from './queries'
import type { SectionName } from './sections'

/** One list of records out as a file, and a file in its place. */
const props = defineProps<{ section: SectionName }>()
const emit = defineEmits<{ failed: [problem: unknown] }>()

const takeIn = useTakeInSection()
function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  emit('failed', null)
  if (file) takeIn.mutate({ section: props.section, file }, { onError: (problem) => emit('failed', problem) })
}
</script>

<template>
  <TakeAway :path="`/plan/sections/${section}`" />
  <label class="link" title="The file's rows take the place of these records; it can be undone"
    >Load a file<input
      type="file"
      accept=".csv,.tsv,.xlsx"
      class="unseen"
      aria-label="File of records"
      @change="take"
  /></label>
</template>

<style scoped>
label {
  cursor: pointer;
  position: relative;
}
</style>
