<script setup lang="ts">
import { computed, ref } from 'vue'
import { glyph } from './glyphs'
import { place, stacks, type Scale } from './scale'

const props = defineProps<{
  scale: Scale
  /** Value per yardstick, in the order of the panel. */
  values: { name: string; label: string; value: number }[]
  chosen: string
  notch: number | null
  target: number | null
  /** The 90 % interval of the chosen yardstick. */
  bracket: { low: number; high: number; label: string } | null
  /** Where the chosen one stood in the time before. */
  before?: number | null
  /** In how many of 400 redraws of the people it pays and loses; null where nothing is said. */
  cap?: { pays: number | null; loses: number | null; label: string } | null
}>()

const HEIGHT = 24
const MIDDLE = HEIGHT / 2

/** The cap left of zero: 400 redraws as its length. */
const CAP = { x: -13, top: 2, width: 6, height: 20 }
const paying = computed(() => ((props.cap?.pays ?? 0) / 400) * CAP.height)
const losing = computed(() => ((props.cap?.loses ?? 0) / 400) * CAP.height)
/** Rungs where neither is so under every yardstick, as one stroke: hundreds of rows have them. */
const rungs = computed(() => {
  const from = CAP.top + losing.value
  const to = CAP.top + CAP.height - paying.value
  const number = Math.max(0, Math.floor((to - from) / 3))
  return Array.from({ length: number }, (_, i) => `M${CAP.x},${from + 1.5 + 3 * i} h${CAP.width}`).join(' ')
})

const pointed = ref<number>()
/** The tick nearest to the pointer, if it is on one. */
function point(event: PointerEvent) {
  const x = event.clientX - (event.currentTarget as Element).getBoundingClientRect().left
  const far = (t: { x: number }) => Math.abs(t.x - x)
  const near = ticks.value.filter((t) => far(t) <= 4).sort((a, b) => far(a) - far(b))[0]
  pointed.value = near?.x
}
const names = computed(() => props.values.map((v) => v.name))
const ticks = computed(() => props.values.map((item) => ({ item, ...place(props.scale, item.value) })))
/** The chosen one is drawn in full; of the others those that would lie on each other are one stroke, with their number. */
const others = computed(() => stacks(ticks.value.filter((t) => t.item.name !== props.chosen)))
const main = computed(() => ticks.value.find((t) => t.item.name === props.chosen))
const span = computed(() => {
  const at = ticks.value.map((t) => t.x)
  return [Math.min(...at), Math.max(...at)] as const
})
/** What lies under the pointer: one with its figures, several by their names. */
const label = computed(() => {
  if (pointed.value === undefined) return undefined
  const near = ticks.value.filter((t) => Math.abs(t.x - pointed.value!) < 6)
  const said = near.map((t) => (near.length > 1 ? t.item.label.split(':')[0] : t.item.label))
  return { x: pointed.value, text: said.join(', ') }
})
const summary = computed(() =>
  [...props.values.map((v) => v.label), props.bracket?.label, props.cap?.label].filter(Boolean).join('; '),
)
/** A stroke from bound to bound with an upright at each end that is not beyond the edge. */
const bracket = computed(() => {
  if (!props.bracket) return ''
  const [low, high] = [place(props.scale, props.bracket.low), place(props.scale, props.bracket.high)]
  const upright = (at: { x: number; beyond: boolean }) => (at.beyond ? '' : `M${at.x},${MIDDLE + 4} v6`)
  return `M${low.x},${MIDDLE + 7} H${high.x} ${upright(low)} ${upright(high)}`
})
</script>

<template>
  <svg
    class="ruler-drawing"
    :width="scale.width"
    :height="HEIGHT"
    :viewBox="`0 0 ${scale.width} ${HEIGHT}`"
    preserveAspectRatio="none"
    role="img"
    :aria-label="summary"
    @pointermove="point"
    @pointerleave="pointed = undefined"
  >
    <g v-if="cap" class="cap">
      <title>{{ cap.label }}</title>
      <template v-if="cap.pays !== null">
        <rect :x="CAP.x" :y="CAP.top" :width="CAP.width" :height="losing" class="losing" />
        <rect
          :x="CAP.x"
          :y="CAP.top + CAP.height - paying"
          :width="CAP.width"
          :height="paying"
          class="paying"
        />
        <path v-if="rungs" :d="rungs" class="rung" />
      </template>
      <line v-else :x1="CAP.x + 3" :x2="CAP.x + 3" :y1="CAP.top" :y2="CAP.top + CAP.height" class="rung" />
    </g>
    <line :x1="0" :x2="scale.width" :y1="MIDDLE" :y2="MIDDLE" class="base" />
    <line
      v-if="notch !== null"
      :x1="place(scale, notch).x"
      :x2="place(scale, notch).x"
      y1="1"
      :y2="HEIGHT - 1"
      class="notch"
    />
    <line
      v-if="target !== null"
      :x1="place(scale, target).x"
      :x2="place(scale, target).x"
      y1="3"
      :y2="HEIGHT - 3"
      class="target"
    />
    <line :x1="span[0]" :x2="span[1]" :y1="MIDDLE" :y2="MIDDLE" class="span" />
    <path v-if="bracket" :d="bracket" class="bracket">
      <title>{{ props.bracket!.label }}</title>
    </path>
    <g v-for="stack in others" :key="stack.x" :transform="`translate(${stack.x},${MIDDLE})`" class="tick">
      <path v-if="stack.items.length === 1" :d="glyph(stack.items[0]!.name, names)" transform="scale(0.8)" />
      <template v-else>
        <path d="M0,-9 V9" class="stack" />
        <text x="3" y="-3" class="many">{{ stack.items.length }}</text>
      </template>
    </g>
    <g v-if="main && before !== null && before !== undefined" class="before">
      <line :x1="main.x" :x2="place(scale, before).x" :y1="4" :y2="4" />
      <rect :x="place(scale, before).x - 2" y="1" width="4" height="6" />
    </g>
    <g v-if="main" :transform="`translate(${main.x},${MIDDLE})`" class="chosen">
      <path :d="glyph(main.item.name, names)" transform="scale(1.25)" />
    </g>
    <text v-if="ticks.some((t) => t.beyond)" :x="scale.width + 5" :y="MIDDLE + 5" class="beyond">›</text>
    <text
      v-if="label"
      :x="label.x > scale.width / 2 ? label.x - 9 : label.x + 9"
      :y="MIDDLE + 4"
      :text-anchor="label.x > scale.width / 2 ? 'end' : 'start'"
      class="named"
    >
      {{ label.text }}
    </text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  overflow: visible;
}

.base {
  stroke: var(--line);
}

.paying {
  fill: var(--ink);
}

.losing {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
}

.rung {
  stroke: var(--unsure);
  stroke-width: 1;
}

.notch {
  stroke: var(--ink);
  stroke-width: 2;
}

.target {
  stroke: var(--ink);
  stroke-width: 1;
  stroke-dasharray: 2 2;
}

.span {
  stroke: var(--unsure);
  stroke-width: 1.5;
}

.before line,
.before rect {
  stroke: var(--unsure);
  stroke-width: 1;
  fill: var(--paper);
}

.bracket {
  stroke: var(--accent);
  stroke-width: 1.5;
  fill: none;
}

.tick path {
  stroke: var(--unsure);
  stroke-width: 1.5;
  fill: var(--paper);
}

.chosen path {
  stroke: var(--accent);
  stroke-width: 2;
  fill: var(--accent);
}

.tick .stack {
  stroke: var(--ink);
  stroke-width: 2;
}

.many {
  font-size: 11px;
  font-weight: 650;
  fill: var(--ink);
}

.beyond {
  fill: var(--ink);
  font-weight: 700;
  font-size: 14px;
}

.named {
  font-size: 13px;
  font-weight: 600;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 5px;
  pointer-events: none;
}
</style>
