<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Board } from '../../api/client'
import BlankWord from '../../shared/BlankWord.vue'
import { yardstickName } from '../../shared/format'
import { VERDICT_WORDS } from '../../api/declared'
import ColumnsBlank from './ColumnsBlank.vue'
import DaysBlank from './DaysBlank.vue'
import FilterClause from './FilterClause.vue'
import { type useQuestion } from './question'

/** What the board is asked, as one sentence; every underlined word can be another one. */
const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion> }>()
const emit = defineEmits<{ step: [direction: number] }>()
const q = props.question

const line = ref<HTMLElement>()
const days = ref<InstanceType<typeof DaysBlank>>()
const adding = ref<InstanceType<typeof FilterClause>>()
const blanks = () => [...(line.value?.querySelectorAll<HTMLElement>('.blank') ?? [])]
defineExpose({
  begin: () => blanks()[0]?.focus(),
  beginDays: () => days.value?.begin(),
  beginFilter: () => adding.value?.begin(),
})

/** Arrows go along the line. */
function along(event: KeyboardEvent) {
  const at = blanks().indexOf(event.target as HTMLElement)
  const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (at < 0 || !step) return
  event.preventDefault()
  blanks()[at + step]?.focus()
}

const field = (name: string) => ({ value: name, word: name.replaceAll('_', ' ') })
const fields = computed(() => props.board.breakdowns.map(field))
const seconds = computed(() => [
  { value: '', word: 'nothing else' },
  ...props.board.breakdowns.filter((name) => name !== q.by.value).map(field),
])
const yardstick = computed(() => q.yardstick.value || props.board.yardstick)
const rules = computed(() =>
  props.board.yardsticks.map((name) => ({ value: name, word: yardstickName(name) })),
)
const lookBack = computed(() =>
  q.days.value
    ? `${q.days.value} days`
    : props.board.own_windows
      ? 'per goal'
      : `${props.board.click_days} days`,
)
const MEASURES = [
  { value: 'value', word: 'value' },
  { value: 'leads', word: 'leads' },
]
const scales = computed(() => [
  { value: 'per_spend', word: 'per unit of spend' },
  { value: 'log', word: 'per unit of spend, logarithmic' },
  { value: 'money', word: q.measure.value === 'value' ? `in ${props.board.currency}` : 'in leads' },
])
const SCALE_WORDS: Record<string, string> = { per_spend: 'per spend', log: 'per spend, log' }
const scaleWord = computed(
  () => SCALE_WORDS[q.scale.value] ?? scales.value.find((s) => s.value === q.scale.value)?.word ?? '',
)
const verdicts = [
  { value: '', word: 'any verdict' },
  ...Object.entries(VERDICT_WORDS).map(([value, word]) => ({ value, word })),
]
const views = [
  { value: '', word: 'rulers' },
  { value: 'table', word: 'all yardsticks' },
]
const wordOf = (options: { value: string; word: string }[], value: string) =>
  options.find((o) => o.value === value)?.word ?? value
</script>

<template>
  <div ref="line" class="question no-print" role="group" aria-label="Question" @keydown="along">
    <span class="clause"
      >By
      <BlankWord
        label="By"
        :word="wordOf(fields, q.by.value)"
        :options="fields"
        :chosen="q.by.value"
        @pick="q.by.value = $event"
      />
      and
      <BlankWord
        label="Second field"
        :word="wordOf(seconds, q.then.value)"
        :options="seconds"
        :chosen="q.then.value"
        @pick="q.then.value = $event"
        @remove="q.then.value = ''"
      />,</span
    >
    <DaysBlank ref="days" :board="board" :question="q" @step="emit('step', $event)" />
    <span class="clause"
      >under
      <BlankWord
        label="Yardstick"
        :word="yardstickName(yardstick)"
        :options="rules"
        :chosen="yardstick"
        says="How the credit of a conversion is shared among the touches before it. y: the next one"
        @pick="q.yardstick.value = $event"
      />, look-back
      <BlankWord label="Look-back" :word="lookBack" @remove="q.days.value = ''">
        <form class="own" @submit.prevent>
          <label
            >A click counts if it is at most
            <input
              type="number"
              class="tool few"
              min="0"
              max="3650"
              aria-label="Days of look-back"
              :value="q.days.value"
              :placeholder="board.own_windows ? 'per goal' : String(board.click_days)"
              @change="q.days.value = ($event.target as HTMLInputElement).value"
            />
            days before</label
          >
        </form>
      </BlankWord></span
    >
    <span class="clause"
      >ruler of
      <BlankWord
        label="Ruler"
        :word="q.measure.value"
        :options="MEASURES"
        :chosen="q.measure.value"
        @pick="q.measure.value = $event" />{{ ' '
      }}<BlankWord
        label="Scale"
        :word="scaleWord"
        :options="scales"
        :chosen="q.scale.value"
        @pick="q.scale.value = $event as typeof q.scale.value"
    /></span>
    <span class="clause">columns <ColumnsBlank :board="board" :question="q" /></span>
    <span class="clause"
      >as
      <BlankWord
        label="Shown as"
        :word="wordOf(views, q.view.value)"
        :options="views"
        :chosen="q.view.value"
        @pick="q.view.value = $event"
      /><template v-if="board.judged"
        >,
        <BlankWord
          label="Only with this verdict"
          :word="wordOf(verdicts, q.verdict.value)"
          :options="verdicts"
          :chosen="q.verdict.value"
          @pick="q.verdict.value = $event"
          @remove="q.verdict.value = ''"
      /></template>
    </span>
    <span v-for="clause in q.where.value" :key="clause" class="clause"
      >only where <FilterClause :board="board" :question="q" :clause="clause"
    /></span>
    <FilterClause ref="adding" :board="board" :question="q" />
  </div>
  <p v-if="q.where.value.length" class="on-paper">Only: {{ q.where.value.join('; ') }}</p>
</template>

<style scoped>
.question {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  align-items: center;
  min-height: 36px;
  margin: 0;
}

.clause {
  white-space: nowrap;
}

.own {
  padding: 6px 12px;
}

.few {
  width: 84px;
}

.on-paper {
  display: none;
}

@media print {
  .on-paper {
    display: block;
  }
}
</style>
