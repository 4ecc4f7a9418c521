<script setup lang="ts">
import { computed, ref } from 'vue'
import DayField from '../../shared/DayField.vue'
import { fieldWords, type RecordsOut, type RecordsQuestion } from './records'

/** What is asked of records, as a sentence with blanks. */
const props = defineProps<{ records: RecordsOut; question: RecordsQuestion }>()
const { by, across, where, dayOf, from, to, columns, measure } = props.question
const OPERATORS = [
  'is',
  'is not',
  'contains',
  'begins with',
  'in list',
  'is empty',
  'is not empty',
  'between',
]
const field = ref('counts')
const op = ref('is')
const value = ref('')
const isPlain = computed(() => op.value.endsWith('empty'))
function add() {
  if (!isPlain.value && !value.value.trim()) return
  const clause = `${field.value} ${op.value}${isPlain.value ? '' : ` ${value.value.trim()}`}`
  where.value = [...where.value, clause]
  value.value = ''
}
const without = (clause: string) => (where.value = where.value.filter((one) => one !== clause))
const toggle = (name: string) =>
  (columns.value = columns.value.includes(name)
    ? columns.value.filter((one) => one !== name)
    : [...columns.value, name])
</script>

<template>
  <div class="question no-print" role="group" aria-label="Question">
    <label
      >by
      <select v-model="by" class="tool">
        <option v-for="name in records.fields" :key="name" :value="name">{{ fieldWords(name) }}</option>
      </select></label
    >
    <label
      >across
      <select v-model="across" class="tool">
        <option value="">nothing</option>
        <option v-for="name in records.fields" :key="name" :value="name" :disabled="name === by">
          {{ fieldWords(name) }}
        </option>
      </select></label
    >
    <label v-if="across"
      >in
      <select v-model="measure" class="tool">
        <option value="records">number</option>
        <option value="value">value</option>
      </select></label
    >
    <label
      ><select v-model="dayOf" class="tool" aria-label="By which day">
        <option value="created">created</option>
        <option value="won">won</option>
        <option value="report">in reports</option>
      </select></label
    >
    <span>from <DayField v-model="from" label="First day" optional /></span>
    <span>to <DayField v-model="to" label="Last day" optional /></span>
    <details>
      <summary class="link">columns</summary>
      <div class="columns">
        <label v-for="name in records.fields" :key="name"
          ><input
            type="checkbox"
            :checked="columns.includes(name)"
            :disabled="!columns.includes(name) && columns.length >= 12"
            @change="toggle(name)"
          />
          {{ fieldWords(name) }}</label
        >
      </div>
    </details>
  </div>
  <form class="question no-print" aria-label="Only where" @submit.prevent="add">
    <span v-for="clause in where" :key="clause" class="clause">
      only where {{ clause.replaceAll('_', ' ') }}
      <button type="button" class="plain link" :aria-label="`Remove: ${clause}`" @click="without(clause)">
        remove
      </button>
    </span>
    <span class="clause">
      only where
      <select v-model="field" class="tool" aria-label="Field">
        <option v-for="name in records.fields" :key="name" :value="name">{{ fieldWords(name) }}</option>
      </select>
      <select v-model="op" class="tool" aria-label="How">
        <option v-for="one in OPERATORS" :key="one">{{ one }}</option>
      </select>
      <input
        v-if="!isPlain"
        v-model="value"
        class="tool"
        aria-label="Value"
        placeholder="for example signed"
      />
      <button type="submit" class="tool">Add</button>
    </span>
  </form>
</template>

<style scoped>
.question {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  margin: 4px 0;
}

.clause {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 6px;
}

details {
  position: relative;
}

.columns {
  position: absolute;
  z-index: 5;
  right: 0;
  columns: 2;
  width: 340px;
  max-width: 90vw;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 8px;
}

.columns label {
  display: block;
}
</style>
