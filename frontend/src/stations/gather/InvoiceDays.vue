<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { moneyOf } from './reading'

const props = defineProps<{ days: Schemas['DayOfInvoice'][]; currency: string }>()

const WIDE = 22
const HIGH = 84
const top = computed(() => Math.max(1, ...props.days.map((d) => Number(d.amount))))
const high = (amount: string) => Math.max(0, (Number(amount) / top.value) * HIGH)
const said = (d: Schemas['DayOfInvoice']) =>
  d.missing
    ? `${d.day}: no rows`
    : `${d.day}: ${moneyOf([{ currency: props.currency, amount: d.amount }], props.currency)}, of which ${moneyOf([{ currency: props.currency, amount: d.met }], props.currency)} met touches`
</script>

<template>
  <svg
    class="days"
    :viewBox="`0 0 ${days.length * WIDE + 4} ${HIGH + 34}`"
    role="list"
    aria-label="Days of the month: full where spend met touches, hollow where it met none"
  >
    <line :x1="0" :x2="days.length * WIDE" :y1="HIGH + 8" :y2="HIGH + 8" class="base" />
    <g v-for="(d, i) in days" :key="d.day" role="listitem" :aria-label="said(d)">
      <title>{{ said(d) }}</title>
      <rect :x="i * WIDE" :y="0" :width="WIDE" :height="HIGH + 30" class="ground" />
      <rect
        v-if="Number(d.amount) > 0"
        :x="i * WIDE + 4.5"
        :y="HIGH + 8 - high(d.amount)"
        :width="WIDE - 9"
        :height="high(d.amount)"
        class="all"
      />
      <rect
        v-if="Number(d.met) > 0"
        :x="i * WIDE + 4.5"
        :y="HIGH + 8 - high(d.met)"
        :width="WIDE - 9"
        :height="high(d.met)"
        class="met"
      />
      <text v-if="d.missing" :x="i * WIDE + WIDE / 2" :y="HIGH + 4" class="gap">×</text>
      <text v-if="i % 2 === 0" :x="i * WIDE + WIDE / 2" :y="HIGH + 24" class="day">
        {{ Number(d.day.slice(8)) }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.days {
  width: 100%;
  max-width: 690px;
  display: block;
}

.base {
  stroke: var(--ink);
}

.ground {
  fill: transparent;
}

.all {
  fill: var(--sheet);
  stroke: var(--ink);
}

.met {
  fill: var(--ink);
}

.gap {
  fill: var(--loses);
  text-anchor: middle;
  font-size: 16px;
}

.day {
  fill: var(--unsure);
  text-anchor: middle;
  font-size: 11px;
}
</style>
