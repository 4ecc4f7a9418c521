<script setup lang="ts">
import type { Question } from './reading'

defineProps<{ questions: Question[] }>()
const emit = defineEmits<{ answer: [question: Question, text: string] }>()

function typed(question: Question, event: Event) {
  const text = (event.target as HTMLInputElement).value.trim()
  if (text) emit('answer', question, text)
}
const isShort = (question: Question) => question.options.length > 0 && question.options.length <= 4
</script>

<template>
  <div
    v-for="question in questions"
    :key="question.field"
    class="question"
    role="group"
    :aria-label="question.text"
  >
    <strong>{{ question.text }}</strong>
    <template v-if="isShort(question)">
      <button
        v-for="option in question.options"
        :key="option"
        type="button"
        class="tool"
        @click="emit('answer', question, option)"
      >
        {{ option }}
      </button>
    </template>
    <template v-else-if="question.options.length">
      <select class="tool" :aria-label="question.text" value="" @change="typed(question, $event)">
        <option value="">pick one</option>
        <option v-for="option in question.options" :key="option" :value="option">{{ option }}</option>
      </select>
    </template>
    <input
      v-if="
        !question.field.startsWith('columns') && question.field !== 'date' && question.field !== 'decimal'
      "
      class="tool"
      :aria-label="`${question.text} Another`"
      :placeholder="question.options.length ? 'another' : 'type it'"
      @change="typed(question, $event)"
    />
  </div>
</template>

<style scoped>
.question {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 3px 0;
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
