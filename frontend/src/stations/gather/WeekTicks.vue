<script setup lang="ts">
import { computed } from 'vue'

/** Days with rows as a line, broken where days lack, with an upright at each Monday. */
const props = defineProps<{ days: string; missing: number }>()

const DAY = 260 / 91
/** Stretches of days with rows: first and length. */
const stretches = computed(() => [...props.days.matchAll(/x+/g)].map((m) => [m.index, m[0].length] as const))
const weeks = computed(() => [...props.days.matchAll(/[x. ]{7}/g)].map((m) => [m.index, m[0]] as const))
const said = computed(() => {
  const there = props.days.split('x').length - 1
  if (!there) return 'no rows yet'
  return `rows on ${there} days of the last 13 weeks; ${props.missing} missing`
})
</script>

<template>
  <svg width="260" height="16" role="img" :aria-label="said">
    <title>{{ said }}</title>
    <line
      v-for="[at, week] in weeks"
      :key="`week ${at}`"
      :x1="at * DAY + 0.5"
      :x2="at * DAY + 0.5"
      :y1="week.includes('x') ? 3 : 8"
      y2="12"
      class="tick"
    />
    <line
      v-for="[at, length] in stretches"
      :key="at"
      :x1="at * DAY"
      :x2="(at + length) * DAY"
      y1="11"
      y2="11"
      class="days"
    />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}

.tick {
  stroke: var(--unsure);
  stroke-width: 1;
}

.days {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
