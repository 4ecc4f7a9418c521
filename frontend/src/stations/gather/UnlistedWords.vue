<script setup lang="ts">
import { count, moneyWithUnit } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useByHand } from '../plan/useByHand'
import type { RecordsOut } from './records'

/** Words of records that the plan gives no meaning: they count until somebody says what they mean, on trial. */
defineProps<{ records: RecordsOut }>()
const byHand = useByHand()
const { busy, error } = byHand
const MEANINGS = ['counts', 'does not count', 'good'] as const
</script>

<template>
  <section v-if="records.unlisted.length" class="words" aria-label="Words without a meaning">
    <p>
      <b>Words without a meaning</b>
      <span class="quiet"> Records that carry them count until the plan says what they mean.</span>
    </p>
    <p v-for="one in records.unlisted" :key="one.values[0]">
      “{{ one.values[0] }}”: {{ count(one.sums.records) }}
      {{ one.sums.records === 1 ? 'record' : 'records' }},
      {{ moneyWithUnit(one.sums.value, records.minor_digits, records.currency) }}
      <button
        v-for="means in MEANINGS"
        :key="means"
        type="button"
        class="plain link"
        :disabled="busy"
        :aria-label="`${one.values[0]} ${means}`"
        @click="byHand.giveMeaning(one.values[0]!, means)"
      >
        {{ means }}
      </button>
    </p>
    <ProblemNote :error="error" />
  </section>
</template>

<style scoped>
.words {
  border-left: 3px solid var(--accent);
  background: var(--sheet);
  padding: 4px 10px;
  margin: 6px 0;
}

p {
  margin: 2px 0;
}

button {
  margin-left: 10px;
}
</style>
