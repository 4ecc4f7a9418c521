<script setup lang="ts">
import { useClipboard, useElementSize } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import { Problem } from '../../api/client'
import { toClipboard } from '../../shared/clipboard'
import { stepPeriod } from '../../shared/days'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useLastTrue } from '../../shared/useLastTrue'
import WorkingNote from '../../shared/WorkingNote.vue'
import BoardControls from './BoardControls.vue'
import BoardTable from './BoardTable.vue'
import { boardCells } from './boardCells'
import { boardWords } from './boardWords'
import DeadEnd from './DeadEnd.vue'
import EarlyNote from './EarlyNote.vue'
import FreshnessStrip from './FreshnessStrip.vue'
import { useBoard, useCertainty } from './queries'
import { useQuestion, useTraced } from './question'
import type { Measure } from './rows'
import TieLine from './TieLine.vue'

// Loaded when somebody asks for them: the first view is the rulers.
const AllYardsticks = defineAsyncComponent(() => import('./AllYardsticks.vue'))
const TracePanel = defineAsyncComponent(() => import('./TracePanel.vue'))

const question = useQuestion()
const traced = useTraced()
const board = useBoard(question.asked, question.shown)
const certainty = useCertainty(question.asked)
const { shown, isOld } = useLastTrue(board)
/** How sure the board that is shown is; nothing until that is known of this very board. */
const sure = computed(() => {
  const found = certainty.data.value
  return found && !certainty.isPlaceholderData.value && found.fingerprint === shown.value?.fingerprint
    ? found
    : undefined
})
const controls = ref<InstanceType<typeof BoardControls>>()

const nothingYet = computed(
  () => board.error.value instanceof Problem && board.error.value.code === 'nothing_yet',
)

/** The totals stand right above the tie line, however tall it is. */
const foot = ref<HTMLElement>()
const { height: footHeight } = useElementSize(foot, { width: 0, height: 60 }, { box: 'border-box' })

/** The word or stage on whose day records stand, if they do not stand on their own. */
const event = computed(() => shown.value?.date_basis.split('event:')[1])

function nextYardstick() {
  const names = shown.value?.yardsticks ?? []
  const at = names.indexOf(question.yardstick.value || (shown.value?.yardstick ?? ''))
  if (names.length) question.yardstick.value = names[(at + 1) % names.length]!
}

function step(direction: number) {
  const from = question.from.value || shown.value?.report_from || shown.value?.first_day
  const to = question.to.value || shown.value?.report_to || shown.value?.last_day
  if (from && to) void question.change(stepPeriod(from, to, direction))
}

const clipboard = useClipboard({ legacy: true, copiedDuring: 4000 })
const copied = ref('')
async function copy() {
  if (!shown.value || isOld.value) return
  const measure = question.measure.value as Measure
  const cells = boardCells(shown.value, sure.value, measure, question.view.value === 'table')
  await clipboard.copy(toClipboard(cells))
  const rows = cells.length - 2
  copied.value = `${rows} ${rows === 1 ? 'row' : 'rows'} copied: paste them into a spreadsheet.`
}

useKeys({
  c: () => void copy(),
  y: nextYardstick,
  ',': () => step(-1),
  '.': () => step(1),
  f: () => controls.value?.beginFilter(),
  r: () => controls.value?.focusRange(),
  '/': () => controls.value?.focusFind(),
})
</script>

<template>
  <h1>Weigh <small class="quiet">who earned it?</small></h1>
  <section v-if="nothingYet" class="empty">
    <p>Nothing is loaded yet. Load your visits first; leads, conversions, spend and rates join them.</p>
    <v-btn variant="flat" color="primary" :to="{ name: 'gather' }">Go to Gather</v-btn>
  </section>
  <ProblemNote v-else :error="board.error.value" />
  <WorkingNote
    v-if="!shown && board.isLoading.value"
    what="Weighing: the rows are read, every conversion is shared among the touches before it."
  />
  <template v-if="shown && !nothingYet">
    <BoardControls ref="controls" :board="shown" :question="question" @step="step" @copy="copy" />
    <p v-if="clipboard.copied.value" class="meanwhile" role="status">{{ copied }}</p>
    <p v-if="isOld" class="meanwhile" role="status">
      {{ board.error.value ? 'This could not be worked out.' : 'Being worked out.' }} Dimmed below is the last
      true answer: {{ boardWords(shown) }}.
    </p>
    <p class="print-only words">{{ boardWords(shown) }}</p>
    <div :class="{ old: isOld }" :aria-busy="isOld" :style="{ '--foot': `${footHeight}px` }">
      <FreshnessStrip :board="shown" />
      <ProblemNote :error="certainty.error.value" />
      <EarlyNote v-if="sure" :certainty="sure" />
      <DeadEnd v-if="!isOld" :board="shown" :question="question" />
      <AllYardsticks
        v-if="question.view.value === 'table'"
        :board="shown"
        :question="question"
        @open="(row, figure, yardstick) => traced.open(row.bucket, figure, row.values, yardstick)"
      />
      <BoardTable v-else :board="shown" :certainty="sure" :question="question" :traced="traced" />
      <div ref="foot" class="foot"><TieLine :board="shown" @open="traced.openPart" /></div>
      <p class="stamp quiet">
        Fingerprint <b>{{ shown.fingerprint }}</b> · data state <b>{{ shown.data }}</b> · origin
        <b>{{ shown.origin }}</b> · days in {{ shown.time_zone }} · margin {{ shown.margin }}
        <template v-if="shown.date_basis === 'touch'"> · credit on the day of its touch</template>
        <template v-if="event">
          · records on the day of <b>{{ event }}</b>, {{ shown.without_event }} never had it</template
        >
        <template v-if="shown.rejected">
          · {{ shown.rejected }} {{ shown.rejected === 1 ? 'row' : 'rows' }} rejected for want of a
          rate</template
        >
      </p>
    </div>
    <TracePanel
      v-if="traced.cell.value"
      :asked="{
        ...question.asked.value,
        yardstick: traced.yardstick.value || question.yardstick.value || shown.yardstick,
      }"
      :cell="traced.cell.value"
      :by="shown.by"
      @close="traced.close"
    />
  </template>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
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

.print-only {
  display: none;
}

.foot {
  position: sticky;
  bottom: 0;
  z-index: 3;
  background: var(--paper);
}

@media print {
  .print-only {
    display: block;
    font-weight: 600;
    margin: 4px 0;
  }

  .foot {
    position: static;
  }
}

.empty {
  margin-top: 24px;
}

.stamp {
  font-size: 13px;
  margin: 6px 0 0;
}
</style>
