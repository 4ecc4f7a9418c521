<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Board } from '../../api/client'
import BlankWord from '../../shared/BlankWord.vue'
import { rangesUpTo } from '../../shared/days'
import DayField from '../../shared/DayField.vue'
import type { useQuestion } from './question'

/** The days of the question: a usual range, or days of one's own. */
const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion> }>()
const emit = defineEmits<{ step: [direction: number] }>()
const q = props.question

const blank = ref<InstanceType<typeof BlankWord>>()
defineExpose({ begin: () => blank.value?.begin() })

const from = computed(() => q.from.value || props.board.report_from || props.board.first_day)
const to = computed(() => q.to.value || props.board.report_to || props.board.last_day)
const ranges = computed(() => rangesUpTo(props.board.first_day, props.board.last_day))
const chosen = computed(() => ranges.value.find((r) => r.from === from.value && r.to === to.value)?.name)
const word = computed(() => {
  const days = `${from.value} to ${to.value}`
  // A usual range that is held against another needs no dates: they stand in its list.
  if (q.against.value) return `${chosen.value ?? days} vs the period before`
  return chosen.value ? `${chosen.value}, ${days}` : days
})
const options = computed(() => ranges.value.map((r) => ({ value: r.name, word: r.name })))
function pick(name: string) {
  const range = ranges.value.find((r) => r.name === name)
  if (range) void q.change({ from: range.all ? undefined : range.from, to: range.all ? undefined : range.to })
}
</script>

<template>
  <span class="days">
    <button
      type="button"
      class="plain step"
      data-says="Previous period ( , )"
      aria-label="Previous period"
      @click="emit('step', -1)"
    >
      ‹
    </button>
    <BlankWord
      ref="blank"
      label="Days"
      :word="word"
      :options="options"
      :chosen="chosen"
      says="Days of the report. r or Enter: others; , and . step to the previous and next period"
      @pick="pick"
    >
      <label class="own"
        ><input
          type="checkbox"
          :checked="q.against.value === 'before'"
          @change="q.against.value = ($event.target as HTMLInputElement).checked ? 'before' : ''"
        />
        compared with the period before</label
      >
      <p class="own">
        <DayField label="From" :model-value="from" @update:model-value="q.from.value = $event" />
        to
        <DayField label="To" :model-value="to" @update:model-value="q.to.value = $event" />
      </p>
    </BlankWord>
    <button
      type="button"
      class="plain step"
      data-says="Next period ( . )"
      aria-label="Next period"
      @click="emit('step', 1)"
    >
      ›
    </button>
  </span>
</template>

<style scoped>
.days {
  white-space: nowrap;
}

.step {
  padding: 0 5px;
  min-width: 24px;
  min-height: 24px;
  text-align: center;
}

label.own {
  display: block;
}

.own {
  margin: 4px 0 0;
  padding: 6px 12px 2px;
  border-top: 1px solid var(--line);
}
</style>
