<script setup lang="ts">
import { computed } from 'vue'
import { count } from '../../shared/format'
import { stopReading, type Reading } from './rehearsal'

/** How far files are that are being read; it can be stopped, and nothing of it is left then. */
const props = defineProps<{ reading: Reading }>()

const MEGABYTE = 1_000_000
const names = computed(() => {
  const { files, file } = props.reading
  if (file) return file
  return files.length > 2 ? `${files[0]} and ${count(files.length - 1)} more` : files.join(' and ')
})
const size = computed(() => (props.reading.bytes / MEGABYTE).toFixed(1))
/** Said to whoever does not see it in steps, not at every row. */
const said = computed(() => `Reading ${names.value}, ${Math.floor(props.reading.share * 4) * 25} %`)
</script>

<template>
  <section class="reading" aria-label="Reading">
    <progress :value="reading.share" max="1" :aria-label="`Reading ${names}`" />
    <span
      >Reading {{ names }}: {{ count(reading.rows) }} rows<template v-if="!reading.rows"
        >, {{ size }} MB in all</template
      ></span
    >
    <span class="unseen" role="status">{{ said }}</span>
    <v-btn @click="stopReading">Stop</v-btn>
  </section>
</template>

<style scoped>
.reading {
  margin: 0 0 14px;
  display: flex;
  gap: 10px;
  align-items: center;
}

progress {
  width: 260px;
  accent-color: var(--accent);
}
</style>
