<script setup lang="ts">
import { computed } from 'vue'
import type { Board } from '../../api/client'
import { count, moneyWithUnit } from '../../shared/format'

const props = defineProps<{ board: Board }>()
defineEmits<{ open: [part: string] }>()

const show = (minor: number) => moneyWithUnit(minor, props.board.minor_digits, props.board.currency)
const ties = computed(() => props.board.ties)
/** Only where credit stands on the touch's day: what stands on days that are not shown. */
const outside = computed(() => {
  const value = ties.value.outside[props.board.yardstick] ?? 0
  return value ? [{ part: 'outside', label: 'touches outside the range', value, before: '+' }] : []
})
const books = computed(() => [
  { part: 'booked', label: 'Booked', value: ties.value.booked.value, before: '' },
  { part: 'named', label: 'named', value: ties.value.named[props.board.yardstick] ?? 0, before: '=' },
  {
    part: 'untagged',
    label: 'untagged',
    value: ties.value.untagged[props.board.yardstick] ?? 0,
    before: '+',
  },
  {
    part: 'no_value',
    label: 'tagged, no campaign',
    value: ties.value.no_value[props.board.yardstick] ?? 0,
    before: '+',
  },
  { part: 'no_trail', label: 'no trail', value: ties.value.no_trail.value, before: '+' },
  ...outside.value,
])
/** Of leads with visits: how often what their form captured says what their touches say. */
const captured = computed(() =>
  [
    { label: 'first', of: ties.value.captured_first },
    { label: 'last', of: ties.value.captured_last },
  ].filter((one) => one.of.of > 0),
)
const percent = (part: number) => Math.round(part * 100)
const spend = computed(() => [
  { part: 'invoiced', label: 'Invoiced', value: ties.value.invoiced, before: '' },
  { part: 'matched', label: 'matched', value: ties.value.matched, before: '=' },
  { part: 'unmatched', label: 'unmatched', value: ties.value.unmatched, before: '+' },
])
</script>

<template>
  <p class="tie" aria-label="Tie line">
    <span v-for="line in [books, spend]" :key="line[0]!.part" class="line">
      <template v-for="p in line" :key="p.part">
        <span v-if="p.before" class="sign">{{ p.before }}</span>
        <button type="button" class="plain part" :title="`Open ${p.label}`" @click="$emit('open', p.part)">
          {{ p.label }} <b>{{ show(p.value) }}</b>
        </button>
      </template>
    </span>
    <span class="line">
      <button
        type="button"
        class="plain part"
        title="Test records, outside every figure"
        @click="$emit('open', 'quarantined')"
      >
        Quarantined (in no figure):
        <b>{{ count(ties.quarantined_records) }} records, {{ show(ties.quarantined_value) }}</b>
      </button>
    </span>
    <span v-for="lost in board.without_rate" :key="`${lost.table} ${lost.currency}`" class="line lost">
      No exchange rate:
      <b>{{ lost.amount.replace(/\B(?=(\d{3})+(?!\d)(?=\.|$))/g, ',') }} {{ lost.currency }}</b>
      in {{ count(lost.rows) }} {{ lost.rows === 1 ? 'row' : 'rows' }} of
      {{ lost.table.replaceAll('_', ' ') }}, in no figure.
      <router-link class="link" to="/gather">Load rates</router-link>
    </span>
    <span
      v-if="captured.length"
      class="line"
      title="Leads that have visits and a captured source: how often both say the same source, medium and campaign"
    >
      Captured sources agree with visits:
      <template v-for="(one, i) in captured" :key="one.label">
        {{ one.label }} <b>{{ count(one.of.hits) }} of {{ count(one.of.of) }}</b> ({{
          percent(one.of.low ?? 0)
        }}
        to {{ percent(one.of.high ?? 1) }}&#8239;%){{ i + 1 < captured.length ? ', ' : '' }}
      </template>
    </span>
  </p>
</template>

<style scoped>
.tie {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 26px;
  margin: 6px 0 0;
  padding: 5px 0;
  border-block: 1px solid var(--line);
}

.lost {
  color: var(--loses);
}

.sign {
  margin: 0 6px;
}

.part {
  text-decoration: underline;
  text-decoration-color: var(--line);
  text-underline-offset: 3px;
}

b {
  font-weight: 650;
}
</style>
