<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { count } from '../../shared/format'
import { useKeys } from '../../shared/keys'
import { useNow } from '../../shared/now'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import { address } from '../../api/client'
import { usePlan } from '../plan/queries'
import DropZone from './DropZone.vue'
import GroundQuestions from './GroundQuestions.vue'
import LoadList from './LoadList.vue'
import PlatformList from './PlatformList.vue'
import { useKeeping, useLoads, useReadingNow, useSources } from './queries'
import { openOf, type FileRehearsal } from './reading'
import ReadingProgress from './ReadingProgress.vue'
import { chosen, job, leaveWaiting, read, reading, rehearsal, unread } from './rehearsal'
import RehearsalFile from './RehearsalFile.vue'
import SourceList from './SourceList.vue'

const loads = useLoads()
const sources = useSources()
const plan = usePlan()
const { keeping, attend, stop } = useKeeping()
const readingNow = useReadingNow()

const files = computed(() => (rehearsal.value?.files ?? []) as FileRehearsal[])
const usable = computed(() => files.value.filter((f) => !f.problem))
const open = computed(() => usable.value.filter((f) => openOf(f.questions).length))
const openQuestions = computed(() => open.value.reduce((sum, f) => sum + openOf(f.questions).length, 0))
const ready = computed(() => usable.value.filter((f) => !openOf(f.questions).length))
const ground = computed(() => rehearsal.value?.first ?? [])
const isKeeping = computed(() => job.value?.state === 'running' || keeping.isPending.value)
/** Nothing is kept while what all rows are read by is not said, or something is being read anew. */
const held = computed(() => !ready.value.length || ground.value.length > 0 || readingNow.value > 0)
const changes = computed(() => ready.value.reduce((sum, f) => sum + f.new + f.replaced, 0))
const home = computed(() => (plan.data.value?.general.home_currency as string | undefined) ?? 'EUR')
const named = computed(() => (plan.data.value?.sections.source ?? []).map((s) => String(s.name)))

/** A load that another window began is shown here, too, and can be stopped from here. */
const now = useNow()
watch(
  () => now.data.value?.running[0]?.id,
  (id) => {
    if (id !== undefined && !isKeeping.value) void attend(id)
  },
)

async function keep() {
  const token = rehearsal.value!.token
  await keeping.mutateAsync(token)
  // What was kept leaves the rehearsal; what still asks, or was stopped before it was kept, stays.
  await leaveWaiting(token)
  await nextTick()
  // What had the focus is gone: what came of it has it then.
  if (document.activeElement === document.body) ended.value?.focus()
}

function choose(files: File[]) {
  keeping.reset()
  void read(files)
}

const ended = ref<HTMLElement>()
const zone = ref<InstanceType<typeof DropZone>>()
const desk = ref<HTMLElement>()
useKeys({
  f: () => zone.value?.open(),
  k: () => void (rehearsal.value && !held.value && !isKeeping.value && keep()),
})
// What is to be said next has the focus: the first question, then what keeps the files.
watch(
  () => [rehearsal.value?.token, openQuestions.value, held.value],
  async () => {
    await nextTick()
    // Whoever is typing elsewhere is left there.
    const at = document.activeElement
    if (at?.matches('input:not([type=checkbox], [type=file])') && !at.closest('.question, .ground')) return
    desk.value
      ?.querySelector<HTMLElement>(
        '.ground input, .question button, .question select, .question input, .keep',
      )
      ?.focus()
  },
)

/** What whoever does not see it is told: that files were read, what is asked of them, that they are kept. */
const announced = computed(() => {
  const files = usable.value.length
  if (!rehearsal.value) return ''
  return [
    `Rehearsal ready: ${count(files)} ${files === 1 ? 'file' : 'files'}`,
    openQuestions.value
      ? `${count(openQuestions.value)} ${openQuestions.value === 1 ? 'question' : 'questions'} open`
      : `${count(changes.value)} ${changes.value === 1 ? 'change' : 'changes'} to keep`,
  ].join(', ')
})

/** One file was read in another way. */
function take(at: number, file: FileRehearsal) {
  if (rehearsal.value) rehearsal.value.files[at] = file
}
</script>

<template>
  <header class="top">
    <h1>Gather <small class="quiet">is everything arriving?</small></h1>
    <span class="aside no-print">
      <router-link class="link" to="/records">Records: what became of each?</router-link>
      <router-link class="link" to="/join">Join: do the pieces fit?</router-link>
      <router-link class="link" to="/ads">Ads: which would arrive untagged?</router-link>
      <router-link class="link" to="/invoices">Invoices: does the month’s cost tie?</router-link>
      <a
        class="link"
        :href="address('/gather/package.zip')"
        download
        title="Rows, plan, links and history as a data package; drop it into an empty workspace"
        >Export all</a
      >
      <DropZone ref="zone" :busy="reading !== null" @files="choose" />
    </span>
  </header>
  <p v-if="!files.length" class="quiet no-print">
    Drop files anywhere on this page: exports as CSV in any dialect, JSON Lines, Parquet or XLSX, web server
    logs, settings as TOML. Nothing is kept before you have seen it.
  </p>
  <p class="unseen no-print" aria-live="polite">{{ announced }}</p>
  <ProblemNote :error="unread ?? keeping.error.value" />
  <ReadingProgress v-if="reading" :reading="reading" />

  <section v-if="files.length" ref="desk" aria-label="Rehearsal" class="rehearsal">
    <h2>
      Rehearsal: nothing is kept yet<template v-if="openQuestions"
        >;
        <span class="asks" role="status"
          >{{ count(openQuestions) }} {{ openQuestions === 1 ? 'question is' : 'questions are' }} open in
          {{ count(open.length) }} {{ open.length === 1 ? 'file' : 'files' }}</span
        ></template
      >
    </h2>
    <GroundQuestions
      v-if="ground.length && plan.data.value"
      :questions="ground"
      :plan="plan.data.value"
      @said="choose(chosen)"
    />
    <RehearsalFile
      v-for="(file, at) in files"
      :key="`${rehearsal!.token} ${at}`"
      :file="file"
      :token="rehearsal!.token"
      :sources="named"
      :home="home"
      @read="take(at, $event)"
    />
    <div v-if="!isKeeping" class="choice">
      <v-btn
        v-if="usable.length"
        class="keep"
        variant="flat"
        color="primary"
        title="Keep (k)"
        :disabled="held"
        @click="keep"
      >
        Keep {{ count(changes) }} {{ changes === 1 ? 'change' : 'changes' }}
      </v-btn>
      <v-btn @click="rehearsal = null">Leave everything as it is</v-btn>
      <span v-if="ground.length" class="quiet">First choose how the files are read.</span>
      <span v-else-if="open.length" class="quiet"
        >{{ count(open.length) }} {{ open.length === 1 ? 'file still asks' : 'files still ask' }}:
        {{ open.map((f) => f.file).join(', ') }}</span
      >
    </div>
  </section>

  <section v-if="job" ref="ended" aria-label="Progress" class="progress" role="status" tabindex="-1">
    <template v-if="job.state === 'running'">
      <progress :value="job.rows_done" :max="job.rows_total || 1" />
      {{ job.doing }}: {{ count(job.rows_done) }} of about {{ count(job.rows_total) }} rows<template
        v-if="job.rate"
        >, {{ count(job.rate) }} a second</template
      ><template v-if="job.seconds_left !== null">, {{ Math.ceil(job.seconds_left) }} s left</template>
      <v-btn @click="stop">Stop</v-btn>
    </template>
    <template v-else>
      {{ job.state === 'done' ? 'Loaded' : 'Not finished' }}: {{ job.message }}
      <router-link v-if="job.state === 'done'" class="link" to="/weigh">See the figures</router-link>
    </template>
  </section>

  <ProblemNote :error="loads.error.value ?? sources.error.value" />
  <WorkingNote
    v-if="loads.isLoading.value || sources.isLoading.value"
    what="Looking at what arrived: each source, its last day and any missing days."
  />
  <SourceList
    v-if="sources.data.value && loads.data.value && plan.data.value"
    :sources="sources.data.value"
    :loads="loads.data.value"
    :home="home"
    :plan="plan.data.value"
  />
  <PlatformList v-if="plan.data.value" :plan="plan.data.value" />
  <LoadList v-if="loads.data.value" :loads="loads.data.value" />
</template>

<style scoped>
.aside {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 4px 14px;
  align-items: center;
}

.asks {
  color: var(--accent-text);
}

.top {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

small {
  font-weight: 400;
  font-size: 14px;
}

.rehearsal {
  border: 1px solid var(--ink);
  background: var(--sheet);
  padding: 10px 12px;
  margin-bottom: 14px;
}

.choice {
  display: flex;
  gap: 10px;
  align-items: center;
  position: sticky;
  bottom: 0;
  padding: 8px 0;
  background: var(--sheet);
}

.progress {
  margin: 0 0 14px;
  display: flex;
  gap: 10px;
  align-items: center;
}

progress {
  width: 260px;
  accent-color: var(--accent);
}

@media (max-width: 700px) {
  .top {
    flex-wrap: wrap;
  }

  .top small {
    display: none;
  }
}
</style>
