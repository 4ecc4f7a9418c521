<script setup lang="ts">
import { computed, ref } from 'vue'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import CorrectionNote from './CorrectionNote.vue'
import MendList from './MendList.vue'
import ReadingBoard from './ReadingBoard.vue'
import ReadingQuestions from './ReadingQuestions.vue'
import { moneyOf, openOf, type FileRehearsal, type Question, type Reading } from './reading'
import { useReadOtherwise } from './queries'
import SettingsMove from './SettingsMove.vue'

const props = defineProps<{ file: FileRehearsal; token: string; sources: string[]; home: string }>()
const emit = defineEmits<{ read: [file: FileRehearsal] }>()

const otherwise = useReadOtherwise()
/** A way of reading that is not remembered yet is shown, one that is only on demand. */
const wanted = ref(false)
const shown = computed(() => props.file.reading && (wanted.value || !props.file.known || isOpen.value))
const others = computed(() => props.sources.filter((name) => name !== props.file.reading?.name))

/** What was changed last: it stands at once, whatever answers are on their way. */
const draft = ref<Reading | null>(null)
const reading = computed(() => draft.value ?? props.file.reading)
/** Questions that were answered since they were asked. */
const said = ref<string[]>([])
const questions = computed(() =>
  props.file.questions.filter((q) => q.answer || !said.value.includes(q.field)),
)
const isOpen = computed(() => openOf(questions.value).length > 0)
let waiting = 0
let latest: Reading | null = null
let turn: Promise<unknown> = Promise.resolve()

/** One after the other: what is said next builds on what the server made of what was said before. */
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  waiting += 1
  const mine = turn.then(work).finally(() => (waiting -= 1))
  turn = mine.catch(() => null)
  return mine
}

/** Read the file in a way. */
async function read(wish: Reading | null, called: string, answers?: Record<string, string>) {
  const asked = { token: props.token, file: props.file.file, reading: wish, called, answers }
  const found = await otherwise.mutateAsync(asked).catch(() => null)
  if (found) latest = found.reading ?? null
  if (waiting <= 1) {
    draft.value = null
    said.value = []
  }
  if (!found) return null
  const keeps = Boolean(wish) || Boolean(answers)
  const now = keeps ? { ...found, notes: [...new Set([...props.file.notes, ...found.notes])] } : found
  emit('read', now)
  return now
}

function answer(question: Question, text: string) {
  said.value = [...said.value, question.field]
  const isSource = question.field === 'source'
  void inTurn(() => (isSource ? read(null, text) : read(null, '', { [question.field]: text })))
}
function put(wish: Partial<Reading> | null, called: string) {
  if (wish) draft.value = { ...reading.value!, ...wish }
  void inTurn(() => read(wish && { ...(latest ?? props.file.reading!), ...wish }, called))
}

/** A file with our own names becomes one of a source by the first thing that is said of it. */
async function mend(change: Partial<Reading>) {
  const before = reading.value ?? (await inTurn(() => read(null, props.file.table)))?.reading
  if (before) put(change, '')
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
      <span v-if="file.extra.length" class="quiet">; kept as extra columns: {{ file.extra.join(', ') }}</span>
    </p>
    <p v-if="file.lines" class="quiet">
      {{ count(file.lines) }} lines = {{ count(file.header) }} header + {{ count(file.read) }} rows +
      {{ count(file.skipped) }} skipped (blank, inside a cell, or sums)<template v-if="file.spread"
        >, of which {{ count(file.spread) }} are further days of a week or month</template
      ><template v-if="file.first_day">; {{ file.first_day }} to {{ file.last_day }}</template
      ><template v-if="file.money.length">; its rows add up to {{ moneyOf(file.money, home) }}</template>
    </p>
    <SettingsMove v-if="file.table === 'settings' && !file.problem" :token="token" />
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
    <ReadingQuestions v-if="!shown && file.questions.length" :questions="questions" @answer="answer" />
    <p v-if="!shown && file.table && !['settings', 'package'].includes(file.table)">
      <button type="button" class="plain link" @click="file.reading ? (wanted = true) : put(null, '')">
        Change how {{ file.file }} is read
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
