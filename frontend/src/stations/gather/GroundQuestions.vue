<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChangeGeneral, type Plan } from '../plan/queries'
import type { Question } from './reading'

/** What of a workspace nobody has said yet and all rows are read by: its home currency and time zone. */
const props = defineProps<{ questions: Question[]; plan: Plan }>()
const emit = defineEmits<{ said: [] }>()

const change = useChangeGeneral()
const here = Intl.DateTimeFormat().resolvedOptions().timeZone
const values = ref<Record<string, string>>({})
const offered = (question: Question) =>
  question.field === 'time_zone' ? [...new Set([here, ...question.options])] : question.options
const isSaid = computed(() => props.questions.every((q) => values.value[q.field]?.trim()))

const form = ref<HTMLFormElement>()
onMounted(() => form.value?.querySelector('input')?.focus())

async function keep() {
  if (!isSaid.value) return
  const kept = await change
    .mutateAsync({ basis: props.plan.basis, values: { ...values.value } })
    .catch(() => null)
  if (kept) emit('said')
}
</script>

<template>
  <form ref="form" class="ground" aria-label="Before anything is read" @submit.prevent="keep">
    <label v-for="question in questions" :key="question.field" class="question">
      <strong>{{ question.text }}</strong>
      <input
        v-model="values[question.field]"
        class="tool"
        :list="`offered-${question.field}`"
        :placeholder="question.field === 'time_zone' ? here : 'EUR'"
        :aria-label="question.text"
      />
      <datalist :id="`offered-${question.field}`">
        <option v-for="option in offered(question)" :key="option" :value="option" />
      </datalist>
      <button
        v-for="option in offered(question).slice(0, 3)"
        :key="option"
        type="button"
        class="plain link"
        @click="values[question.field] = option"
      >
        {{ option }}
      </button>
    </label>
    <ProblemNote :error="change.error.value" />
    <v-btn type="submit" variant="flat" color="primary" :disabled="!isSaid || change.isPending.value">
      Read the files with these
    </v-btn>
  </form>
</template>

<style scoped>
.ground {
  border-left: 3px solid var(--accent);
  padding: 4px 0 4px 10px;
  margin: 4px 0 8px;
}

.question {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-bottom: 4px;
}

.tool {
  width: 170px;
}
</style>
