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
const found = computed(() => Object.values(props.board.findings).reduce((sum, n) => sum + n, 0))
const spend = computed(() => [
  { part: 'invoiced', label: 'Invoiced', value: ties.value.invoiced, before: '' },
  { part: 'matched', label: 'matched', value: ties.value.matched, before: '=' },
  { part: 'unmatched', label: 'unmatched', value: ties.value.unmatched, before: '+' },
])
</script>

<template>
  <div class="tie" role="group" aria-label="Tie line">
    <p v-for="(parts, i) in [books, spend]" :key="i">
      <span class="line">
        <template v-for="p in parts" :key="p.part">
          <span v-if="p.before" class="sign">{{ p.before }}</span>
          <button
            type="button"
            class="plain part"
            :data-says="`${p.label}: ${show(p.value)}. Enter: what it is made of`"
            @click="$emit('open', p.part)"
          >
            {{ p.label }} <b>{{ show(p.value) }}</b>
          </button>
        </template>
      </span>
      <template v-if="i === 0">
        <span
          v-if="captured.length"
          class="line quiet"
          data-says="Leads that have visits and a captured source: how often both say the same source, medium and campaign, with the 90 % interval"
        >
          Captured sources agree:
          <template v-for="(one, n) in captured" :key="one.label">
            {{ one.label }} <b>{{ count(one.of.hits) }} of {{ count(one.of.of) }}</b> ({{
              percent(one.of.low ?? 0)
            }}
            to {{ percent(one.of.high ?? 1) }}&#8239;%){{ n + 1 < captured.length ? ', ' : '' }}
          </template>
        </span>
      </template>
      <template v-else>
        <span class="line">
          <button
            type="button"
            class="plain part"
            data-says="Test records, outside every figure. Enter: which"
            @click="$emit('open', 'quarantined')"
          >
            Quarantined (in no figure):
            <b>{{ count(ties.quarantined_records) }} records, {{ show(ties.quarantined_value) }}</b>
          </button>
        </span>
        <router-link
          v-if="found"
          class="line part"
          :to="{ name: 'findings', query: $route.query }"
          data-says="Findings about the rows behind this board. Enter: each kind, its rows, what mends it"
          ><b>{{ count(found) }}</b>
          {{ found === 1 ? 'finding touches' : 'findings touch' }} this</router-link
        >
        <span v-for="lost in board.without_rate" :key="`${lost.table} ${lost.currency}`" class="line lost">
          No exchange rate:
          <b>{{ lost.amount.replace(/\B(?=(\d{3})+(?!\d)(?=\.|$))/g, ',') }} {{ lost.currency }}</b>
          in {{ count(lost.rows) }} {{ lost.rows === 1 ? 'row' : 'rows' }} of
          {{ lost.table.replaceAll('_', ' ') }}, in no figure.
          <router-link class="link" to="/gather">Load rates</router-link>
        </span>
      </template>
    </p>
  </div>
</template>

<style scoped>
.tie {
  box-shadow: 0 -1px 0 var(--line);
}

p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 22px;
  margin: 0;
  /* The lines lie under each other: each is high enough to be hit. */
  line-height: 24px;
  min-height: 24px;
}

a {
  color: inherit;
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
