<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { count, moneyWithUnit } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import { byWords, COVERAGE } from './coverageWords'

/** What one share of coverage is made of, by a field: each part, what lacks most first; weeks in their order. */
const props = defineProps<{ coverage: Schemas['CoverageOut']; figure: string }>()
const MOST = 60
const declared = computed(() => COVERAGE[props.figure]!)
const by = ref(declared.value.by[0]!)
watch(declared, (now) => (by.value = now.by[0]!))
const isMoney = computed(() => ['value_credited', 'spend_matched'].includes(props.figure))
const amount = (value: number) =>
  isMoney.value ? moneyWithUnit(value, props.coverage.minor_digits, props.coverage.currency) : count(value)
const rows = computed(() => {
  const mine = props.coverage.shares.filter((one) => one.figure === props.figure && one.by === by.value)
  if (by.value === 'week') return mine
  return [...mine].sort((a, b) => b.whole - b.part - (a.whole - a.part))
})
const percent = (share: number) => `${(100 * share).toFixed(1)} %`
const shareOf = (one: Schemas['CoverageShare']) => (one.whole > 0 ? percent(one.part / one.whole) : '–')
const bracket = (one: Schemas['CoverageShare']) =>
  one.low === null ? '' : `${percent(one.low)} to ${percent(one.high!)}`
</script>

<template>
  <section class="parts" :aria-label="declared.name">
    <p class="quiet">
      {{ declared.what }}, by
      <button
        v-for="name in declared.by"
        :key="name"
        type="button"
        class="plain link by"
        :aria-pressed="by === name"
        @click="by = name"
      >
        {{ byWords(name) }}
      </button>
    </p>
    <MovingTable>
      <thead>
        <tr>
          <th>{{ byWords(by) }}</th>
          <th class="number">Tied together</th>
          <th class="number">Of</th>
          <th class="number">Lacking</th>
          <th class="number">Share</th>
          <th class="number">90 % certain</th>
          <th>Since</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in rows.slice(0, MOST)" :key="one.value">
          <td>{{ one.value || 'nothing' }}</td>
          <td class="number">{{ amount(one.part) }}</td>
          <td class="number">{{ amount(one.whole) }}</td>
          <td class="number">{{ amount(one.whole - one.part) }}</td>
          <td class="number">{{ shareOf(one) }}</td>
          <td class="number">{{ bracket(one) }}</td>
          <td>{{ one.since }}</td>
        </tr>
      </tbody>
    </MovingTable>
    <p v-if="rows.length > MOST" class="quiet">{{ count(rows.length - MOST) }} more are in the file.</p>
  </section>
</template>

<style scoped>
.by {
  margin-right: 10px;
  min-height: 24px;
}

.by[aria-pressed='true'] {
  font-weight: 700;
}
</style>
