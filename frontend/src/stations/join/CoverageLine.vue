<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { count, moneyWithUnit } from '../../shared/format'
import { COVERAGE } from './coverageWords'

/** Five beams: how much of each thing is tied together, its interval, its last weeks, and since when. */
const props = defineProps<{ coverage: Schemas['CoverageOut']; opened?: string }>()
const emit = defineEmits<{ open: [figure: string] }>()
type Share = Schemas['CoverageShare']

const WIDE = 200
const WEEKS = 13
const of = (share: Share) => (share.whole > 0 ? share.part / share.whole : 0)
const amount = (share: Share, value: number) =>
  share.low === null && ['value_credited', 'spend_matched'].includes(share.figure)
    ? moneyWithUnit(value, props.coverage.minor_digits, props.coverage.currency)
    : count(value)
const percent = (share: number) => `${(100 * share).toFixed(1)} %`
const beams = computed(() =>
  Object.keys(COVERAGE).flatMap((figure) => {
    const mine = props.coverage.shares.filter((share) => share.figure === figure)
    const whole = mine.find((share) => !share.by)
    if (!whole) return []
    const weeks = mine.filter((share) => share.by === 'week').slice(-WEEKS)
    return [{ figure, whole, weeks }]
  }),
)
const says = (share: Share) => {
  if (!share.whole) return 'nothing on these days'
  const bracket =
    share.low === null ? '' : `, ${percent(share.low)} to ${percent(share.high!)} with 90 % certainty`
  const since = share.since ? `, since ${share.since}` : ''
  return `${percent(of(share))}: ${amount(share, share.part)} of ${amount(share, share.whole)}${bracket}${since}`
}
</script>

<template>
  <ul class="beams" aria-label="Coverage">
    <li v-for="beam in beams" :key="beam.figure">
      <button
        type="button"
        class="plain"
        :aria-expanded="opened === beam.figure"
        :title="says(beam.whole)"
        @click="emit('open', beam.figure)"
      >
        <span class="name">{{ COVERAGE[beam.figure]!.name }}</span>
        <span class="share">{{ beam.whole.whole ? percent(of(beam.whole)) : '–' }}</span>
        <svg :viewBox="`0 0 ${WIDE} 34`" role="img" :aria-label="says(beam.whole)">
          <rect x="0" y="1" :width="WIDE" height="8" class="empty" />
          <rect x="0" y="1" :width="WIDE * of(beam.whole)" height="8" class="full" />
          <path
            v-if="beam.whole.low !== null"
            :d="`M${WIDE * beam.whole.low} 0 v10 M${WIDE * beam.whole.low} 10 H${WIDE * beam.whole.high!} M${WIDE * beam.whole.high!} 0 v10`"
            class="bracket"
          />
          <rect
            v-for="(week, at) in beam.weeks"
            :key="week.value"
            :x="at * 15"
            :y="33 - 18 * of(week)"
            width="11"
            :height="18 * of(week)"
            class="week"
          />
          <line x1="0" x2="193" y1="33.5" y2="33.5" class="ground" />
        </svg>
        <span class="since quiet">{{ beam.whole.since ? `since ${beam.whole.since}` : '\u00a0' }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.beams {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 225px));
  gap: 4px 10px;
  justify-content: space-between;
  list-style: none;
  margin: 8px 0;
  padding: 0;
}

@media (width < 1000px) {
  .beams {
    grid-template-columns: repeat(auto-fill, minmax(160px, 1fr));
  }
}

button {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 6px;
  width: 100%;
  text-align: left;
  padding: 2px 4px;
}

button[aria-expanded='true'] {
  outline: 1px solid var(--accent);
}

svg {
  grid-column: 1 / -1;
  width: 100%;
  display: block;
}

.since {
  grid-column: 1 / -1;
  font-size: 12px;
}

.empty {
  fill: none;
  stroke: var(--line-strong, var(--unsure));
}

.full,
.week {
  fill: var(--ink);
}

.week {
  opacity: 0.55;
}

.bracket {
  fill: none;
  stroke: var(--accent);
  stroke-width: 1.5;
}

.ground {
  stroke: var(--line);
}
</style>
