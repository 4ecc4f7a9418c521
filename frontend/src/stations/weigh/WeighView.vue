<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { Problem } from '../../api/client'
import { useOvertaken } from './overtaken'
import { monthOf, stepPeriod } from '../../shared/days'
import { useKeys } from '../../shared/keys'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import FootLine from '../../shared/FootLine.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useLastTrue } from '../../shared/useLastTrue'
import WorkingNote from '../../shared/WorkingNote.vue'
import BoardTable from './BoardTable.vue'
import { timeBefore } from './before'
import BoardStamp from './BoardStamp.vue'
import { boardWords } from './boardWords'
import EarlyNote from './EarlyNote.vue'
import FreshnessStrip from './FreshnessStrip.vue'
import { useBoard, useCertainty } from './queries'
import { useQuestion, useTraced } from './question'
import QuestionLine from './QuestionLine.vue'
import { keyOf, panelOf, type Measure } from './rows'
import TieLine from './TieLine.vue'
import { useAnnounced } from './useAnnounced'
import { useBoardCopy } from './useBoardCopy'
import { useCloser } from './useCloser'
import { useFootHeight } from './useFootHeight'
import { useTracePlace } from './useTracePlace'

// Loaded when somebody asks for them: the first view is the rulers.
const NothingYet = defineAsyncComponent(() => import('./NothingYet.vue'))
const DeadEnd = defineAsyncComponent(() => import('./DeadEnd.vue'))
const AllYardsticks = defineAsyncComponent(() => import('./AllYardsticks.vue'))
const TraceView = defineAsyncComponent(() => import('./TraceView.vue'))
const CloserView = defineAsyncComponent(() => import('./CloserView.vue'))

const question = useQuestion()
const traced = useTraced()
const board = useBoard(question.asked, question.shown)
const { shown, isOld } = useLastTrue(board)
const { isOvertaken, showNew } = useOvertaken(board)
const before = computed(() =>
  question.against.value === 'before' && shown.value ? timeBefore(shown.value) : null,
)
const askedBefore = computed(() => ({ ...question.asked.value, ...before.value }))
const earlier = useBoard(
  askedBefore,
  question.shown,
  computed(() => before.value !== null),
)
/** The board of the time before, once it is of the very question that is shown. */
const stood = computed(() =>
  before.value && !earlier.isPlaceholderData.value && earlier.data.value?.report_from === before.value.from
    ? earlier.data.value
    : undefined,
)
const certainty = useCertainty(question.asked)
/** How sure the board that is shown is; nothing until that is known of this very board. */
const sure = computed(() => {
  const found = certainty.data.value
  return found && !certainty.isPlaceholderData.value && found.fingerprint === shown.value?.fingerprint
    ? found
    : undefined
})
const line = ref<InstanceType<typeof QuestionLine>>()

const nothingYet = computed(
  () => board.error.value instanceof Problem && board.error.value.code === 'nothing_yet',
)

/** Whether no campaign, or whatever the board is by, is in sight. */
const isBare = computed(() => !shown.value?.rows.some((row) => row.bucket === 'named' && row.found))

function nextYardstick() {
  const names = shown.value?.yardsticks ?? []
  const at = names.indexOf(question.yardstick.value || (shown.value?.yardstick ?? ''))
  if (names.length) question.yardstick.value = names[(at + 1) % names.length]!
}

function step(direction: number) {
  const board = shown.value
  if (!board) return
  const from = question.from.value || board.report_from
  const to = question.to.value || board.report_to
  // Before all days there is nothing: from there one comes to the last month that has rows.
  if (!from && !to) void question.change(monthOf(board.last_day))
  else void question.change(stepPeriod(from || board.first_day, to || board.last_day, direction))
}

const keysSaid =
  'q: the question; f: only where; Enter: what a figure is made of; z: closer; y: next yardstick; e: export; ?: all keys'
/** What the board is taken away as: every row found, with all that was asked. */
const tables = computed(() => {
  const board = shown.value!
  return [
    {
      path: '/weigh/board',
      query: {
        ...question.asked.value,
        yardstick: question.yardstick.value || board.yardstick,
        ...question.shown.value,
      },
      rows: board.rows.filter((row) => row.found).length,
      columns: board.shown_columns.length,
    },
  ]
})

const { closer, comeCloser, standBack, rowAt } = useCloser(shown)
useTracePlace(traced.cell)
const { copied, copy } = useBoardCopy(question, shown, isOld, sure)
const announced = useAnnounced(shown, isOld)
const foot = ref<HTMLElement>()
const footHeight = useFootHeight(foot)

useKeys({
  c: () => void copy(),
  y: nextYardstick,
  ',': () => step(-1),
  '.': () => step(1),
  f: () => line.value?.beginFilter(),
  q: () => line.value?.begin(),
  r: () => line.value?.beginDays(),
  z: () => comeCloser(rowAt(document.activeElement) ?? rowAt(document.querySelector('tr[data-row]:hover'))),
  Escape: () => {
    if (!traced.cell.value || closer.value) return false
    void traced.close()
  },
})
</script>

<template>
  <header class="head">
    <h1>Weigh <small class="quiet">who earned it?</small></h1>
    <template v-if="shown && !nothingYet">
      <FindField v-model="question.find.value" label="Find a row by name" placeholder="Find a row ( / )" />
      <ExportControl :tables="tables" :copy="() => void copy()" :stamp="shown.fingerprint" />
    </template>
  </header>
  <p class="unseen no-print" aria-live="polite">{{ announced }}</p>
  <NothingYet v-if="nothingYet" />
  <ProblemNote v-else :error="board.error.value" />
  <WorkingNote
    v-if="!shown && board.isLoading.value"
    what="Weighing: the rows are read, every conversion is shared among the touches before it."
  />
  <template v-if="shown && !nothingYet">
    <QuestionLine ref="line" :board="shown" :question="question" @step="step" />
    <p v-if="copied" class="meanwhile" role="status">{{ copied }}</p>
    <p v-if="isOld" class="meanwhile" role="status">
      {{ board.error.value ? 'This could not be worked out.' : 'Being worked out.' }} Dimmed below is the last
      correct answer: {{ boardWords(shown) }}.
    </p>
    <p v-if="isOvertaken && !isOld" class="meanwhile" role="status">
      Something was kept in another window: these are the earlier figures.
      <button type="button" class="plain link" @click="showNew">Show the new ones</button>
    </p>
    <p v-if="shown.behind" class="meanwhile behind" role="alert">
      These figures are behind: something was kept that is not in them yet, since {{ shown.behind }}. Exports
      say so in their names.
    </p>
    <p class="print-only words">{{ boardWords(shown) }}</p>
    <div :class="{ old: isOld }" :aria-busy="isOld" :style="{ '--foot': `${footHeight}px` }">
      <FreshnessStrip :board="shown"><EarlyNote v-if="sure" :certainty="sure" /></FreshnessStrip>
      <ProblemNote :error="certainty.error.value" />
      <DeadEnd v-if="!isOld && isBare" :board="shown" :question="question" />
      <template v-if="traced.cell.value && 'part' in traced.cell.value" />
      <AllYardsticks
        v-else-if="question.view.value === 'table'"
        :traced="traced"
        :board="shown"
        :question="question"
        @open="(row, figure, yardstick) => traced.open(row.bucket, figure, row.values, yardstick)"
      />
      <BoardTable
        v-else
        :board="shown"
        :certainty="sure"
        :earlier="stood"
        :reaches-back="before !== null"
        :question="question"
        :traced="traced"
        @closer="comeCloser"
      />
      <TraceView
        v-if="traced.cell.value"
        :asked="{
          ...question.asked.value,
          yardstick: traced.yardstick.value || question.yardstick.value || shown.yardstick,
        }"
        :cell="traced.cell.value"
        :columns="shown.columns"
        :by="shown.by"
        @close="traced.close"
      />
      <div ref="foot" class="foot">
        <TieLine :board="shown" @open="traced.openPart" />
        <FootLine :otherwise="keysSaid" />
      </div>
      <BoardStamp :board="shown" />
    </div>
    <CloserView
      v-if="closer"
      :board="shown"
      :row="closer"
      :certain="sure?.rows.find((row) => keyOf(row) === keyOf(closer!))"
      :panel="panelOf(shown, question.panel.value)"
      :measure="question.measure.value as Measure"
      :per-spend="question.scale.value !== 'money'"
      @close="standBack"
    />
  </template>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

.head {
  display: flex;
  gap: 14px;
  align-items: center;
  height: 30px;
  margin-top: -4px;
}

.finder {
  margin-left: auto;
}

.finder :deep(.find) {
  width: 180px;
  height: 24px;
}

.meanwhile {
  margin: 4px 0;
  padding: 3px 10px;
  border-left: 3px solid var(--accent);
  background: var(--sheet);
}

.old {
  opacity: 0.45;
  transition: opacity 0.1s 0.15s;
}

.foot {
  position: sticky;
  bottom: 0;
  z-index: 3;
  background: var(--paper);
}

@media (max-width: 700px) {
  .head small {
    display: none;
  }

  .finder :deep(.find) {
    width: 130px;
  }

  .foot {
    position: static;
  }
}

@media print {
  .words {
    font-weight: 600;
    margin: 4px 0;
  }

  .foot {
    position: static;
  }
}
</style>
