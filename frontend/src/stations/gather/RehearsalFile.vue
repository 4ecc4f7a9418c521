<script setup lang="ts">
import { computed, ref } from 'vue'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import CorrectionNote from './CorrectionNote.vue'
import MendList from './MendList.vue'
import ReadingBoard from './ReadingBoard.vue'
import { answered, moneyOf, type FileRehearsal, type Question, type Reading } from './reading'
import { useReadOtherwise } from './queries'

const props = defineProps<{ file: FileRehearsal; token: string; sources: string[]; home: string }>()
const emit = defineEmits<{ read: [file: FileRehearsal] }>()

const otherwise = useReadOtherwise()
/** A way of reading that is not remembered yet is shown, one that is only on demand. */
const wanted = ref(false)
const shown = computed(
  () => props.file.reading && (wanted.value || !props.file.known || questions.value.length),
)
const others = computed(() => props.sources.filter((name) => name !== props.file.reading?.name))

/** What was said last: it stands at once, and what is said next builds on it, whatever answers are on their way. */
const draft = ref<Reading | null>(null)
const reading = computed(() => draft.value ?? props.file.reading)
/** Questions that were answered since they were asked. */
const said = ref<string[]>([])
const questions = computed(() => props.file.questions.filter((q) => !said.value.includes(q.field)))
let asks = 0

/** Read the file in a way; questions that are left stand on until each is answered. */
async function read(wish: Reading | null, called: string) {
  const mine = ++asks
  draft.value = wish
  const asked = { token: props.token, file: props.file.file, reading: wish, called }
  const found = await otherwise.mutateAsync(asked).catch(() => null)
  if (mine !== asks) return null
  draft.value = null
  if (!found) return null
  const now = wish ? { ...found, questions: questions.value, notes: props.file.notes } : found
  said.value = []
  emit('read', now)
  return now
}

function answer(question: Question, text: string) {
  said.value = [...said.value, question.field]
  if (question.field === 'source') void read(null, text)
  else void read(answered(reading.value!, question, text), '')
}
const put = (wish: Reading | null, called: string) => void read(wish, called)

/** A file with our own names becomes one of a source by the first thing that is said of it. */
async function mend(change: Partial<Reading>) {
  const before = reading.value ?? (await read(null, props.file.table))?.reading
  if (before) put({ ...before, ...change }, '')
}
</script>

<template>
  <article :aria-label="file.file">
    <p v-if="file.problem" class="problem"><strong>Not usable.</strong> {{ file.problem }}</p>
    <p v-if="!file.problem || file.reading">
      <strong>{{ file.file }}</strong> is <strong>{{ file.table.replaceAll('_', ' ') }}</strong><template
        v-if="file.reading && file.known"
      >
        of {{ file.reading.name }}</template
      >: {{ count(file.read) }} read, {{ count(file.new) }} new, {{ count(file.replaced) }} replaced,
      {{ count(file.unchanged) }} unchanged,
      <template v-if="file.repeated">{{ count(file.repeated) }} repeated, </template>
      <span :class="{ bad: file.rejected }">{{ count(file.rejected) }} rejected</span>
      <span v-if="file.extra.length" class="quiet">; kept besides: {{ file.extra.join(', ') }}</span>
    </p>
    <p v-if="file.lines" class="quiet">
      {{ count(file.lines) }} lines = {{ count(file.header) }} header + {{ count(file.read) }} rows +
      {{ count(file.skipped) }} skipped (blank, inside a cell, or sums)<template v-if="file.first_day"
        >; {{ file.first_day }} to {{ file.last_day }}</template
      ><template v-if="file.money.length">; its rows add up to {{ moneyOf(file.money, home) }}</template>
    </p>
    <p v-for="warning in file.warnings" :key="warning" class="bad">{{ warning }}</p>
    <p v-if="file.lost" class="bad">
      {{ count(file.lost) }} {{ file.lost === 1 ? 'row' : 'rows' }} of days that are replaced would be gone
    </p>
    <CorrectionNote v-if="file.correction" :correction="file.correction" :home="home" />
    <ProblemNote :error="otherwise.error.value" />
    <MendList :file="file" :busy="otherwise.isPending.value" @mend="mend" />
    <ReadingBoard
      v-if="shown"
      :file="file"
      :reading="reading!"
      :questions="questions"
      :sources="others"
      :busy="otherwise.isPending.value"
      @read="put"
      @answer="answer"
    />
    <p v-else-if="file.table && !['settings', 'package'].includes(file.table)">
      <button type="button" class="plain link" @click="file.reading ? (wanted = true) : put(null, '')">
        Read {{ file.file }} otherwise
      </button>
    </p>
    <ul v-if="file.findings.length || file.rejected_rows.length">
      <li v-for="row in file.rejected_rows" :key="`${row.line} ${row.column}`">
        <span class="bad">Line {{ row.line }}</span
        ><template v-if="row.column">, {{ row.column }}</template> <q v-if="row.value">{{ row.value }}</q>:
        {{ row.reason }}
      </li>
      <li v-for="(finding, i) in file.findings" :key="i" class="quiet">
        Line {{ finding.line }}, {{ finding.code.replaceAll('_', ' ')
        }}<template v-if="finding.field">, {{ finding.field }}</template> {{ finding.id || finding.value }}
      </li>
    </ul>
  </article>
</template>

<style scoped>
article {
  border-bottom: 1px solid var(--line);
  padding: 5px 0;
}

p {
  margin: 0;
}

ul {
  margin: 2px 0 4px;
  padding-left: 20px;
  max-height: 160px;
  overflow: auto;
}

.bad,
.problem strong {
  color: var(--loses);
  font-weight: 600;
}

summary {
  cursor: pointer;
  font-size: 13px;
}
</style>
