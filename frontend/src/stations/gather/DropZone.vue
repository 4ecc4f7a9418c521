<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ files: [files: File[]] }>()

defineExpose({ open: () => input.value?.click() })

const over = ref(false)
const input = ref<HTMLInputElement>()

function take(list: FileList | null | undefined) {
  if (list?.length) emit('files', [...list])
  if (input.value) input.value.value = ''
}

function drop(event: DragEvent) {
  over.value = false
  take(event.dataTransfer?.files)
}
</script>

<template>
  <div
    class="zone"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <input
      ref="input"
      type="file"
      multiple
      aria-label="Files to load"
      class="input"
      @change="take(input?.files)"
    />
    <v-btn variant="flat" color="primary" :loading="busy" title="Choose files (f)" @click="input?.click()"
      >Choose files</v-btn
    >
    <p>
      or drop them here: exports as CSV in any dialect, JSON Lines, Parquet or XLSX, web server logs, settings
      as TOML. A file is read by the source whose columns it has; of a new one it is shown how it would be
      read. Nothing is kept before you have seen it.
    </p>
  </div>
</template>

<style scoped>
.zone {
  border: 1px dashed var(--unsure);
  padding: 12px;
  margin: 10px 0 14px;
  display: flex;
  gap: 14px;
  align-items: center;
}

.over {
  border: 1px solid var(--accent);
  background: var(--sheet);
}

.input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
  pointer-events: none;
}

p {
  margin: 0;
  max-width: 720px;
}
</style>
