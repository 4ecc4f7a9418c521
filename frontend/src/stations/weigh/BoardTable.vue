<script setup lang="ts">
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Board, Certainty, Row } from '../../api/client'
import { makeScale } from '../../ruler/scale'
import BoardHead from './BoardHead.vue'
import BoardLegend from './BoardLegend.vue'
import BoardRow from './BoardRow.vue'
import { movedOf } from './before'
import { questionOf, rowsOpen } from './deeper'
import { moveFocus } from './moveFocus'
import { useOneStop } from './useOneStop'
import { useReadFirst } from './useReadFirst'
import { columnsOf, widthOf } from './figures'
import { type useQuestion, type useTraced } from './question'
import { keyOf, notchOf, panelOf, rulerValues, type Measure } from './rows'

const props = defineProps<{
  board: Board
  certainty?: Certainty
  /** The same board of the time before, where that is asked and there. */
  earlier?: Board
  /** Whether any data reach back to the time before. */
  reachesBack?: boolean
  question: ReturnType<typeof useQuestion>
  traced: ReturnType<typeof useTraced>
}>()
const emit = defineEmits<{ closer: [row: Row] }>()
const q = props.question

const head = ref<InstanceType<typeof BoardHead>>()
const ruler = computed(() => head.value?.ruler)
const { width } = useElementSize(ruler, { width: 420, height: 0 }, { box: 'border-box' })

const panel = computed(() => panelOf(props.board, q.panel.value))
const measure = computed(() => q.measure.value as Measure)
const perSpend = computed(() => q.scale.value !== 'money')
/** While a figure is traced its row alone stands, risen under the head. */
const risen = computed(() => props.traced.row.value && keyOf(props.traced.row.value))
const comparing = computed(() => q.against.value === 'before')
const early = computed(() => {
  const come = props.certainty?.come[measure.value === 'value' ? 'sale' : 'lead']
  return come != null && come < props.certainty!.mature_share
})
const moved = computed(() =>
  comparing.value && props.earlier
    ? movedOf(props.board, props.earlier, measure.value, perSpend.value, early.value)
    : undefined,
)
/** What stands above the column of what moved, where that is asked. */
const movedWord = computed(() =>
  comparing.value ? (props.earlier ? 'on the ruler' : props.reachesBack ? 'coming' : 'no data') : undefined,
)
const tracedFigure = computed(() => {
  const cell = props.traced.cell.value
  return cell && 'figure' in cell ? cell.figure : undefined
})
const rows = computed(() =>
  props.board.rows.filter((r) => (risen.value ? keyOf(r) === risen.value : r.found)),
)
const totals = computed(() =>
  [props.board.ads_only, props.board.total].filter((r) => !risen.value || keyOf(r) === risen.value),
)
const frame = ref<HTMLElement>()
/** Where Tab stops: at the cell that had the focus last, at first at the name or figure that stands first. */
const stop = useOneStop(frame)
const ROW = 24
const MANY = 100
const ManyRows = defineAsyncComponent(() => import('../../shared/ManyRows.vue'))
const onPaper = useMediaQuery('print')
/** On a phone a row is two lines: name and verdict, ruler and the one figure that is drawn. */
const onPhone = useMediaQuery('screen and (max-width: 700px)')
const PHONE_ROW = 56
const readFirst = useReadFirst()
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
  traced: tracedFigure.value,
  moved: moved.value?.get(keyOf(row)),
  comparing: comparing.value,
  opens: opens.value,
  main: main.value,
  stop: stop.value?.row === keyOf(row) ? stop.value.cell : undefined,
})
const openRow = (row: Row, figure: string) => {
  const traced = props.board.columns.find((column) => column.name === figure)!.traced
  // From the risen row another of its figures opens in place of the first.
  void props.traced.open(row.bucket, traced, row.values)
}
function deeper(row: Row) {
  void q.change(questionOf(row, props.board, q.where.value))
}
const opens = computed(() => rowsOpen(props.board))
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

const columns = computed(() => columnsOf(props.board))
/** The figure that stands beside the ruler on a phone. */
const main = computed(
  () => (columns.value.find((column) => column.name === measure.value) ?? columns.value[0])?.name,
)
/** Name, ruler and verdict take what the figures leave; where that is too little the table moves in its frame. */
const LEAST_BESIDE = 300
const least = computed(() => columns.value.reduce((sum, column) => sum + widthOf(column), LEAST_BESIDE + 140))
const { width: room } = useElementSize(frame, { width: 1164, height: 0 })
const tooWide = computed(() => columns.value.length > 7 && least.value > room.value)
</script>

<template>
  <div ref="frame" class="frame" :class="{ moves: tooWide }">
    <table
      class="board"
      aria-label="Ruler board"
      :aria-rowcount="rows.length + 3"
      :style="{ minWidth: tooWide ? `${least}px` : undefined }"
      @keydown="moveFocus"
      @click.capture="readFirst"
    >
      <BoardHead
        ref="head"
        :board="board"
        :columns="columns"
        :main="main"
        :scale="scale"
        :notch="lineNotch"
        :measure="measure"
        :per-spend="perSpend"
        :moved="movedWord"
        :question="question"
      />
      <!-- Hundreds are drawn as they come into sight; on paper all of them stand. -->
      <ManyRows
        v-if="rows.length >= MANY && !onPaper"
        v-slot="{ first, end }"
        :count="rows.length"
        :height="onPhone ? PHONE_ROW : ROW"
        :columns="columns.length + 3 + Number(comparing)"
      >
        <BoardRow
          v-for="row in rows.slice(first, end)"
          :key="keyOf(row)"
          v-bind="drawn(row)"
          @open="openRow(row, $event)"
          @deeper="deeper(row)"
          @closer="emit('closer', row)"
        />
      </ManyRows>
      <tbody v-else>
        <BoardRow
          v-for="row in rows"
          :key="keyOf(row)"
          v-bind="drawn(row)"
          @open="openRow(row, $event)"
          @deeper="deeper(row)"
          @closer="emit('closer', row)"
        />
      </tbody>
      <tfoot>
        <BoardRow
          v-for="row in totals"
          :key="row.bucket"
          :row="row"
          :board="board"
          :panel="panel"
          :scale="scale"
          :measure="measure"
          :per-spend="perSpend"
          :comparing="comparing"
          :main="main"
          :traced="tracedFigure"
          :stop="stop?.row === keyOf(row) ? stop.cell : undefined"
          total
          @open="openRow(row, $event)"
        />
      </tfoot>
    </table>
  </div>
  <BoardLegend
    v-if="!risen"
    :board="board"
    :certainty="certainty"
    :panel="panel"
    :measure="measure"
    :per-spend="perSpend"
    @panel="q.panel.value = $event"
  />
</template>

<style scoped>
.board {
  table-layout: fixed;
}

.moves {
  overflow-x: auto;
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

  .moves {
    overflow: visible;
  }
}

@media (max-width: 1150px) {
  .board :deep(.flips) {
    display: none;
  }
}

@media screen and (max-width: 700px) {
  .board,
  .board :deep(:is(thead, tbody, tfoot)) {
    display: block;
    overflow: visible;
  }

  .moves {
    overflow: visible;
  }

  .board {
    min-width: 0 !important;
  }

  .board :deep(tr:not([aria-hidden])) {
    display: grid;
    grid-template: 'name says says' auto 'ruler ruler main' auto / minmax(0, 220fr) minmax(0, 30fr) minmax(
        0,
        116fr
      );
  }

  .board :deep(.name) {
    grid-area: name;
    width: auto;
  }

  .board :deep(.says) {
    grid-area: says;
    width: auto;
    text-align: right;
  }

  .board :deep(.ruler) {
    grid-area: ruler;
  }

  .board :deep(.main) {
    grid-area: main;
  }

  .board :deep(:is(.number, .moved):not(.main)) {
    display: none;
  }

  tfoot {
    position: static;
  }
}
</style>
