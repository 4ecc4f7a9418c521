<script setup lang="ts">
import { computed } from 'vue'
import type { Board, Certain, Certainty, Row } from '../../api/client'
import RulerLine from '../../ruler/RulerLine.vue'
import { type Scale } from '../../ruler/scale'
import { daysOf } from '../../shared/days'
import { ratio, yardstickName } from '../../shared/format'
import { cellWords, flipWords } from './boardWords'
import type { Moved } from './before'
import { columnsOf, shown, unitOf, valueOf, whyNone } from './figures'
import { bracketOf, keyOf, notchOf, rowRemark, rulerValues, saidOf, targetOf, type Measure } from './rows'

const props = defineProps<{
  row: Row
  board: Board
  certainty?: Certainty
  certain?: Certain
  panel: string[]
  scale: Scale
  measure: Measure
  perSpend: boolean
  total?: boolean
  /** How it moved since the time before, where that is asked. */
  moved?: Moved
  comparing?: boolean
  /** The figure that stands beside the ruler on a phone. */
  main?: string
  /** Whether its name leads a field deeper. */
  opens?: boolean
  /** The figure of this row whose trace is open. */
  traced?: string
  /** Which of its cells Tab stops at, if any: a board is one stop, with arrows inside. */
  stop?: string
}>()
const emit = defineEmits<{ open: [figure: string]; deeper: []; closer: [] }>()

const at = (cell: string) => (props.stop === cell ? 0 : -1)
const values = computed(() => rulerValues(props.board, props.panel, props.row, props.measure, props.perSpend))
const notch = computed(() => notchOf(props.board, props.row, props.measure, props.perSpend))
const isRuled = computed(() => props.row.bucket === 'named' && values.value.length > 0)
const bracket = computed(() => {
  const found = bracketOf(props.board, props.row, props.certain, props.measure, props.perSpend)
  if (!found) return null
  const bounds = props.certain!.intervals[props.board.yardstick]!
  const [name, bound] =
    props.measure === 'value' ? (['ROAS', bounds.roas!] as const) : (['leads', bounds.leads!] as const)
  return { ...found, label: `90 % interval: ${name} ${ratio(bound.low!)} to ${ratio(bound.high!)}` }
})
const said = computed(() =>
  props.certainty ? saidOf(props.board, props.certainty, props.certain, props.measure) : null,
)
const SIDES: Record<string, string> = { grow: 'pays', keep: 'pays', cut: 'loses' }
const side = computed(() => (said.value ? (SIDES[said.value.code] ?? 'few') : ''))
const verdict = computed(() => props.certain?.verdicts[props.measure === 'value' ? 'sale' : 'lead'])
/** The redraws of the people that pay and lose, as the ruler's cap. */
const cap = computed(() => {
  const v = verdict.value
  if (!v) return null
  return { pays: v.pays, loses: v.loses, label: flipWords(v, props.board.currency) }
})
const cell = computed(() =>
  verdict.value ? cellWords(verdict.value) : { word: said.value?.word ?? '', flips: '' },
)
const remark = computed(() => rowRemark(props.row, props.board.by))
const rulerSays = computed(() =>
  [...values.value.map((v) => v.label), bracket.value?.label, cap.value?.label, 'z: closer']
    .filter(Boolean)
    .join('; '),
)

/** The days of a week or month, and whether the range cuts some of them off. */
const period = computed(() => {
  const days = ['week', 'month'].includes(props.board.by) ? daysOf(props.row.values[0] ?? '') : null
  if (!days) return null
  const from = props.board.report_from ?? props.board.first_day
  const to = props.board.report_to ?? props.board.last_day
  const cut = days.from < from || days.to > to
  const text = `${days.from.slice(5)} to ${days.to.slice(5)}`
  return {
    text: cut ? `${text}, part` : text,
    cut,
    title: cut ? `Only its days from ${from} to ${to} are in the range` : `${days.from} to ${days.to}`,
  }
})

const figures = computed(() =>
  columnsOf(props.board).map((column) => {
    const value = valueOf(props.row, column, props.board.yardstick)
    const what = `${column.title} of ${props.row.called}`
    if (value === null) {
      const none = whyNone(props.row, column)
      return { column, text: '–', none, says: `${what}: none, ${none}` }
    }
    const text = shown(column, value, props.board.minor_digits)
    const unit = unitOf(column, props.board)
    const full = [text, unit].filter(Boolean).join(' ')
    const under = yardstickName(props.board.yardstick)
    return {
      column,
      text,
      none: '',
      says: `${what}: ${full}, under ${under}. Enter: what it is made of; z: closer`,
    }
  }),
)
</script>

<template>
  <tr :data-row="keyOf(row)" :class="{ total, other: row.bucket !== 'named' && !total }">
    <th v-if="total" scope="row" class="name">{{ row.called }}</th>
    <th v-else scope="row" class="name" :title="row.called">
      <button
        v-if="opens && row.bucket === 'named'"
        type="button"
        class="plain"
        data-cell="name"
        :tabindex="at('name')"
        :data-says="`${row.called}. Enter: what it holds, a field deeper; z: closer`"
        @click="emit('deeper')"
      >
        {{ row.called }}
      </button>
      <template v-else>{{ row.called }}</template><span
        v-if="period"
        class="days"
        :class="{ cut: period.cut }"
        :title="period.title"
        >{{ period.text }}</span
      >
    </th>
    <td class="ruler" :data-says="isRuled ? rulerSays : undefined">
      <RulerLine
        v-if="isRuled"
        :scale="scale"
        :values="values"
        :chosen="board.yardstick"
        :notch="notch"
        :target="targetOf(board, row, measure, perSpend)"
        :bracket="bracket"
        :cap="cap"
        :before="moved?.before"
      />
      <span v-else-if="row.bucket === 'named'" class="quiet">no spend to compare with</span>
      <span v-else class="quiet">{{ remark }}</span>
    </td>
    <td
      v-for="figure in figures"
      :key="figure.column.name"
      class="number"
      :class="{ main: figure.column.name === main }"
    >
      <span v-if="figure.none" class="quiet" :title="figure.none" :data-says="figure.says">–</span>
      <button
        v-else
        type="button"
        class="plain"
        :data-figure="figure.column.name"
        :data-cell="figure.column.name"
        :tabindex="at(figure.column.name)"
        :class="{ opened: traced === figure.column.traced }"
        :data-says="figure.says"
        :aria-label="`${figure.column.title} of ${row.called}: ${figure.text}; open the trace`"
        @click="emit('open', figure.column.name)"
      >
        {{ figure.text }}
      </button>
    </td>
    <td
      v-if="comparing"
      class="number moved"
      :data-says="moved && `${row.called}: ${moved.says}`"
      :title="moved?.says"
    >
      {{ moved?.text }}
    </td>
    <td class="says" :class="side">
      <button
        v-if="said"
        type="button"
        class="plain"
        data-cell="verdict"
        :tabindex="at('verdict')"
        :title="said.reason"
        :data-says="`${said.word}: ${said.reason}. Enter: closer`"
        @click="emit('closer')"
      >
        {{ cell.word }}<span v-if="cell.flips" class="flips">{{ cell.flips }}</span
        ><span class="unseen">. {{ said.reason }}</span>
      </button>
    </td>
  </tr>
</template>

<style scoped>
td,
th {
  height: 24px;
  padding-block: 0;
  line-height: 1.25;
}

th {
  font-size: 14px;
  font-weight: 400;
  border-bottom-color: var(--line);
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name .plain {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  vertical-align: bottom;
}

.days {
  margin-left: 8px;
  font-size: 12px;
  color: var(--unsure);
}

.days.cut {
  color: var(--accent-text);
}

.ruler {
  padding: 0 14px;
  white-space: nowrap;
}

.ruler :deep(svg) {
  margin-block: -1px;
}

.other .name {
  font-style: italic;
}

.total td,
.total th {
  border-block: 0;
  box-shadow: inset 0 1px 0 var(--ink);
  font-weight: 650;
}

.opened {
  font-weight: 700;
  border-bottom: 2px solid var(--accent);
}

.moved {
  color: var(--unsure);
}

.says {
  position: relative;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.says .plain {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  vertical-align: bottom;
}

.flips {
  font-size: 13px;
  color: var(--unsure);
}

.few {
  color: var(--unsure);
}

.pays {
  color: var(--pays);
}

.loses {
  color: var(--loses);
}

@media screen and (max-width: 700px) {
  td,
  th {
    height: 28px;
    display: flex;
    align-items: center;
  }

  .name,
  .says {
    border-bottom: 0;
  }

  .says,
  .number {
    justify-content: flex-end;
  }

  .name .plain,
  .says .plain,
  .number .plain {
    min-height: 28px;
  }
}

tr:hover :is(td, th) {
  background: var(--sheet);
}
</style>
