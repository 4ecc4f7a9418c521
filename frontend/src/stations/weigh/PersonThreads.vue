<script setup lang="ts">
import { computed } from 'vue'
import { instant } from '../../shared/format'
import FileLine from './FileLine.vue'
import { kindWords, rowWords, type PersonOut } from './personWords'
import { places } from './recordWords'

/** A thread for each identifier of a person: beads where a row carries it, a knot where a row tied several. */
const props = defineProps<{ person: PersonOut }>()
const WIDTH = 844
const HEIGHT = 18
const marks = computed(() =>
  props.person.rows.map((row) => ({
    at: Date.parse(row.at) / 86_400_000,
    kind: 'touch' as const,
    says: `${instant(row.at, props.person.time_zone)}, ${rowWords(row)}`,
  })),
)
const drawn = computed(() => places(marks.value, WIDTH))
/** The days of the first and the last row. */
const ends = computed(() =>
  [props.person.rows.at(0), props.person.rows.at(-1)].map((row) =>
    row ? instant(row.at, props.person.time_zone).slice(0, 10) : '',
  ),
)
const beads = (thread: number) =>
  props.person.rows.flatMap((row, i) =>
    row.identifiers.includes(thread)
      ? [{ x: drawn.value.x[i]!, record: row.table !== 'visits', says: marks.value[i]!.says }]
      : [],
  )
/** The threads between which a knot stands: it is drawn through all of them. */
const knots = computed(() =>
  props.person.rows.flatMap((row, i) =>
    row.knot.length ? [{ x: drawn.value.x[i]!, from: Math.min(...row.knot), to: Math.max(...row.knot) }] : [],
  ),
)
const through = (thread: number) => knots.value.filter((knot) => knot.from <= thread && thread <= knot.to)
</script>

<template>
  <section aria-label="Identifiers">
    <table class="threads">
      <thead>
        <tr>
          <th>Kind</th>
          <th>Identifier</th>
          <th>Joined by</th>
          <th class="drawn">
            <span class="days"
              ><span>{{ ends[0] }}</span
              ><span>{{ ends[1] }}</span></span
            >
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, thread) in person.identifiers" :key="one.written">
          <td>{{ kindWords(one.kind) }}</td>
          <td class="shown" :title="one.shown">{{ one.shown }}</td>
          <td :title="`${instant(one.by.at, person.time_zone)}, ${one.by.file} ${one.by.line}`">
            {{ one.shared_with ? `joins nobody: seen with ${one.shared_with} others` : rowWords(one.by) }}
          </td>
          <td class="drawn">
            <svg
              :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
              preserveAspectRatio="none"
              role="img"
              :aria-label="`${one.rows} ${one.rows === 1 ? 'row' : 'rows'}`"
            >
              <line class="thread" x1="0" :x2="WIDTH" y1="9" y2="9" />
              <line
                v-for="(knot, i) in through(thread)"
                :key="`k${i}`"
                class="knot"
                :x1="knot.x"
                :x2="knot.x"
                :y1="knot.from === thread ? 9 : 0"
                :y2="knot.to === thread ? 9 : HEIGHT"
              />
              <g v-for="(bead, i) in beads(thread)" :key="i">
                <title>{{ bead.says }}</title>
                <rect v-if="bead.record" :x="bead.x - 3" y="4" width="6" height="10" />
                <circle v-else :cx="bead.x" cy="9" r="3.5" />
              </g>
            </svg>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="person.more_identifiers" class="quiet">{{ person.more_identifiers }} more identifiers.</p>
    <p v-if="!person.identifiers.length" class="quiet">
      No identifier that joins anybody: this row is a person of its own.
    </p>
    <p v-if="person.named_by" class="quiet">
      {{ person.name }}, by {{ rowWords(person.named_by) }},
      <FileLine :file="person.named_by.file" :line="person.named_by.line" />
    </p>
  </section>
</template>

<style scoped>
.threads {
  width: 100%;
  table-layout: fixed;
}

.threads th:nth-child(1) {
  width: 84px;
}

.threads th:nth-child(2) {
  width: 170px;
}

.threads th:nth-child(3) {
  width: 150px;
}

td {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.drawn {
  padding: 0;
}

.days {
  display: flex;
  justify-content: space-between;
  font-weight: 400;
}

svg {
  display: block;
  width: 100%;
  height: 20px;
}

.thread {
  stroke: var(--unsure);
  stroke-width: 1;
}

.knot {
  stroke: var(--accent);
  stroke-width: 2.5;
}

circle,
rect {
  fill: var(--ink);
}

@media (max-width: 700px) {
  .threads th:nth-child(4),
  .drawn {
    display: none;
  }
}
</style>
