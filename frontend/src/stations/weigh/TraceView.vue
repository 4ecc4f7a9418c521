<script setup lang="ts">
import { computed, ref, toRef, watch } from 'vue'
import { credit, count, moneyWithUnit, yardstickName } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import type { Column } from './figures'
import WorkingNote from '../../shared/WorkingNote.vue'
import { PAGE, useTrace } from './queries'
import type { Asked, Cell } from './question'
import TraceConversions from './TraceConversions.vue'
import TraceTable from './TraceTable.vue'
import { openingsOf, spendOf, statesOf, touchesOf } from './traceLists'

/** What one figure is made of: its sums first, then the trails beside the spend. */
const props = defineProps<{ asked: Asked; cell: Cell; by: string; columns: Column[] }>()
defineEmits<{ close: [] }>()

const page = ref(0)
const trace = useTrace(toRef(props, 'asked'), toRef(props, 'cell'), page)
/** Another figure's rows never stand under this one's name. */
const ready = computed(() => !trace.isPlaceholderData.value)

watch(
  () => JSON.stringify(props.cell),
  () => (page.value = 0),
)

const PARTS: Record<string, string> = {
  booked: 'Booked value',
  named: 'Value credited to campaigns',
  untagged: 'Value credited to untagged touches',
  no_value: 'Value credited to tagged touches without a campaign',
  no_trail: 'Conversions without any touch',
  outside: 'Value whose touch is outside the range',
  invoiced: 'Spend invoiced',
  matched: 'Spend that met touches or credit',
  unmatched: 'Spend that met none',
  quarantined: 'Quarantined test records',
}
const BUCKETS: Record<string, string> = {
  untagged: 'untagged',
  no_value: 'tagged, without a value',
  no_trail: 'no trail',
  undivided: 'spend that cannot be split',
  left_out: 'all outside the filter',
  total: 'blended (everything)',
  ads_only: 'ads only',
}
const title = computed(() => {
  const c = props.cell
  if ('part' in c) return PARTS[c.part!] ?? c.part!
  const name = c.name.filter(Boolean).join(' / ')
  const figure = props.columns.find((column) => column.traced === c.figure)?.title ?? c.figure
  return `${figure} of ${name || BUCKETS[c.bucket] || c.bucket}`
})
const pages = computed(() => {
  const t = trace.data.value
  return t ? Math.ceil(Math.max(t.conversion_count, t.spend_count, t.touch_count) / PAGE) : 1
})
/** Which rows of how many stand on the page, for whoever has it on paper. */
const onPaper = computed(() => {
  const t = trace.data.value!
  const lists: [string, number][] = [
    ['conversions', t.conversion_count],
    ['spend rows', t.spend_count],
    ['touches', t.touch_count],
  ]
  const first = page.value * PAGE + 1
  return lists
    .filter(([, number]) => number)
    .map(([what, number]) => {
      const last = Math.min(number, first + PAGE - 1)
      return first > number
        ? `none of ${count(number)} ${what}`
        : `${what} ${count(first)} to ${count(last)} of ${count(number)}`
    })
    .join(', ')
})
/** Each list of the trace as a file: all its rows, not one page. */
const files = computed(() => {
  const t = trace.data.value!
  const lists = [
    { rows: 'openings', what: 'Where they came from', count: t.openings.length },
    { rows: 'states', what: 'States', count: t.states.length },
    { rows: 'spend', what: 'Spend rows', count: t.spend_count },
    { rows: 'conversions', what: 'Conversions', count: t.conversion_count },
    { rows: 'touches', what: 'Touches', count: t.touch_count },
  ]
  const path = 'part' in props.cell ? `/weigh/trace/${props.cell.part}` : '/weigh/trace'
  const query = 'part' in props.cell ? props.asked : { ...props.asked, ...props.cell }
  return lists
    .filter((one) => one.count)
    .map(({ rows, what, count }) => ({ what, path, query: { ...query, rows }, rows: count }))
})
const hasLeft = computed(() => !!trace.data.value?.states.length || !!trace.data.value?.conversions.length)
/** The lists that stand beside the conversions. */
const beside = computed(() => {
  const t = trace.data.value
  return t ? [openingsOf(t), spendOf(t), touchesOf(t)].filter((list) => list.rows.length) : []
})
const hasRight = computed(() => beside.value.length > 0)
const hasBoth = computed(() => hasLeft.value && hasRight.value)
const stamp = computed(() => trace.data.value?.fingerprint)
const amount = (minor: number) =>
  moneyWithUnit(minor, trace.data.value!.minor_digits, trace.data.value!.currency)
</script>

<template>
  <section class="trace" aria-label="Trace">
    <header class="titled">
      <h2>{{ title }}</h2>
      <ExportControl v-if="trace.data.value && ready && files.length" :tables="files" :stamp="stamp" />
      <button
        type="button"
        class="plain link close"
        data-says="Back to the board (Esc)"
        @click="$emit('close')"
      >
        Back to the board
      </button>
    </header>
    <ProblemNote :error="trace.error.value" />
    <WorkingNote
      v-if="!ready && !trace.error.value"
      what="Tracing: every row that made this figure is looked up."
    />
    <template v-if="trace.data.value && ready">
      <p class="sums">
        Under {{ yardstickName(trace.data.value.yardstick) }}:
        <template v-if="trace.data.value.conversion_count && !trace.data.value.states.length">
          {{ count(trace.data.value.conversion_count) }}
          {{ trace.data.value.conversion_count === 1 ? 'conversion gives' : 'conversions give' }}
          <b>{{ credit(trace.data.value.share) }}</b> credited, worth
          <b>{{ amount(trace.data.value.value) }}</b>.
        </template>
        <template v-if="trace.data.value.spend_count">
          {{ count(trace.data.value.spend_count) }} spend
          {{ trace.data.value.spend_count === 1 ? 'row adds' : 'rows add' }} up to
          <b>{{ amount(trace.data.value.spend) }}</b>.
        </template>
        <template v-if="trace.data.value.states.length">
          {{ count(trace.data.value.states.length) }}
          {{ trace.data.value.states.length === 1 ? 'state has' : 'states have'
          }}<template v-if="trace.data.value.conversion_count"
            >, with {{ count(trace.data.value.conversion_count) }} conversions that no touch came
            before,</template
          >
          <b>{{ credit(trace.data.value.share) }}</b> credited, worth
          <b>{{ amount(trace.data.value.value) }}</b>.
        </template>
        <template v-if="trace.data.value.touch_count">
          {{ count(trace.data.value.touch_count) }}
          {{ trace.data.value.touch_count === 1 ? 'touch is' : 'touches are' }} in it.
        </template>
        <template
          v-if="
            !trace.data.value.touch_count &&
            !trace.data.value.conversion_count &&
            !trace.data.value.spend_count &&
            !trace.data.value.states.length
          "
          >no row is in it.</template
        >
      </p>
      <div class="lists" :class="{ both: hasBoth }">
        <div v-if="hasLeft">
          <TraceTable v-if="trace.data.value.states.length" :list="statesOf(trace.data.value)" />
          <TraceConversions v-if="trace.data.value.conversions.length" :trace="trace.data.value" :by="by" />
        </div>
        <div v-if="hasRight">
          <TraceTable v-for="list in beside" :key="list.label" :list="list" />
        </div>
      </div>
      <p v-if="pages > 1" class="print-only">On paper: {{ onPaper }}.</p>
      <p v-if="pages > 1" class="pages no-print">
        <v-btn :disabled="page === 0" @click="page--">Previous {{ PAGE }}</v-btn>
        page {{ page + 1 }} of {{ pages }}
        <v-btn :disabled="page + 1 >= pages" @click="page++">Next {{ PAGE }}</v-btn>
      </p>
      <p class="quiet stamp">
        Fingerprint {{ trace.data.value.fingerprint }} · data state {{ trace.data.value.data }} · origin
        {{ trace.data.value.origin }}
      </p>
    </template>
  </section>
</template>

<style scoped>
.trace {
  border-top: 1px solid var(--ink);
  margin-top: 6px;
  padding-top: 6px;
}

.close {
  margin-left: auto;
}

.lists.both {
  display: grid;
  grid-template-columns: minmax(0, 580fr) minmax(0, 568fr);
  gap: 0 16px;
  align-items: start;
}

/* Side by side each row is one line; what is cut is said where it is pointed at. */
.lists.both :deep(table) {
  table-layout: fixed;
}

.lists.both :deep(td) {
  height: 24px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

@media (max-width: 1100px) {
  .lists.both {
    display: block;
  }
}

@media print {
  .lists.both {
    display: block;
  }

  .lists.both :deep(td) {
    height: auto;
    overflow: visible;
    white-space: normal;
  }
}

.sums {
  margin: 4px 0 10px;
}

.pages {
  display: flex;
  gap: 10px;
  align-items: center;
}

.stamp {
  font-size: 13px;
}
</style>
