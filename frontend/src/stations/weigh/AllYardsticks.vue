<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Board, Row } from '../../api/client'
import { credit, money, yardstickName } from '../../shared/format'
import type { useQuestion, useTraced } from './question'
import { moveFocus } from './moveFocus'
import { keyOf } from './rows'
import { useOneStop } from './useOneStop'

/** Every yardstick side by side, each with how far it is from the chosen one. */
const props = defineProps<{
  board: Board
  question: ReturnType<typeof useQuestion>
  traced: ReturnType<typeof useTraced>
}>()
defineEmits<{ open: [row: Row, figure: string, yardstick: string] }>()

const frame = ref<HTMLElement>()
const stop = useOneStop(frame)
const isValue = computed(() => props.question.measure.value === 'value')
const rows = computed(() => {
  const risen = props.traced.row.value && keyOf(props.traced.row.value)
  const every = [...props.board.rows, props.board.ads_only, props.board.total]
  return every.filter((row) => (risen ? keyOf(row) === risen : row.found))
})
/** The board that stands here may be one that came for the rulers alone. */
const names = computed(() =>
  props.board.yardsticks.filter((name) => props.board.rows.every((row) => row.under[name])),
)
const isTotal = (row: Row) => [props.board.ads_only.bucket, props.board.total.bucket].includes(row.bucket)
const of = (row: Row, name: string) => (isValue.value ? row.under[name]!.value! : row.under[name]!.leads!)
const show = (amount: number) => (isValue.value ? money(amount, props.board.minor_digits) : credit(amount))
function difference(row: Row, name: string): string {
  const off = of(row, name) - of(row, props.board.yardstick)
  if (name === props.board.yardstick || show(off) === show(0) || show(off) === `-${show(0)}`) return ''
  return `${off > 0 ? '+' : '\u2212'}${show(Math.abs(off))}`
}
</script>

<template>
  <div ref="frame" class="wide">
    <table class="all" aria-label="All yardsticks" @keydown="moveFocus">
      <thead>
        <tr>
          <th>{{ board.by.replace(',', ' / ').replaceAll('_', ' ') }}</th>
          <th v-for="name in names" :key="name" class="number" :class="{ chosen: name === board.yardstick }">
            {{ yardstickName(name)
            }}<span class="unit">{{ name === board.yardstick ? 'chosen' : 'and difference' }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="keyOf(row)" :data-row="keyOf(row)" :class="{ total: isTotal(row) }">
          <th scope="row" :title="row.called">{{ row.called }}</th>
          <td v-for="name in names" :key="name" class="number" :class="{ chosen: name === board.yardstick }">
            <button
              type="button"
              class="plain"
              :data-figure="name"
              :data-cell="name"
              :tabindex="stop?.row === keyOf(row) && stop.cell === name ? 0 : -1"
              :aria-label="`${isValue ? 'value' : 'leads'} of ${row.called} under ${yardstickName(name)}: ${show(of(row, name))}; open the trace`"
              @click="$emit('open', row, isValue ? 'value' : 'leads', name)"
            >
              {{ show(of(row, name)) }}
            </button>
            <span class="unit">{{ difference(row, name) || '\u00a0' }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="quiet note">
    {{ isValue ? `Value in ${board.currency}` : 'Leads' }}; under each figure its difference from
    {{ yardstickName(board.yardstick) }}.
  </p>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}

th,
td {
  padding-block: 1px;
}

tbody th {
  font-weight: 400;
  border-bottom-color: var(--line);
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.unit {
  display: block;
  font-size: 12px;
  font-weight: 400;
  color: var(--unsure);
  line-height: 1.1;
}

.chosen {
  background: color-mix(in srgb, var(--accent) 9%, transparent);
}

.total th,
.total td {
  border-top: 1px solid var(--ink);
  font-weight: 650;
}

.note {
  margin: 4px 0;
  font-size: 13px;
}
</style>
