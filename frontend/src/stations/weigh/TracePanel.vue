<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, toRef, watch } from 'vue'
import { credit, count, moneyWithUnit, yardstickName } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import TakeAway from '../../shared/TakeAway.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import { PAGE, useTrace } from './queries'
import type { Asked, Cell } from './question'
import TraceConversions from './TraceConversions.vue'
import TraceOpenings from './TraceOpenings.vue'
import TraceSpend from './TraceSpend.vue'
import TraceStates from './TraceStates.vue'

const props = defineProps<{ asked: Asked; cell: Cell; by: string }>()
defineEmits<{ close: [] }>()

const page = ref(0)
const trace = useTrace(toRef(props, 'asked'), toRef(props, 'cell'), page)
const panel = ref<HTMLDialogElement>()
/** Another figure's rows never stand under this one's name. */
const ready = computed(() => !trace.isPlaceholderData.value)
const came = document.activeElement
onMounted(() => panel.value?.showModal())
// Focus returns where it came from.
onBeforeUnmount(() => {
  if (came instanceof HTMLElement) void nextTick(() => came.focus())
})

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
const FIGURES: Record<string, string> = {
  conversions: 'Sales',
  cost_per_lead: 'Cost per lead',
  roas: 'ROAS',
  value: 'Value',
  leads: 'Leads',
  spend: 'Spend',
  touches: 'Touches',
}
const title = computed(() => {
  const c = props.cell
  if ('part' in c) return PARTS[c.part!] ?? c.part!
  const name = c.name.filter(Boolean).join(' / ')
  return `${FIGURES[c.figure] ?? c.figure} of ${name || BUCKETS[c.bucket] || c.bucket}`
})
const pages = computed(() => {
  const t = trace.data.value
  return t ? Math.ceil(Math.max(t.conversion_count, t.spend_count, t.touch_count) / PAGE) : 1
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
  return lists.filter((one) => one.count).map(({ rows, what }) => ({ what, path, query: { ...query, rows } }))
})
const amount = (minor: number) =>
  moneyWithUnit(minor, trace.data.value!.minor_digits, trace.data.value!.currency)
</script>

<template>
  <dialog ref="panel" class="panel" aria-label="Trace" @close="$emit('close')" @click.self="panel?.close()">
    <header>
      <h2>{{ title }}</h2>
      <button
        type="button"
        class="plain close"
        title="Close (Esc)"
        aria-label="Close the trace"
        @click="panel?.close()"
      >
        ✕
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
        <template
          v-if="
            !trace.data.value.conversion_count &&
            !trace.data.value.spend_count &&
            !trace.data.value.states.length
          "
          >no row stands in it.</template
        >
      </p>
      <p v-if="files.length" class="files">
        <TakeAway v-for="file in files" :key="file.what" v-bind="file" />
      </p>
      <TraceOpenings v-if="trace.data.value.openings.length" :trace="trace.data.value" />
      <TraceStates v-if="trace.data.value.states.length" :trace="trace.data.value" />
      <TraceSpend v-if="trace.data.value.spend_rows.length" :trace="trace.data.value" />
      <TraceConversions v-if="trace.data.value.conversions.length" :trace="trace.data.value" :by="by" />
      <p v-if="pages > 1" class="pages">
        <v-btn :disabled="page === 0" @click="page--">Previous {{ PAGE }}</v-btn>
        page {{ page + 1 }} of {{ pages }}
        <v-btn :disabled="page + 1 >= pages" @click="page++">Next {{ PAGE }}</v-btn>
      </p>
      <p class="quiet stamp">
        Fingerprint {{ trace.data.value.fingerprint }} · data state {{ trace.data.value.data }} · origin
        {{ trace.data.value.origin }}
      </p>
    </template>
  </dialog>
</template>

<style scoped>
.panel {
  position: fixed;
  inset: 0 0 0 auto;
  width: min(720px, 100vw);
  max-width: none;
  height: 100vh;
  max-height: none;
  margin: 0 0 0 auto;
  overflow: auto;
  color: var(--ink);
  background: var(--sheet);
  border: 0;
  border-left: 2px solid var(--ink);
  padding: 12px 16px;
  z-index: 6;
  outline: none;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}

h2 {
  font-size: 17px;
}

.close {
  font-size: 16px;
  padding: 2px 6px;
}

.sums {
  margin: 4px 0 10px;
}

.files {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  margin: 0 0 10px;
  font-size: 13px;
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
