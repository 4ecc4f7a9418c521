<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Schemas } from '../../api/client'

/** What one level says of one part, typed over in place. */
const props = defineProps<{
  cell?: Schemas['Cell']
  field: string
  level: string
  label: string
  /** The part that counts comes from a farther level and goes through here to the result. */
  through: boolean
  kind: string
}>()
const emit = defineEmits<{ keep: [text: string] }>()

const text = ref(props.cell?.text ?? '')
watch(
  () => props.cell?.text,
  (now) => (text.value = now ?? ''),
)
const said = () => props.cell?.text ?? ''
function keep() {
  if (text.value.trim() !== said()) emit('keep', text.value)
}
function key(event: KeyboardEvent) {
  if (event.key === 'Enter') keep()
  else if (event.key === 'Escape') {
    event.stopPropagation()
    text.value = said()
  }
}
const RULES = ['as browsers do', 'none', 'host', 'whole']
</script>

<template>
  <div
    class="cell"
    :class="{
      counts: cell?.counts,
      beaten: cell && !cell.counts,
      through: through && !cell,
      own: cell && kind && cell.kind,
    }"
  >
    <select v-if="field === 'referrer'" v-model="text" :aria-label="label" @change="keep">
      <option value=""></option>
      <option v-for="rule in RULES" :key="rule">{{ rule }}</option>
    </select>
    <input v-else v-model="text" :aria-label="label" @keydown="key" @blur="keep" />
  </div>
</template>

<style scoped>
.cell {
  position: relative;
  height: 26px;
}

input,
select {
  width: 100%;
  height: 26px;
  padding: 0 5px;
  border: 0;
  background: transparent;
  color: inherit;
  font: inherit;
  position: relative;
  z-index: 1;
}

input:focus,
select:focus {
  background: var(--sheet);
  outline: 2px solid var(--accent);
}

.beaten {
  color: var(--unsure);
}

.beaten input {
  text-decoration: line-through;
}

/* The level that counts is drawn through to the result. */
.counts,
.through {
  box-shadow: inset 0 -2px var(--accent);
}

.counts::before {
  content: '';
  position: absolute;
  left: 0;
  bottom: 0;
  width: 2px;
  height: 10px;
  background: var(--accent);
}

.own input,
.own select {
  text-decoration: underline;
}
</style>
