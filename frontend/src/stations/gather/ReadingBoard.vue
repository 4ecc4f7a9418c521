<script setup lang="ts">
import { computed } from 'vue'
import ReadingBlanks from './ReadingBlanks.vue'
import ReadingPicks from './ReadingPicks.vue'
import ReadingQuestions from './ReadingQuestions.vue'
import type { FileRehearsal, Question, Reading } from './reading'
import { useTables } from './queries'

const props = defineProps<{
  file: FileRehearsal
  reading: Reading
  questions: Question[]
  sources: string[]
  busy: boolean
}>()
const emit = defineEmits<{
  read: [reading: Partial<Reading> | null, called: string]
  answer: [question: Question, text: string]
}>()

const tables = useTables()
const columns = computed(() => tables.data.value?.[props.reading.table] ?? [])

const put = (next: Partial<Reading>) => emit('read', next, '')
</script>

<template>
  <section :aria-label="`How ${file.file} is read`" class="board">
    <p class="line">
      Its rows are
      <select
        class="tool"
        aria-label="Table"
        :value="reading.table"
        @change="emit('read', null, ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="(_, name) in tables.data.value" :key="name" :value="name">
          {{ String(name).replaceAll('_', ' ') }}
        </option>
      </select>
      of the source
      <input
        class="tool name"
        aria-label="Name of the source"
        :value="reading.name"
        @change="put({ name: ($event.target as HTMLInputElement).value.trim() || reading.name })"
      />
      <template v-if="sources.length">
        or it is read by
        <select
          class="tool"
          aria-label="Read by another source"
          value=""
          @change="emit('read', null, ($event.target as HTMLSelectElement).value)"
        >
          <option value="">a source that is there</option>
          <option v-for="name in sources" :key="name" :value="name">{{ name }}</option>
        </select>
      </template>
      <span v-if="busy" class="quiet" role="status">Reading it…</span>
    </p>
    <ReadingQuestions :questions="questions" @answer="(question, text) => emit('answer', question, text)" />
    <ul v-if="file.notes.length" class="notes quiet">
      <li v-for="note in file.notes" :key="note">{{ note }}</li>
    </ul>
    <ReadingPicks :file="file" :reading="reading" :columns="columns" @put="put" />
    <ReadingBlanks :reading="reading" :columns="columns" @put="put" />
  </section>
</template>

<style scoped>
.board {
  border-left: 3px solid var(--accent);
  padding: 4px 0 4px 10px;
  margin: 4px 0;
}

.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 0 0 4px;
}

.name {
  width: 180px;
}

.notes {
  margin: 2px 0 6px;
  padding-left: 18px;
  font-size: 13px;
}
</style>
