<script setup lang="ts">
import { computed, ref } from 'vue'
import { Problem } from '../../api/client'
import { stepPeriod } from '../../shared/days'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import BoardControls from './BoardControls.vue'
import BoardTable from './BoardTable.vue'
import EarlyNote from './EarlyNote.vue'
import FreshnessStrip from './FreshnessStrip.vue'
import { useBoard, useCertainty } from './queries'
import { useQuestion, useTraced } from './question'
import TieLine from './TieLine.vue'
import TracePanel from './TracePanel.vue'

const question = useQuestion()
const traced = useTraced()
const board = useBoard(question.asked, question.shown)
const certainty = useCertainty(question.asked, question.panel)
const controls = ref<InstanceType<typeof BoardControls>>()

const nothingYet = computed(
  () => board.error.value instanceof Problem && board.error.value.code === 'nothing_yet',
)

/** The word or stage on whose day records stand, if they do not stand on their own. */
const event = computed(() => board.data.value?.date_basis.split('event:')[1])

function nextYardstick() {
  const names = board.data.value?.yardsticks ?? []
  const at = names.indexOf(board.data.value?.yardstick ?? '')
  if (names.length) question.yardstick.value = names[(at + 1) % names.length]!
}

function step(direction: number) {
  const shown = board.data.value
  const from = shown?.report_from ?? shown?.first_day
  const to = shown?.report_to ?? shown?.last_day
  if (from && to) void question.change(stepPeriod(from, to, direction))
}

useKeys({
  y: nextYardstick,
  ',': () => step(-1),
  '.': () => step(1),
  f: () => controls.value?.beginFilter(),
  '/': () => controls.value?.focusFind(),
  Escape: () => void (traced.cell.value && traced.close()),
})
</script>

<template>
  <h1>Weigh <small class="quiet">who earned it?</small></h1>
  <section v-if="nothingYet" class="empty">
    <p>Nothing is loaded yet. Load your visits first; leads, conversions, spend and rates join them.</p>
    <v-btn variant="flat" color="primary" :to="{ name: 'gather' }">Go to Gather</v-btn>
  </section>
  <ProblemNote v-else :error="board.error.value" />
  <template v-if="board.data.value">
    <BoardControls ref="controls" :board="board.data.value" :question="question" @step="step" />
    <FreshnessStrip :board="board.data.value" />
    <ProblemNote :error="certainty.error.value" />
    <EarlyNote v-if="certainty.data.value" :certainty="certainty.data.value" />
    <BoardTable
      :board="board.data.value"
      :certainty="certainty.data.value"
      :question="question"
      :traced="traced"
    />
    <TieLine :board="board.data.value" @open="traced.openPart" />
    <p class="stamp quiet">
      Fingerprint <b>{{ board.data.value.fingerprint }}</b> · data state <b>{{ board.data.value.data }}</b> ·
      origin <b>{{ board.data.value.origin }}</b> · days in {{ board.data.value.time_zone }} · margin
      {{ board.data.value.margin }}
      <template v-if="board.data.value.date_basis === 'touch'"> · credit on the day of its touch</template>
      <template v-if="event">
        · records on the day of <b>{{ event }}</b>, {{ board.data.value.without_event }} never had
        it</template
      >
      <template v-if="board.data.value.rejected">
        · {{ board.data.value.rejected }} {{ board.data.value.rejected === 1 ? 'row' : 'rows' }} rejected for
        want of a rate</template
      >
    </p>
    <TracePanel
      v-if="traced.cell.value"
      :asked="{ ...question.asked.value, yardstick: board.data.value.yardstick }"
      :cell="traced.cell.value"
      :by="board.data.value.by"
      @close="traced.close"
    />
  </template>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

.empty {
  margin-top: 24px;
}

.stamp {
  font-size: 13px;
  margin: 6px 0 0;
}
</style>
