<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ files: [files: File[]] }>()

defineExpose({ open: () => input.value?.click() })

const over = ref(false)
const input = ref<HTMLInputElement>()

function take(list: FileList | null | undefined) {
  if (list?.length) emit('files', [...list])
  if (input.value) input.value.value = ''
}

const isOfFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files')
function hover(event: DragEvent) {
  if (!isOfFiles(event)) return
  event.preventDefault()
  over.value = true
}
function leave(event: DragEvent) {
  // Only what leaves the window has nothing to go to.
  if (!event.relatedTarget) over.value = false
}
function drop(event: DragEvent) {
  if (!isOfFiles(event)) return
  event.preventDefault()
  over.value = false
  take(event.dataTransfer?.files)
}

// The whole page takes files.
const on = (way: 'addEventListener' | 'removeEventListener') => {
  window[way]('dragover', hover as EventListener)
  window[way]('dragleave', leave as EventListener)
  window[way]('drop', drop as EventListener)
}
onMounted(() => on('addEventListener'))
onBeforeUnmount(() => on('removeEventListener'))
</script>

<template>
  <span class="no-print">
    <input
      ref="input"
      type="file"
      multiple
      aria-label="Files to load"
      tabindex="-1"
      class="input"
      @change="take(input?.files)"
    />
    <v-btn variant="flat" color="primary" :loading="busy" title="Load a file (f)" @click="input?.click()"
      >Load a file</v-btn
    >
  </span>
  <div v-if="over" class="over" role="status">Drop them: nothing is kept before you have seen it</div>
</template>

<style scoped>
.over {
  position: fixed;
  inset: 12px;
  z-index: 20;
  display: grid;
  place-items: center;
  border: 2px dashed var(--accent);
  background: color-mix(in srgb, var(--paper) 88%, transparent);
  font-size: 18px;
  pointer-events: none;
}

.input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
  pointer-events: none;
}
</style>
