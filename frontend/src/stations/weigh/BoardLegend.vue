<script setup lang="ts">
import type { Board, Certainty } from '../../api/client'
import { glyph } from '../../ruler/glyphs'
import { yardstickName } from '../../shared/format'
import { computed } from 'vue'
import { rulerUnit, type Measure } from './rows'

/** The shapes of the yardsticks, each taken off the ruler or drawn on it, and what the ruler shows. */
const props = defineProps<{
  board: Board
  certainty?: Certainty
  panel: string[]
  measure: Measure
  perSpend: boolean
}>()
const emit = defineEmits<{ panel: [names: string[]] }>()

/** Yardsticks that have intervals; those that credit states have none. */
const intervals = computed(
  () => props.certainty?.rows.find((r) => Object.keys(r.intervals).length)?.intervals ?? {},
)

function toggle(name: string) {
  const rest = props.panel.filter((other) => other !== name && other !== props.board.yardstick)
  emit('panel', props.panel.includes(name) ? [...rest, props.board.yardstick] : [...props.panel, name])
}
</script>

<template>
  <p class="legend" aria-label="Shapes of the yardsticks">
    <button
      v-for="name in board.yardsticks"
      :key="name"
      type="button"
      class="plain"
      :class="{ chosen: name === board.yardstick, out: !panel.includes(name) }"
      :aria-pressed="panel.includes(name)"
      :disabled="name === board.yardstick"
      :title="panel.includes(name) ? 'Take it off the ruler' : 'Draw it on the ruler'"
      @click="toggle(name)"
    >
      <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden="true">
        <path :d="glyph(name, board.yardsticks)" />
      </svg>
      {{ yardstickName(name) }}
    </button>
    <span class="quiet">
      Ruler: {{ rulerUnit(board, measure, perSpend) }}; the thick notch is break-even<template
        v-if="board.target_roas !== null"
        >, the dashed one the target</template
      ><template v-if="board.judged"
        >; the bracket is the 90 % interval of the chosen yardstick{{
          board.yardstick in intervals ? '' : ', which has none'
        }}</template
      >; › lies beyond the edge
    </span>
  </p>
</template>

<style scoped>
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin: 5px 0 0;
  font-size: 13px;
}

@media (max-width: 1150px) {
  .legend button {
    min-height: 24px;
  }
}

.legend svg {
  vertical-align: -2px;
}

.legend path {
  stroke: var(--unsure);
  stroke-width: 1.5;
  fill: none;
}

.legend .out {
  color: var(--unsure);
}

.legend .out::before {
  content: '+ ';
}

.legend .chosen {
  font-weight: 650;
}

.legend .chosen path {
  stroke: var(--accent);
  fill: var(--accent);
}
</style>
