<script setup lang="ts">
import { computed } from 'vue'
import { count, credit, money, ratio, yardstickName } from './format'
import type { Trial } from './trial'
import { turnWords } from './trialWords'

/** What an edit on trial moves: the rows that move most, before and after, and the verdicts that turn. */
const props = defineProps<{ trial: Trial }>()

type Side = NonNullable<Trial['rows'][number]['before']>
const DASH = '–'
const digits = computed(() => [props.trial.was_minor_digits, props.trial.minor_digits] as const)
const oneCurrency = computed(() => props.trial.was_currency === props.trial.currency)
const COLUMNS = [
  { title: 'Spend', of: (s: Side) => s.spend, kind: 'money' },
  { title: 'Leads', of: (s: Side) => s.leads, kind: 'credit' },
  { title: 'Sales', of: (s: Side) => s.sales, kind: 'credit' },
  { title: 'Value', of: (s: Side) => s.value, kind: 'money' },
  { title: 'ROAS', of: (s: Side) => s.roas, kind: 'ratio' },
] as const
/** Only what moves in one of the rows has columns. */
const columns = computed(() =>
  COLUMNS.filter((c) =>
    props.trial.rows.some((r) => (r.before ? c.of(r.before) : 0) !== (r.after ? c.of(r.after) : 0)),
  ),
)
const write = (kind: string, at: 0 | 1) => (n: number) =>
  kind === 'money' ? money(n, digits.value[at]) : kind === 'credit' ? credit(n) : ratio(n)
function shown(side: Side | null, at: 0 | 1, c: (typeof COLUMNS)[number]) {
  const value = side ? c.of(side) : null
  return value === null ? DASH : write(c.kind, at)(value)
}
const difference = (row: Trial['rows'][number], c: (typeof COLUMNS)[number]) => {
  const [before, after] = [row.before ? c.of(row.before) : 0, row.after ? c.of(row.after) : 0]
  if (before === null || after === null || !oneCurrency.value) return DASH
  const by = after - before
  return (by > 0 ? '+' : '') + write(c.kind, 1)(by)
}
const unit = (kind: string) => {
  if (kind !== 'money') return ''
  return oneCurrency.value
    ? ` (${props.trial.currency})`
    : ` (${props.trial.was_currency}, ${props.trial.currency})`
}
</script>

<template>
  <section class="seen" tabindex="0" aria-label="What would move">
    <table v-if="trial.rows.length">
      <caption class="quiet">
        {{
          trial.moved > trial.rows.length
            ? `The ${count(trial.rows.length)} of ${count(trial.moved)} rows that move most`
            : 'Rows that move'
        }},
        {{
          yardstickName(trial.yardstick)
        }}
      </caption>
      <thead>
        <tr>
          <th rowspan="2">{{ trial.by.charAt(0).toUpperCase() + trial.by.slice(1).replaceAll('_', ' ') }}</th>
          <th v-for="c in columns" :key="c.title" colspan="3" class="number">
            {{ c.title }}{{ unit(c.kind) }}
          </th>
        </tr>
        <tr>
          <template v-for="c in columns" :key="c.title">
            <th class="number">before</th>
            <th class="number">after</th>
            <th class="number">difference</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in trial.rows" :key="row.called">
          <td>{{ row.called }}</td>
          <template v-for="c in columns" :key="c.title">
            <td class="number">{{ shown(row.before, 0, c) }}</td>
            <td class="number">{{ shown(row.after, 1, c) }}</td>
            <td class="number">{{ difference(row, c) }}</td>
          </template>
        </tr>
      </tbody>
    </table>
    <p v-if="trial.elsewhere" class="quiet">
      {{ count(trial.elsewhere) }} {{ trial.moved ? 'more rows move' : 'rows move' }} under other yardsticks
      alone.
    </p>
    <ul v-if="trial.turns.length" aria-label="Verdicts that turn">
      <li v-for="turn in trial.turns" :key="turn.called + turn.kind">{{ turnWords(turn) }}</li>
    </ul>
  </section>
</template>

<style scoped>
.seen {
  padding: 8px 0;
  display: flex;
  flex-wrap: wrap;
  gap: 24px;
  overflow: auto;
}

table {
  width: auto;
}

caption {
  text-align: left;
}

td,
th {
  padding: 2px 8px;
}

ul {
  margin: 0;
  padding-left: 18px;
}
</style>
