<script setup lang="ts">
/** A list to load from a file that somebody chooses. */
defineProps<{ label: string; hint?: string }>()
const emit = defineEmits<{ file: [file: File] }>()

function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  // The same file can be chosen again.
  input.value = ''
  if (file) emit('file', file)
}
</script>

<template>
  <label class="link" :title="hint"
    >Load a file<input
      type="file"
      accept=".csv,.tsv,.xlsx,.parquet,.jsonl,.ndjson"
      class="unseen"
      :aria-label="label"
      @change="take"
  /></label>
</template>

<style scoped>
label {
  cursor: pointer;
  position: relative;
}

label:has(:focus-visible) {
  outline: 2px solid var(--accent);
  outline-offset: 1px;
}
</style>
