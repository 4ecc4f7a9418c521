<script setup lang="ts">
import { flipWords } from './boardWords'
import { computed } from 'vue'
import type { Board, Certain, Certainty, Row } from '../../api/client'
import RulerLine from '../../ruler/RulerLine.vue'
import { type Scale } from '../../ruler/scale'
import { daysOf } from '../../shared/days'
import { amount, credit, money, ratio } from '../../shared/format'
import { bracketOf, notchOf, rowRemark, rulerValues, saidOf, targetOf, type Measure } from './rows'

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
}>()
const emit = defineEmits<{ open: [figure: string] }>()

const under = computed(() => props.row.under[props.board.yardstick]!)
const digits = computed(() => props.board.minor_digits)
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
const remark = computed(() => rowRemark(props.row, props.board.by))

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

interface Figure {
  name: string
  text: string
  none?: string
}
const figures = computed<Figure[]>(() => {
  const u = under.value
  const noSpend = props.row.spend === null
  const none = (why: string) => ({ text: '–', none: why })
  const perLead = noSpend
    ? none('no spend stands in this row')
    : u.cost_per_lead === null
      ? none('no credited lead, so no cost per lead')
      : { text: amount(u.cost_per_lead, digits.value) }
  const roas = noSpend
    ? none('no spend stands in this row')
    : u.roas === null
      ? none('nothing was spent, so no return on spend')
      : { text: ratio(u.roas) }
  return [
    {
      name: 'spend',
      ...(noSpend ? none('no spend stands in this row') : { text: money(props.row.spend!, digits.value) }),
    },
    { name: 'leads', text: credit(u.leads) },
    { name: 'cost_per_lead', ...perLead },
    { name: 'conversions', text: credit(u.sales) },
    { name: 'value', text: money(u.value, digits.value) },
    { name: 'roas', ...roas },
  ]
})
</script>

<template>
  <tr :class="{ total, other: row.bucket !== 'named' && !total }">
    <th v-if="total" scope="row" class="name">{{ row.called }}</th>
    <td v-else class="name" :title="row.called">
      {{ row.called
      }}<span v-if="period" class="days" :class="{ cut: period.cut }" :title="period.title">{{
        period.text
      }}</span>
    </td>
    <td class="ruler">
      <RulerLine
        v-if="isRuled"
        :scale="scale"
        :values="values"
        :chosen="board.yardstick"
        :notch="notch"
        :target="targetOf(board, row, measure, perSpend)"
        :bracket="bracket"
        :cap="cap"
      />
      <span v-else-if="row.bucket === 'named'" class="quiet">no spend to compare with</span>
      <span v-else class="quiet">{{ remark }}</span>
    </td>
    <td v-for="figure in figures" :key="figure.name" class="number">
      <span v-if="figure.none" class="quiet" :title="figure.none">–</span>
      <button
        v-else
        type="button"
        class="plain"
        :aria-label="`${figure.name.replaceAll('_', ' ')} of ${row.called}: ${figure.text}; open the trace`"
        @click="emit('open', figure.name)"
      >
        {{ figure.text }}
      </button>
    </td>
    <td class="says" :class="side" :title="said?.reason">
      <template v-if="said"
        >{{ said.word }}<span class="hidden">: {{ said.reason }}</span></template
      >
    </td>
  </tr>
</template>

<style scoped>
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
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
  height: 24px;
  white-space: nowrap;
}

.other .name {
  font-style: italic;
}

.total td,
.total th {
  border-top: 1px solid var(--ink);
  border-bottom: 0;
  font-weight: 650;
  padding-block: 3px;
}

.says {
  position: relative;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.hidden {
  position: absolute;
  clip-path: inset(50%);
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

tr:hover td {
  background: var(--sheet);
}
</style>
