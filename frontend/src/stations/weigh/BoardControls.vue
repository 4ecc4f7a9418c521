<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Board } from '../../api/client'
import { yardstickName } from '../../shared/format'
import DayField from '../../shared/DayField.vue'
import TakeAway from '../../shared/TakeAway.vue'
import { rangesUpTo } from '../../shared/days'
import BoardFilters from './BoardFilters.vue'
import { VERDICT_WORDS } from './boardWords'
import { type useQuestion } from './question'

const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion> }>()
defineEmits<{ step: [direction: number]; copy: [] }>()

const findField = ref<HTMLInputElement>()
const filters = ref<InstanceType<typeof BoardFilters>>()
const rangeField = ref<HTMLSelectElement>()
defineExpose({
  focusFind: () => findField.value?.focus(),
  focusRange: () => rangeField.value?.focus(),
  beginFilter: () => filters.value?.begin(),
})

const q = props.question
const from = computed(() => q.from.value || props.board.report_from || props.board.first_day)
const to = computed(() => q.to.value || props.board.report_to || props.board.last_day)
const yardstick = computed(() => q.yardstick.value || props.board.yardstick)
const fileAsked = computed(() => ({ ...q.asked.value, yardstick: yardstick.value, ...q.shown.value }))
const ranges = computed(() => rangesUpTo(props.board.first_day, props.board.last_day))
const chosenRange = computed(
  () => ranges.value.find((r) => r.from === from.value && r.to === to.value)?.name ?? 'own days',
)
function pickRange(event: Event) {
  const range = ranges.value.find((r) => r.name === value(event))
  if (range) void q.change({ from: range.all ? undefined : range.from, to: range.all ? undefined : range.to })
}
const VERDICTS = Object.entries(VERDICT_WORDS)
const value = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <div class="aside no-print">
    <input
      ref="findField"
      class="tool find"
      type="search"
      placeholder="Find a row ( / )"
      aria-label="Find a row by name"
      :value="q.find.value"
      @input="q.find.value = value($event)"
    />
    <button
      type="button"
      class="plain link"
      title="Copy the cells as shown, for a spreadsheet (c)"
      @click="$emit('copy')"
    >
      Copy
    </button>
    <TakeAway path="/weigh/board" :query="fileAsked" />
  </div>
  <form class="controls no-print" @submit.prevent>
    <label
      >By
      <select v-model="q.by.value" class="tool">
        <option v-for="name in board.breakdowns" :key="name" :value="name">
          {{ name.replace('_', ' ') }}
        </option>
      </select>
    </label>
    <label
      >then
      <select v-model="q.then.value" class="tool then" aria-label="Second field">
        <option value="">–</option>
        <option v-for="name in board.breakdowns.filter((n) => n !== q.by.value)" :key="name" :value="name">
          {{ name.replace('_', ' ') }}
        </option>
      </select>
    </label>
    <span class="range">
      <button
        type="button"
        class="tool"
        title="Previous period (,)"
        aria-label="Previous period"
        @click="$emit('step', -1)"
      >
        ‹
      </button>
      <label title="A usual range (r)"
        ><span class="hidden">Range</span>
        <select ref="rangeField" class="tool range-of" :value="chosenRange" @change="pickRange">
          <option v-if="chosenRange === 'own days'">own days</option>
          <option v-for="r in ranges" :key="r.name">{{ r.name }}</option>
        </select>
      </label>
      <DayField label="From" :model-value="from" @update:model-value="q.from.value = $event" />
      to
      <DayField label="To" :model-value="to" @update:model-value="q.to.value = $event" />
      <button
        type="button"
        class="tool"
        title="Next period (.)"
        aria-label="Next period"
        @click="$emit('step', 1)"
      >
        ›
      </button>
      <button
        v-if="q.from.value || q.to.value"
        type="button"
        class="plain link"
        @click="q.change({ from: undefined, to: undefined })"
      >
        reset
      </button>
    </span>
    <label title="How the credit of a conversion is shared among the touches before it (y: next)"
      >Yardstick
      <select class="tool" :value="yardstick" @change="q.yardstick.value = value($event)">
        <option v-for="name in board.yardsticks" :key="name" :value="name">{{ yardstickName(name) }}</option>
      </select>
    </label>
    <label title="A click counts if it is at most this many days before the conversion, for example 30"
      >Look-back
      <input
        type="number"
        class="tool days"
        min="0"
        max="3650"
        :value="q.days.value"
        :placeholder="board.own_windows ? 'per goal' : String(board.click_days)"
        @change="q.days.value = value($event)"
      />
      days
    </label>
    <label
      >Ruler
      <select v-model="q.measure.value" class="tool">
        <option value="value">value</option>
        <option value="leads">leads</option>
      </select>
    </label>
  </form>
  <div class="second no-print">
    <label
      ><span class="hidden">Scale</span>
      <select v-model="q.scale.value" class="tool">
        <option value="per_spend">per spend</option>
        <option value="log">per spend, logarithmic</option>
        <option value="money">{{ q.measure.value === 'value' ? `in ${board.currency}` : 'in leads' }}</option>
      </select>
    </label>
    <label v-if="board.judged"
      ><span class="hidden">Verdict</span>
      <select v-model="q.verdict.value" class="tool verdict" aria-label="Only with this verdict">
        <option value="">any verdict</option>
        <option v-for="[code, word] in VERDICTS" :key="code" :value="code">{{ word }}</option>
      </select>
    </label>
    <label
      ><span class="hidden">Shown as</span>
      <select v-model="q.view.value" class="tool" aria-label="Shown as">
        <option value="">rulers</option>
        <option value="table">all yardsticks</option>
      </select>
    </label>
    <BoardFilters ref="filters" :board="board" :question="question" />
  </div>
</template>

<style scoped>
.controls {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  margin: 8px 0 6px;
}

label,
.range {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  white-space: nowrap;
}

select {
  max-width: 118px;
}

select.verdict {
  max-width: 190px;
}

.second {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-bottom: 4px;
}

.then {
  max-width: 84px;
}

.days {
  width: 84px;
}

.aside {
  position: absolute;
  top: 10px;
  right: 16px;
  display: flex;
  gap: 12px;
  align-items: center;
}

.find {
  width: 180px;
}

.range-of {
  max-width: 92px;
}

.hidden {
  position: absolute;
  clip-path: inset(50%);
}
</style>
