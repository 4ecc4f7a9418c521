<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, nextTick, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import ExportControl from '../../shared/ExportControl.vue'
import FindAnything from '../../shared/FindAnything.vue'
import { count, moneyWithUnit } from '../../shared/format'
import { useKeys } from '../../shared/keys'
import PageHead from '../../shared/PageHead.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import { usePlan } from '../plan/queries'
import UndoByHand from '../plan/UndoByHand.vue'
import { useByHand } from '../plan/useByHand'
import CoverageLine from './CoverageLine.vue'
import MatterMending from './MatterMending.vue'
import MatterRows from './MatterRows.vue'
import MatterSaid from './MatterSaid.vue'
import { matterWords, objectWords } from './matterWords'

const CoverageParts = defineAsyncComponent(() => import('./CoverageParts.vue'))
const MendedHere = defineAsyncComponent(() => import('./MendedHere.vue'))
const JoinedPeople = defineAsyncComponent(() => import('./JoinedPeople.vue'))

/** How much is tied together, what is not and what it costs, and what mends it, on trial. */
const days = useAddressState('days', 'weeks')
const focus = useAddressState('of')
const all = computed(() => days.value === 'all')
const found = useQuery({
  queryKey: ['matters', all],
  queryFn: () => answer(api.GET('/matters', { params: { query: { all_days: all.value } } })),
  placeholderData: keepPreviousData,
})
const coverage = useQuery({ queryKey: ['coverage'], queryFn: () => answer(api.GET('/coverage')) })
const plan = usePlan()
const byHand = useByHand()
const { busy, error } = byHand
type Matter = Schemas['OpenMatter']
const keyOf = (one: Matter) => `${one.kind} ${one.object.join(' / ')} ${one.first_day}`
/** Those of what one came from: its name is among what they are about. */
const listed = computed(() => {
  const matters = found.data.value?.matters ?? []
  const wanted = focus.value.toLowerCase()
  return wanted ? matters.filter((one) => one.object.some((part) => part.toLowerCase() === wanted)) : matters
})
const open = computed(() => listed.value.filter((one) => !one.is_accepted))
const accepted = computed(() => listed.value.filter((one) => one.is_accepted))
const seen = ref(false)
const shown = computed(() => (seen.value ? [...open.value, ...accepted.value] : open.value))
const pickedKey = ref<string>()
const picked = computed(() => shown.value.find((one) => keyOf(one) === pickedKey.value) ?? shown.value[0])
/** More of the same kind, picked with space, settled in one change. */
const together = ref<string[]>([])
const several = computed(() => {
  const one = picked.value
  if (!one) return []
  const more = shown.value.filter(
    (other) => other.kind === one.kind && other !== one && together.value.includes(keyOf(other)),
  )
  return [one, ...more]
})
const list = ref<HTMLElement>()
async function pick(one: Matter) {
  if (picked.value && one.kind !== picked.value.kind) together.value = []
  pickedKey.value = keyOf(one)
  await nextTick()
}
function move(step: number) {
  const here = document.activeElement
  // Elsewhere on the page arrows scroll it.
  if (here && !here.matches('body, main') && !list.value?.contains(here)) return false
  const at = shown.value.indexOf(picked.value!)
  const next = shown.value[at + step]
  if (!next) return false
  void pick(next).then(() => list.value?.querySelector<HTMLElement>('[aria-pressed="true"]')?.focus())
  return true
}
function toggle(one: Matter) {
  if (one.kind !== picked.value?.kind) return void pick(one)
  const key = keyOf(one)
  together.value = together.value.includes(key)
    ? together.value.filter((other) => other !== key)
    : [...together.value, key]
}
useKeys({ ArrowDown: () => move(1), ArrowUp: () => move(-1) })
const router = useRouter()
/** Esc leaves a field, then leads back to what one came from. */
function back() {
  if (window.history.state?.back) router.back()
  else focus.value = ''
}
useKeys({
  Escape: () => {
    const here = document.activeElement
    if (here instanceof HTMLInputElement || here instanceof HTMLSelectElement) here.blur()
    else if (focus.value) back()
    else return false
    return true
  },
})
const money = (amount: number | null) =>
  amount === null ? '' : moneyWithUnit(amount, found.data.value!.minor_digits, found.data.value!.currency)
const figure = ref<string>()
const openBeam = (name: string) => (figure.value = figure.value === name ? undefined : name)
/** The source of a matter's platform, to begin with. */
const sourceOf = (one: Matter) => {
  const platforms = (plan.data.value?.sections.platform ?? []) as { name?: string; source?: string }[]
  return platforms.find((platform) => platform.name === one.object[0]?.split(', ')[0])?.source ?? ''
}
const range = computed(() => {
  const now = found.data.value
  return now?.first_day || now?.last_day ? `${now.first_day} to ${now.last_day}` : 'all days'
})
</script>

<template>
  <PageHead title="Join" about="do the pieces fit?">
    <UndoByHand :by-hand="byHand" />
    <FindAnything />
    <ExportControl
      :tables="[
        { path: '/matters', rows: found.data.value?.matters.length },
        { path: '/coverage', rows: coverage.data.value?.shares.length },
      ]"
      :stamp="found.data.value?.fingerprint"
    />
  </PageHead>
  <ProblemNote :error="found.error.value ?? coverage.error.value ?? error" />
  <WorkingNote v-if="found.isLoading.value" what="Looking for what does not fit." />
  <CoverageLine
    v-if="coverage.data.value"
    :coverage="coverage.data.value"
    :opened="figure"
    @open="openBeam"
  />
  <CoverageParts v-if="coverage.data.value && figure" :coverage="coverage.data.value" :figure="figure" />
  <section v-if="found.data.value" aria-label="Open matters">
    <p role="status">
      {{ count(open.length) }} {{ open.length === 1 ? 'matter is' : 'matters are' }} open<template
        v-if="focus"
      >
        of {{ focus }}</template
      ><template v-if="accepted.length"
        >, {{ count(accepted.length) }} accepted ({{ count(listed.length) }} found)</template
      >. Stakes of {{ range }}.
    </p>
    <p class="no-print choose">
      <button type="button" class="plain link" @click="days = all ? 'weeks' : 'all'">
        {{ all ? 'Stakes of the latest weeks' : 'Stakes of all days' }}
      </button>
      <button
        v-if="accepted.length"
        type="button"
        class="plain link"
        :aria-pressed="seen"
        @click="seen = !seen"
      >
        {{ seen ? 'Hide accepted' : 'See accepted' }}
      </button>
      <button v-if="focus" type="button" class="plain link" title="Esc" @click="back">Back</button>
    </p>
    <div v-if="shown.length" class="two">
      <div class="scroll">
        <table ref="list">
          <thead>
            <tr>
              <th>What</th>
              <th>Of</th>
              <th class="number">Rows</th>
              <th class="number">Spend at stake</th>
              <th class="number">Value at stake</th>
              <th>Since</th>
              <th>Whose</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="one in shown"
              :key="keyOf(one)"
              :class="{ picked: one === picked, also: several.includes(one), accepted: one.is_accepted }"
            >
              <td>
                <button
                  type="button"
                  class="plain link"
                  :aria-pressed="one === picked"
                  :title="one.rule"
                  @click="pick(one)"
                  @keydown.space.prevent="toggle(one)"
                >
                  {{ matterWords(one.kind) }}
                </button>
              </td>
              <td class="object" :title="objectWords(one.object)">{{ objectWords(one.object) }}</td>
              <td class="number">{{ count(one.rows) }}</td>
              <td class="number">{{ money(one.spend) }}</td>
              <td class="number">{{ money(one.value) }}</td>
              <td class="day">{{ one.first_day }}</td>
              <td>{{ one.is_accepted ? 'accepted' : one.whose }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <section
        v-if="picked"
        class="one"
        :aria-label="`${matterWords(picked.kind)} ${objectWords(picked.object)}`"
      >
        <h2>{{ matterWords(picked.kind) }}: {{ objectWords(picked.object) }}</h2>
        <p class="quiet">
          Found where: {{ picked.rule }}.
          <template v-if="picked.said && picked.kind !== 'near_value'">{{ picked.said }}.</template>
          {{ count(picked.all_rows) }} {{ picked.all_rows === 1 ? 'row' : 'rows' }} over all days<template
            v-if="several.length > 1"
            >; {{ count(several.length) }} are picked</template
          >.
        </p>
        <div class="no-print">
          <MatterMending :matter="picked" :likely="sourceOf(picked)" :by-hand="byHand" />
          <MatterSaid :matters="several" :by-hand="byHand" />
        </div>
        <MatterRows
          :matter="picked"
          :zone="found.data.value.time_zone"
          :currency="found.data.value.currency"
          :digits="found.data.value.minor_digits"
          :busy="busy"
          @take-out="byHand.put($event, true)"
        />
      </section>
    </div>
    <p v-else>
      Nothing open here<template v-if="accepted.length">; {{ count(accepted.length) }} accepted</template>.
    </p>
  </section>
  <MendedHere :by-hand="byHand" />
  <JoinedPeople v-if="found.data.value" />
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 660px) minmax(0, 1fr);
  gap: 0 16px;
  align-items: start;
}

@media (width < 1200px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}

.scroll {
  overflow-x: auto;
}

.choose {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 4px 0;
}

.object {
  max-width: 190px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

td button {
  min-height: 24px;
  text-align: left;
}

.day {
  white-space: nowrap;
}

.picked td {
  background: var(--picked, color-mix(in srgb, var(--accent) 12%, transparent));
}

.also td {
  border-bottom-color: var(--accent);
}

.accepted {
  opacity: 0.75;
}

/* What mends a matter and what is said of it are sentences with blanks. */
.one :deep(form) {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  margin: 8px 0;
}

.one :deep(.short) {
  width: 110px;
}

h2 {
  margin: 0;
  font-size: 16px;
}
</style>
