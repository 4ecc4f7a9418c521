<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { LINK_CAUSES, LINK_STATE_WORDS } from '../../api/declared'
import { useAddressState, useTypedState } from '../../shared/addressState'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import ManyRows from '../../shared/ManyRows.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import FootLine from '../../shared/FootLine.vue'
import LandedAddress from './LandedAddress.vue'
import PlacedLines from './PlacedLines.vue'
import type { Line } from './placed'

type Placed = Schemas['PlacedLink']
type State = Placed['state']
const STATES = Object.keys(LINK_STATE_WORDS) as State[]
const links = useQuery({ queryKey: ['placing'], queryFn: () => answer(api.GET('/mark/placing')) })
const state = useAddressState('state')
const find = useTypedState('find')
const counts = computed(() => {
  const out = Object.fromEntries(STATES.map((s) => [s, 0])) as Record<State, number>
  for (const link of links.data.value ?? []) out[link.state]++
  return out
})
const LATE = 'late'
const late = computed(() => (links.data.value ?? []).filter((l) => l.late).length)
const rows = computed(() => {
  const text = find.value.toLowerCase()
  return (links.data.value ?? []).filter(
    (l) =>
      (!state.value || (state.value === LATE ? l.late : l.state === state.value)) &&
      (!text ||
        [l.url, l.campaign, l.placement, l.mender, l.short].some((v) => v.toLowerCase().includes(text))),
  )
})
const visit = useMutation<Schemas['Visit'], Problem, Placed>({
  mutationFn: ({ key }) => answer(api.POST('/mark/links/{key}/visit', { params: { path: { key } } })),
})
/** How bad a cause is: the lower the worse. */
const rank = (cause: Placed['cause']) => (cause ? LINK_CAUSES.indexOf(cause) : LINK_CAUSES.length)
/** Links with the same fault are one group, the worst first; those with none come last. */
const groups = computed(() => {
  const by = new Map<string, Placed[]>()
  for (const link of rows.value) by.set(link.fault ?? '', [...(by.get(link.fault ?? '') ?? []), link])
  return [...by]
    .map(([fault, of]) => ({ fault, cause: of[0]!.cause, links: of }))
    .sort((a, b) => rank(a.cause) - rank(b.cause) || b.links.length - a.links.length)
})
const closed = ref(new Set<string>())
function toggle(fault: string) {
  const now = new Set(closed.value)
  if (!now.delete(fault)) now.add(fault)
  closed.value = now
}
/** Heads of groups and links as they stand under each other: of thousands those in sight are drawn. */
const lines = computed<Line[]>(() =>
  groups.value.flatMap(({ fault, links: of }) => {
    const what = `${count(of.length)} ${of.length === 1 ? 'link' : 'links'}`
    if (fault)
      return [
        { head: `${what}: ${fault}`, fault },
        ...(closed.value.has(fault) ? [] : of.map((link) => ({ link }))),
      ]
    const some = of.map((link) => ({ link }))
    return groups.value.length > 1 ? [{ head: `${what} with nothing wrong`, fault: '' }, ...some] : some
  }),
)
const MANY = 200
const ROW = 24
const onPaper = useMediaQuery('print')
const isWindowed = computed(() => lines.value.length >= MANY && !onPaper.value)
const visited = ref<string>()
function test(link: Placed) {
  visited.value = link.key
  visit.mutate(link)
}
const drawn = (some: Line[]) => ({
  lines: some,
  closed: closed.value,
  visited: visited.value,
  visit: visit.data.value,
  failed: visit.error.value,
})
</script>

<template>
  <div class="tools no-print">
    <button
      v-for="(number, name) in counts"
      :key="name"
      type="button"
      class="plain link"
      :aria-pressed="state === name"
      @click="state = state === name ? '' : String(name)"
    >
      {{ LINK_STATE_WORDS[name] }} {{ count(number) }}
    </button>
    <button
      v-if="late"
      type="button"
      class="plain link loses"
      :aria-pressed="state === LATE"
      @click="state = state === LATE ? '' : LATE"
    >
      late {{ count(late) }}
    </button>
    <FindField v-model="find" />
    <span class="aside">
      <ExportControl :tables="[{ path: '/mark/placing' }]" />
    </span>
  </div>
  <LandedAddress />
  <ProblemNote :error="links.error.value" />
  <WorkingNote
    v-if="links.isLoading.value"
    what="Looking at every link: its address is made, and compared with the visits that arrived."
  />
  <p v-if="links.data.value && !links.data.value.length" class="quiet">
    No links yet. Write them in the link sheet; where each is placed is written there too.
  </p>
  <div v-else class="wide">
    <table>
      <thead>
        <tr>
          <th>Link</th>
          <th>Where</th>
          <th>State</th>
          <th title="Arrivals with exactly its tags, a tick a week, the last 13 weeks">13 weeks</th>
          <th class="number">Arrivals</th>
          <th class="number">Clicks</th>
          <th>Last</th>
          <th title="Who put it there; else whom the place or the campaign has">Who mends</th>
          <th><span class="unseen">Actions</span></th>
        </tr>
      </thead>
      <!-- Of thousands those in sight are drawn; on paper all of them stand. -->
      <ManyRows v-if="isWindowed" v-slot="{ first, end }" :count="lines.length" :height="ROW" :columns="9">
        <PlacedLines v-bind="drawn(lines.slice(first, end))" @toggle="toggle" @test="test" />
      </ManyRows>
      <tbody v-else>
        <PlacedLines v-bind="drawn(lines)" @toggle="toggle" @test="test" />
      </tbody>
    </table>
  </div>
  <FootLine otherwise="What has the focus is read out here." />
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin: 8px 0;
}

.tools [aria-pressed='true'] {
  font-weight: 700;
}

.aside {
  margin-left: auto;
  display: flex;
  gap: 12px;
}

.wide {
  overflow-x: auto;
}

.loses {
  color: var(--loses);
}
</style>
