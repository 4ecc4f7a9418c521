<script setup lang="ts">
import { openOf, saidOf, type Question } from './reading'

defineProps<{ questions: Question[] }>()
const emit = defineEmits<{ answer: [question: Question, text: string] }>()

const valueOf = (event: Event) => (event.target as HTMLInputElement).value.trim()
function typed(question: Question, event: Event) {
  if (valueOf(event)) emit('answer', question, valueOf(event))
}
const isShort = (question: Question) => question.options.length > 0 && question.options.length <= 4
/** Without what the file comes to, buttons stand in one line. */
const hintOf = (question: Question, at: number) => question.hints?.[at] ?? ''
</script>

<template>
  <div
    v-for="question in openOf(questions)"
    :key="question.field"
    class="question"
    role="group"
    :aria-label="question.text"
  >
    <strong>{{ question.text }}</strong>
    <template v-if="isShort(question)">
      <button
        v-for="(option, at) in question.options"
        :key="option"
        type="button"
        class="tool"
        @click="emit('answer', question, option)"
      >
        {{ option }}<span v-if="hintOf(question, at)" class="quiet">: {{ hintOf(question, at) }}</span>
      </button>
    </template>
    <template v-else-if="question.options.length">
      <select class="tool" :aria-label="question.text" value="" @change="typed(question, $event)">
        <option value="">pick one</option>
        <option v-for="(option, at) in question.options" :key="option" :value="option">
          {{ option }}{{ hintOf(question, at) ? `: ${hintOf(question, at)}` : '' }}
        </option>
      </select>
    </template>
    <input
      v-if="question.free"
      class="tool"
      :aria-label="`${question.text} Another`"
      :placeholder="question.options.length ? 'another' : 'type it'"
      @change="typed(question, $event)"
    />
  </div>
  <p v-for="question in saidOf(questions)" :key="question.field" class="said">
    {{ question.text }}
    <select
      class="as-text"
      :aria-label="question.text"
      :value="question.answer"
      @change="typed(question, $event)"
    >
      <option v-for="option in new Set([question.answer!, ...question.options])" :key="option">
        {{ option }}
      </option>
    </select>
  </p>
</template>

<style scoped>
.question {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 3px 0;
}

.said {
  margin: 2px 0;
  font-size: 13px;
}

strong {
  font-weight: 600;
}

strong::before {
  content: '?';
  color: var(--accent-text);
  margin-right: 5px;
}
</style>
