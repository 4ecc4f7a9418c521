<script setup lang="ts">
import { computed } from 'vue'
import { count } from '../../shared/format'

/** Arrivals of the last 13 weeks, an upright each: as high as its share of the highest, a dot where none came. */
const props = defineProps<{ weeks: readonly number[] }>()

const STEP = 10
const HIGH = 12
const most = computed(() => Math.max(...props.weeks, 1))
const heights = computed(() =>
  props.weeks.map((n) => (n ? Math.max(3, Math.round((HIGH * n) / most.value)) : 0)),
)
const said = computed(() => {
  const last = props.weeks.at(-1) ?? 0
  const all = props.weeks.reduce((a, b) => a + b, 0)
  return all
    ? `${count(all)} arrivals in 13 weeks, ${count(last)} in the last, ${count(most.value)} in the best`
    : 'no arrival in 13 weeks'
})
</script>

<template>
  <svg :width="13 * STEP" height="16" role="img" :aria-label="said">
    <line
      v-for="(height, i) in heights"
      :key="i"
      :x1="i * STEP + 4.5"
      :x2="i * STEP + 4.5"
      :y1="14 - (height || 1)"
      y2="14"
      :class="{ none: !height }"
    />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}

line {
  stroke: var(--ink);
  stroke-width: 2;
}

.none {
  stroke: var(--unsure);
}
</style>
