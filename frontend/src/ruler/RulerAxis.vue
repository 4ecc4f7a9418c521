<script setup lang="ts">
import { computed } from 'vue'
import { axisTicks, place, type Scale } from './scale'

const props = defineProps<{
  scale: Scale
  notch: number | null
  notchLabel: string
  show: (value: number) => string
}>()
const notchAt = computed(() => (props.notch === null ? null : place(props.scale, props.notch).x))
const ticks = computed(() =>
  axisTicks(props.scale)
    .map((value) => ({ value, x: place(props.scale, value).x }))
    .filter((t) => notchAt.value === null || Math.abs(t.x - notchAt.value) > 34),
)
</script>

<template>
  <svg
    class="ruler-drawing"
    :width="scale.width"
    height="27"
    :viewBox="`0 1 ${scale.width} 27`"
    preserveAspectRatio="none"
    aria-hidden="true"
  >
    <g v-for="tick in ticks" :key="tick.value" :transform="`translate(${tick.x},0)`">
      <line y1="23" y2="28" class="mark" />
      <text y="20" :text-anchor="tick.x < 10 ? 'start' : 'middle'">{{ show(tick.value) }}</text>
    </g>
    <g v-if="notch !== null && notchAt !== null" :transform="`translate(${notchAt},0)`">
      <line y1="22" y2="28" class="notch" />
      <text y="8" text-anchor="middle" class="even">{{ notchLabel }}</text>
      <text y="20" text-anchor="middle" class="even">{{ show(notch) }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  overflow: visible;
}

text {
  font-size: 12px;
  font-weight: 400;
  fill: var(--unsure);
}

.even {
  fill: var(--ink);
  font-weight: 600;
}

.mark {
  stroke: var(--unsure);
}

.notch {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
