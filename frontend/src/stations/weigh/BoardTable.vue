<script setup lang="ts">
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Board, Certainty, Row } from '../../api/client'
import { glyph } from '../../ruler/glyphs'
import RulerAxis from '../../ruler/RulerAxis.vue'
import { makeScale } from '../../ruler/scale'
import { count, ratio, yardstickName } from '../../shared/format'
import BoardRow from './BoardRow.vue'
import { moveFocus } from './moveFocus'
import { type Column, type useQuestion, type useTraced } from './question'
import { keyOf, notchOf, panelOf, rulerUnit, rulerValues, type Measure } from './rows'

const props = defineProps<{
  board: Board
  certainty?: Certainty
  question: ReturnType<typeof useQuestion>
  traced: ReturnType<typeof useTraced>
}>()
const q = props.question

const head = ref<HTMLElement>()
const { width } = useElementSize(head, { width: 420, height: 0 }, { box: 'border-box' })

const panel = computed(() => panelOf(props.board, q.panel.value))
const measure = computed(() => q.measure.value as Measure)
const perSpend = computed(() => q.scale.value !== 'money')
const rows = computed(() => props.board.rows.filter((r) => r.found))
const ROW = 25
const MANY = 100
const ManyRows = defineAsyncComponent(() => import('./ManyRows.vue'))
const onPaper = useMediaQuery('print')
/** What each row is drawn with. */
const drawn = (row: Row) => ({
  row,
  board: props.board,
  certainty: props.certainty,
  certain: certain.value.get(keyOf(row)),
  panel: panel.value,
  scale: scale.value,
  measure: measure.value,
  perSpend: perSpend.value,
})
const openRow = (row: Row, figure: string) => props.traced.open(row.bucket, figure, row.values)
const ruled = computed(() => props.board.rows.filter((r) => r.bucket === 'named'))
const certain = computed(() => new Map(props.certainty?.rows.map((row) => [keyOf(row), row])))
const lineNotch = computed(() => notchOf(props.board, null, measure.value, perSpend.value))
const scale = computed(() => {
  const values = ruled.value.map((r) =>
    rulerValues(props.board, panel.value, r, measure.value, perSpend.value).map((v) => v.value),
  )
  const notches = ruled.value.map((r) => notchOf(props.board, r, measure.value, perSpend.value) ?? 0)
  const highest = values.map((v) => Math.max(0, ...v))
  const room = perSpend.value ? lineNotch.value : Math.max(0, ...notches)
  return makeScale(q.scale.value, highest, room, Math.max(160, width.value - 28))
})

const columns = computed<{ name: Column; title: string; unit: string }[]>(() => [
  { name: 'spend', title: 'Spend', unit: props.board.currency },
  { name: 'leads', title: 'Leads', unit: '' },
  { name: 'cost_per_lead', title: 'Cost / lead', unit: props.board.currency },
  { name: 'sales', title: 'Sales', unit: '' },
  { name: 'value', title: 'Value', unit: props.board.currency },
  // In rows that are no campaign's, untagged value stands beside the spend of ads: that has its name (R23).
  { name: 'roas', title: 'ROAS', unit: props.board.by === 'campaign' ? '' : 'blended' },
])

/** Yardsticks that have intervals; those that credit states have none. */
const intervals = computed(
  () => props.certainty?.rows.find((r) => Object.keys(r.intervals).length)?.intervals ?? {},
)

function sortBy(name: Column) {
  const same = q.sort.value === name
  const down = same ? q.order.value !== 'down' : name !== 'name'
  void q.change({ sort: name, order: down ? undefined : 'up' })
}

const sorted = (name: Column) =>
  q.sort.value !== name ? 'none' : q.order.value === 'down' ? 'descending' : 'ascending'
const arrow = (name: Column) => ({ none: '', descending: ' ▾', ascending: ' ▴' })[sorted(name)]
function toggle(name: string) {
  const rest = panel.value.filter((other) => other !== name && other !== props.board.yardstick)
  q.panel.value = panel.value.includes(name) ? [...rest, props.board.yardstick] : [...panel.value, name]
}
const axisShow = (value: number) => {
  if (perSpend.value) return ratio(value)
  return count(measure.value === 'value' ? value / 10 ** props.board.minor_digits : value)
}
</script>

<template>
  <table
    class="board"
    :aria-rowcount="rows.length + 3"
    :class="{ two: board.by.includes(',') }"
    @keydown="moveFocus"
  >
    <thead>
      <tr>
        <th class="name" :aria-sort="sorted('name')">
          <button type="button" class="plain" @click="sortBy('name')">
            {{ board.by.replace(',', ' / ') }}{{ arrow('name') }}
          </button>
        </th>
        <th ref="head" class="ruler">
          <span class="unseen">Ruler</span>
          <RulerAxis :scale="scale" :notch="lineNotch" notch-label="break-even" :show="axisShow" />
        </th>
        <th v-for="c in columns" :key="c.name" class="number" :aria-sort="sorted(c.name)">
          <button type="button" class="plain" @click="sortBy(c.name)">
            {{ c.title }}{{ arrow(c.name) }}<span v-if="c.unit" class="unit">{{ c.unit }}</span>
          </button>
        </th>
        <th class="says" :aria-sort="board.judged ? sorted('verdict') : undefined">
          <button v-if="board.judged" type="button" class="plain" @click="sortBy('verdict')">
            Verdict{{ arrow('verdict') }}<span v-if="board.by !== 'campaign'" class="unit">ads only</span>
          </button>
        </th>
      </tr>
    </thead>
    <!-- Hundreds are drawn as they come into sight; on paper all of them stand. -->
    <ManyRows
      v-if="rows.length >= MANY && !onPaper"
      v-slot="{ first, end }"
      :count="rows.length"
      :height="ROW"
      :columns="9"
    >
      <BoardRow
        v-for="row in rows.slice(first, end)"
        :key="keyOf(row)"
        v-bind="drawn(row)"
        @open="openRow(row, $event)"
      />
    </ManyRows>
    <tbody v-else>
      <BoardRow v-for="row in rows" :key="keyOf(row)" v-bind="drawn(row)" @open="openRow(row, $event)" />
    </tbody>
    <tfoot>
      <BoardRow
        v-for="row in [board.ads_only, board.total]"
        :key="row.bucket"
        :row="row"
        :board="board"
        :panel="panel"
        :scale="scale"
        :measure="measure"
        :per-spend="perSpend"
        total
        @open="(figure) => traced.open(row.bucket, figure, [])"
      />
    </tfoot>
  </table>
  <p class="legend" aria-label="Shapes of the yardsticks">
    <button
      v-for="name in board.yardsticks"
      :key="name"
      type="button"
      class="plain"
      :class="{ chosen: name === board.yardstick, out: !panel.includes(name) }"
      :aria-pressed="panel.includes(name)"
      :disabled="name === board.yardstick"
      :title="panel.includes(name) ? 'Take it off the ruler' : 'Draw it on the ruler'"
      @click="toggle(name)"
    >
      <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden="true">
        <path :d="glyph(name, board.yardsticks)" />
      </svg>
      {{ yardstickName(name) }}
    </button>
    <span class="quiet">
      Ruler: {{ rulerUnit(board, measure, perSpend) }}; the thick notch is break-even<template
        v-if="board.target_roas !== null"
        >, the dashed one the target</template
      ><template v-if="board.by === 'campaign'"
        >; the bracket is the 90 % interval of the chosen yardstick{{
          board.yardstick in intervals ? '' : ', which has none'
        }}</template
      >; › lies beyond the edge
    </span>
  </p>
</template>

<style scoped>
.board {
  table-layout: fixed;
}

/* Totals stay in sight above the tie line. */
tfoot {
  position: sticky;
  bottom: var(--foot, 0);
  z-index: 2;
}

tfoot :deep(td),
tfoot :deep(th) {
  background: var(--paper);
}

@media print {
  tfoot {
    position: static;
  }
}

th {
  vertical-align: bottom;
  padding-block: 0 3px;
}

.name {
  width: 17%;
  text-transform: capitalize;
}

.two .name {
  width: 25%;
}

.ruler {
  width: auto;
  padding: 0 14px;
}

th.number {
  width: 82px;
}

th.number:nth-child(4),
th.number:nth-child(6),
th.number:nth-child(8) {
  width: 62px;
}

.says {
  width: 172px;
}

th.number .plain {
  text-align: right;
}

.unit {
  display: block;
  font-weight: 400;
  font-size: 12px;
  color: var(--unsure);
}

.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 5px 0 0;
  font-size: 13px;
}

.legend svg {
  vertical-align: -2px;
}

.legend path {
  stroke: var(--unsure);
  stroke-width: 1.5;
  fill: none;
}

.legend .out {
  color: var(--unsure);
}

.legend .out::before {
  content: '+ ';
}

.legend .chosen {
  font-weight: 650;
}

.legend .chosen path {
  stroke: var(--accent);
  fill: var(--accent);
}
</style>
