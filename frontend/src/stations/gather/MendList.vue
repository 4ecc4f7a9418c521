<script setup lang="ts">
import { computed } from 'vue'
import { count } from '../../shared/format'
import type { FileRehearsal, Reading } from './reading'

const props = defineProps<{ file: FileRehearsal; busy: boolean }>()
/** Rows that nothing is known to mend are named one by one below. */
const mends = computed(() => props.file.mends.filter((mend) => mend.text))
defineEmits<{ mend: [change: Partial<Reading>] }>()
</script>

<template>
  <ul v-if="mends.length" class="mends" aria-label="What would mend it">
    <li v-for="mend in mends" :key="mend.column">
      <span class="bad">{{ count(mend.cells) }} {{ mend.cells === 1 ? 'cell' : 'cells' }}</span> of
      {{ mend.column.replaceAll('_', ' ') || 'whole rows' }}, from line {{ mend.line }}, such as
      <template v-for="(cell, i) in mend.examples" :key="cell"
        ><template v-if="i">, </template><q>{{ cell }}</q></template
      >: {{ mend.reason }}
      <button
        type="button"
        class="tool"
        :disabled="busy"
        @click="$emit('mend', mend.change as Partial<Reading>)"
      >
        {{ mend.text.charAt(0).toUpperCase() + mend.text.slice(1) }}: mends {{ count(mend.mends) }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.mends {
  margin: 4px 0;
  padding-left: 18px;
}

.bad {
  color: var(--loses);
  font-weight: 600;
}
</style>
