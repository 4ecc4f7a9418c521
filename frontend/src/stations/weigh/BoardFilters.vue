<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Board } from '../../api/client'
import { useValues } from './queries'
import type { useQuestion } from './question'

const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion> }>()

const open = ref(false)
const field = ref('source')
const op = ref('is')
const value = ref('')
/** Whether the operator is held against nothing. */
const plain = computed(() => /(empty|there)$/.test(op.value))
const values = useValues(props.question.asked, field, open)
const input = ref<HTMLInputElement>()
watch(open, (now) => now && setTimeout(() => input.value?.focus()))
defineExpose({ begin: () => (open.value = true) })

const q = props.question
function add() {
  const text = plain.value ? `${field.value} ${op.value}` : `${field.value} ${op.value} ${value.value.trim()}`
  if (!plain.value && !value.value.trim()) return
  q.where.value = [...q.where.value.filter((w) => w !== text), text]
  value.value = ''
  open.value = false
}
const remove = (text: string) => (q.where.value = q.where.value.filter((w) => w !== text))
</script>

<template>
  <div class="filters no-print" role="group" aria-label="Filters">
    <span v-for="text in q.where.value" :key="text" class="chip">
      {{ text.replace('_', ' ') }}
      <button type="button" class="plain" :aria-label="`Remove the filter ${text}`" @click="remove(text)">
        ✕
      </button>
    </span>
    <button
      v-if="!open"
      type="button"
      class="plain link"
      title="Show only what fits (f)"
      @click="open = true"
    >
      {{ q.where.value.length ? 'and …' : 'Filter …' }}
    </button>
    <form v-else class="form" @submit.prevent="add" @keydown.esc.stop="open = false">
      <select v-model="field" class="tool" aria-label="Field">
        <option v-for="name in board.breakdowns" :key="name" :value="name">
          {{ name.replace('_', ' ') }}
        </option>
      </select>
      <select v-model="op" class="tool" aria-label="How">
        <option v-for="word in board.operators" :key="word">{{ word }}</option>
      </select>
      <input
        v-if="!plain"
        ref="input"
        v-model="value"
        class="tool"
        list="filter-values"
        aria-label="Value"
        :placeholder="op.endsWith(' of') ? 'one | another' : 'for example quorrin'"
      />
      <datalist id="filter-values">
        <option v-for="v in values.data.value ?? []" :key="v" :value="v" />
      </datalist>
      <v-btn type="submit">Filter</v-btn>
      <button type="button" class="plain link" @click="open = false">cancel</button>
    </form>
  </div>
  <p v-if="q.where.value.length" class="on-paper">Only: {{ q.where.value.join('; ') }}</p>
</template>

<style scoped>
.filters {
  margin-bottom: 6px;
}

.filters,
.form {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
}

.chip {
  border: 1px solid var(--accent);
  padding: 0 2px 0 8px;
  white-space: nowrap;
}

.on-paper {
  display: none;
}

@media print {
  .on-paper {
    display: block;
  }
}
</style>
