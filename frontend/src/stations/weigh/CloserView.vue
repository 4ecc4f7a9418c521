<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { Board, Certain, Row } from '../../api/client'
import { glyph } from '../../ruler/glyphs'
import RulerAxis from '../../ruler/RulerAxis.vue'
import { makeScale, place } from '../../ruler/scale'
import { count, credit, money, ratio, yardstickName } from '../../shared/format'
import { flipWords } from './boardWords'
import { bracketOf, inNames, notchOf, rulerUnit, rulerValues, type Measure } from './rows'

/** One row of the board on a scale of its own: every yardstick on a line, named, with its interval; its table below. */
const props = defineProps<{
  board: Board
  row: Row
  certain?: Certain
  panel: string[]
  measure: Measure
  perSpend: boolean
}>()
const emit = defineEmits<{ close: [] }>()

const dialog = ref<HTMLDialogElement>()
onMounted(() => dialog.value?.showModal())

const WIDTH = 860
const LANE = 46
const values = computed(() => rulerValues(props.board, props.panel, props.row, props.measure, props.perSpend))
const notch = computed(() => notchOf(props.board, props.row, props.measure, props.perSpend))
const intervals = computed(() =>
  Object.fromEntries(
    values.value.map((v) => [
      v.name,
      bracketOf(
        { ...props.board, yardstick: v.name },
        props.row,
        props.certain,
        props.measure,
        props.perSpend,
      ),
    ]),
  ),
)
const scale = computed(() => {
  const highest = values.value.map((v) => Math.max(v.value, intervals.value[v.name]?.high ?? 0))
  return makeScale('money', highest, notch.value, WIDTH)
})
const at = (value: number) => place(scale.value, value).x
const names = computed(() => values.value.map((v) => v.name))
const verdict = computed(() => props.certain?.verdicts[props.measure === 'value' ? 'sale' : 'lead'])
const flips = computed(() => (verdict.value ? flipWords(verdict.value, props.board.currency) : ''))
const reason = computed(() =>
  [inNames(verdict.value?.reason ?? '', props.board.yardsticks), flips.value]
    .filter(Boolean)
    .map((text) => text[0]!.toUpperCase() + text.slice(1))
    .join('. '),
)
const show = (value: number) =>
  props.perSpend
    ? ratio(value)
    : props.measure === 'value'
      ? count(value / 10 ** props.board.minor_digits)
      : credit(value)
const unit = computed(() => rulerUnit(props.board, props.measure, props.perSpend))
const under = (name: string) =>
  props.board.by === 'campaign'
    ? { value: props.row.under[name]!.value!, leads: props.row.under[name]!.leads! }
    : (props.row.ads[name] ?? { value: 0, leads: 0 })
const side = (value: number) => {
  if (notch.value === null || !verdict.value || ['too_few', 'too_early'].includes(verdict.value.code))
    return ''
  return value >= notch.value ? 'pays' : 'loses'
}
</script>

<template>
  <dialog
    ref="dialog"
    class="closer"
    :aria-label="`${row.called}, closer`"
    @close="emit('close')"
    @click.self="dialog?.close()"
  >
    <header>
      <h2>{{ row.called }}</h2>
      <span class="quiet">{{ unit }}</span>
      <button type="button" class="plain link" @click="dialog?.close()">Back to the board</button>
    </header>
    <p v-if="verdict" class="reason">{{ reason }}</p>
    <div v-if="values.length" class="drawing" role="group" aria-label="Rulers" tabindex="0">
      <div class="axis">
        <RulerAxis :scale="scale" :notch="notch" notch-label="break-even" :show="show" />
      </div>
      <div v-for="v in values" :key="v.name" class="lane" :class="{ chosen: v.name === board.yardstick }">
        <span class="name">{{ yardstickName(v.name) }}</span>
        <svg :width="WIDTH" :height="LANE" :viewBox="`0 0 ${WIDTH} ${LANE}`" role="img" :aria-label="v.label">
          <line :x1="0" :x2="WIDTH" :y1="LANE / 2" :y2="LANE / 2" class="base" />
          <line v-if="notch !== null" :x1="at(notch)" :x2="at(notch)" y1="0" :y2="LANE" class="notch" />
          <path
            v-if="intervals[v.name]"
            :d="`M${at(intervals[v.name]!.low)},${LANE / 2 - 8} v16 m0,-8 H${at(intervals[v.name]!.high)} m0,-8 v16`"
            class="bracket"
          />
          <g :transform="`translate(${at(v.value)},${LANE / 2})`" class="tick">
            <path :d="glyph(v.name, names)" transform="scale(1.4)" />
          </g>
        </svg>
        <b class="figure">{{ show(v.value) }}</b>
      </div>
    </div>
    <p v-else class="quiet">This row has no spend, so there is nothing to measure against.</p>
    <table tabindex="0" aria-label="Yardsticks">
      <thead>
        <tr>
          <th>Yardstick</th>
          <th class="number">Value {{ board.currency }}</th>
          <th class="number">Leads</th>
          <th class="number">{{ perSpend ? 'On the ruler' : 'Per spend' }}</th>
          <th class="number">90 % from</th>
          <th class="number">to</th>
          <th>Side</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="v in values" :key="v.name">
          <td>{{ yardstickName(v.name) }}</td>
          <td class="number">{{ money(under(v.name).value, board.minor_digits) }}</td>
          <td class="number">{{ credit(under(v.name).leads) }}</td>
          <td class="number">{{ show(v.value) }}</td>
          <td class="number">{{ intervals[v.name] ? show(intervals[v.name]!.low) : '–' }}</td>
          <td class="number">{{ intervals[v.name] ? show(intervals[v.name]!.high) : '–' }}</td>
          <td :class="side(v.value)">{{ side(v.value) || '–' }}</td>
        </tr>
      </tbody>
    </table>
  </dialog>
</template>

<style scoped>
.closer {
  width: min(1164px, 100vw - 32px);
  max-width: none;
  min-height: min(600px, 100vh - 32px);
  max-height: calc(100vh - 32px);
  margin: auto;
  overflow: auto;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--ink);
  padding: 14px 20px;
}

header {
  display: flex;
  gap: 14px;
  align-items: baseline;
}

header button {
  margin-left: auto;
}

h2 {
  font-size: 17px;
}

.reason {
  margin: 4px 0 10px;
}

.drawing {
  overflow-x: auto;
  margin-bottom: 14px;
}

.axis {
  padding: 12px 0 0 170px;
}

.lane {
  display: flex;
  align-items: center;
  gap: 10px;
}

.name {
  width: 160px;
  flex: none;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.chosen .name {
  font-weight: 650;
}

svg {
  flex: none;
  overflow: visible;
}

.base {
  stroke: var(--line);
}

.notch {
  stroke: var(--ink);
  stroke-width: 2;
}

.bracket {
  stroke: var(--unsure);
  stroke-width: 1.5;
  fill: none;
}

.tick path {
  stroke: var(--ink);
  stroke-width: 1.5;
  fill: var(--paper);
}

.chosen .bracket {
  stroke: var(--accent);
}

.chosen .tick path {
  stroke: var(--accent);
  fill: var(--accent);
}

.pays {
  color: var(--pays);
}

.loses {
  color: var(--loses);
}
</style>
