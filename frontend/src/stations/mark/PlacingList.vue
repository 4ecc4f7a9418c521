<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useAddressState, useTypedState } from '../../shared/addressState'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import FootLine from '../../shared/FootLine.vue'
import ArrivalTicks from './ArrivalTicks.vue'
import LandedAddress from './LandedAddress.vue'
import VisitReport from './VisitReport.vue'

type Placed = Schemas['PlacedLink']
const STATES = ['planned', 'placed', 'none yet', 'arriving', 'quiet', 'ended']
/** A state in words; of a quiet link since when. */
const stateOf = (link: Placed) =>
  link.state === 'quiet' && link.last ? `quiet since ${link.last}` : link.state
const links = useQuery({ queryKey: ['placing'], queryFn: () => answer(api.GET('/mark/placing')) })
const state = useAddressState('state')
const find = useTypedState('find')
const counts = computed(() => {
  const out: Record<string, number> = Object.fromEntries(STATES.map((s) => [s, 0]))
  for (const link of links.data.value ?? []) out[link.state]!++
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
/** How faults begin, the worst first: what arrives under another name is counted wrong. */
const WORST = ['another', 'placed,', 'clicked,', 'quiet', 'late', 'none yet']
const rank = (fault: string) => (fault ? WORST.findIndex((w) => fault.startsWith(w)) : WORST.length)
/** Links with the same fault are one group, the worst first; those with none come last. */
const groups = computed(() => {
  const by = new Map<string, Placed[]>()
  for (const link of rows.value) by.set(link.fault ?? '', [...(by.get(link.fault ?? '') ?? []), link])
  return [...by]
    .map(([fault, of]) => ({ fault, links: of }))
    .sort((a, b) => rank(a.fault) - rank(b.fault) || b.links.length - a.links.length)
})
const closed = ref(new Set<string>())
function toggle(fault: string) {
  const now = new Set(closed.value)
  if (!now.delete(fault)) now.add(fault)
  closed.value = now
}
const says = (link: Placed) =>
  [
    [link.campaign, told(link)].filter(Boolean).join(' · '),
    link.draft ? 'its campaign is a draft, not to be placed' : '',
    link.placed_on ? `placed on ${link.placed_on}` : '',
    link.verdict,
  ]
    .filter(Boolean)
    .join('; ')
/** What tells this link from the others of its campaign. */
function told(link: Placed): string {
  const tags = new URLSearchParams(link.url.split('#')[0]!.split('?')[1] ?? '')
  return tags.get('utm_content') || tags.get('utm_term') || ''
}
const visited = ref<string>()
function test(link: Placed) {
  visited.value = link.key
  visit.mutate(link)
}
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
      {{ name }} {{ count(number) }}
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
    what="Looking at every link: its address is made, and held against the visits that arrived."
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
      <tbody v-for="group in groups" :key="group.fault">
        <tr v-if="group.fault" class="fault">
          <th colspan="9" scope="rowgroup">
            <button
              type="button"
              class="plain"
              :aria-expanded="!closed.has(group.fault)"
              @click="toggle(group.fault)"
            >
              {{ closed.has(group.fault) ? '›' : '⌄' }} {{ count(group.links.length) }}
              {{ group.links.length === 1 ? 'link' : 'links' }}: {{ group.fault }}
            </button>
          </th>
        </tr>
        <tr v-else-if="groups.length > 1" class="fault">
          <th colspan="9" scope="rowgroup">
            {{ count(group.links.length) }} {{ group.links.length === 1 ? 'link' : 'links' }} with nothing
            wrong
          </th>
        </tr>
        <template v-for="link in group.fault && closed.has(group.fault) ? [] : group.links" :key="link.key">
          <tr class="placed" :data-says="says(link)" :title="link.url">
            <td class="short">{{ [link.campaign, told(link)].filter(Boolean).join(' · ') }}</td>
            <td class="short" :title="[link.placement, link.box].filter(Boolean).join(', ')">
              {{ link.placement || link.box }}
            </td>
            <td class="state" :class="{ loses: link.late || link.draft }">
              {{ stateOf(link) }}<template v-if="link.due && !link.visits">, due {{ link.due }}</template>
            </td>
            <td><ArrivalTicks :weeks="link.weeks ?? []" /></td>
            <td class="number">{{ count(link.visits) }}</td>
            <td class="number">{{ link.short ? count(link.clicks) : '' }}</td>
            <td class="day">{{ link.last }}</td>
            <td class="short">{{ link.mender }}</td>
            <td class="number">
              <button type="button" class="plain link no-print" :data-says="says(link)" @click="test(link)">
                Test visit
              </button>
            </td>
          </tr>
          <tr v-if="visited === link.key && (visit.data.value || visit.error.value)" class="visit">
            <td colspan="9">
              <ProblemNote :error="visit.error.value" />
              <VisitReport v-if="visit.data.value" :visit="visit.data.value">
                <p v-if="link.visits && !link.deviations.length">
                  {{ link.verdict }}: a test that fails, here or on the platform, is a false alarm.
                </p>
              </VisitReport>
            </td>
          </tr>
        </template>
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

.placed td {
  height: 24px;
  padding-block: 0;
}

.fault th {
  font-weight: 650;
  padding-top: 8px;
  border-bottom: 1px solid var(--ink);
}

.fault button {
  font-weight: 650;
}

@media (max-width: 700px) {
  .placed td:nth-child(2),
  .placed td:nth-child(8) {
    max-width: 120px;
  }
}

.state,
.day,
.short {
  white-space: nowrap;
}

.short {
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.visit > td {
  background: var(--sheet);
  padding: 6px 12px;
}

.loses {
  color: var(--loses);
}
</style>
