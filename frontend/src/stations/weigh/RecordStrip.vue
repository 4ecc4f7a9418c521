<script setup lang="ts">
import { computed } from 'vue'
import { instant } from '../../shared/format'
import { places, touchWords, withoutWords, type Mark, type RecordOut } from './recordWords'

/** A record in time: touches as beads on a thread, itself an upright, statuses as notches, refunds hanging. */
const props = defineProps<{ record: RecordOut }>()
const WIDTH = 1164
const day = (iso: string) => Date.parse(iso) / 86_400_000
const when = (iso: string) => instant(iso, props.record.time_zone)

const marks = computed(() => {
  const out: Mark[] = props.record.touches.map((touch) => ({
    at: day(touch.at),
    kind: touch.without ? 'out' : 'touch',
    says: `${when(touch.at)}, ${touchWords(touch)}${touch.without ? `: ${withoutWords(touch, props.record)}` : ''}`,
  }))
  const { goal, id } = props.record
  out.push({ at: day(props.record.at), kind: 'record', says: `${when(props.record.at)}, ${goal} ${id}` })
  for (const row of props.record.rows) {
    if (!row.at) continue
    const said = Object.values(row.said).join(', ')
    const kind = row.table === 'refunds' ? 'refund' : 'status'
    out.push({ at: day(row.at), kind, says: `${when(row.at)}, ${row.table}: ${said}` })
  }
  return out.sort((a, b) => a.at - b.at)
})
const drawn = computed(() => places(marks.value, WIDTH))
const described = computed(() => marks.value.map((mark) => mark.says).join('; '))
</script>

<template>
  <svg class="strip" :viewBox="`0 0 ${WIDTH} 76`" role="img" :aria-label="`In time: ${described}`">
    <line class="thread" x1="0" :x2="WIDTH" y1="38" y2="38" />
    <g v-for="fold in drawn.folds" :key="fold" class="fold">
      <line :x1="fold - 3" :x2="fold - 1" y1="44" y2="32" />
      <line :x1="fold + 1" :x2="fold + 3" y1="44" y2="32" />
    </g>
    <text v-if="marks.length > 1" x="0" y="72">
      {{ when(props.record.touches[0]?.at ?? record.at).slice(0, 10) }}
    </text>
    <g v-for="(mark, i) in marks" :key="i" :class="mark.kind">
      <title>{{ mark.says }}</title>
      <circle v-if="mark.kind === 'touch' || mark.kind === 'out'" :cx="drawn.x[i]" cy="38" r="5" />
      <line v-else-if="mark.kind === 'record'" :x1="drawn.x[i]" :x2="drawn.x[i]" y1="6" y2="60" />
      <line v-else-if="mark.kind === 'status'" :x1="drawn.x[i]" :x2="drawn.x[i]" y1="46" y2="56" />
      <path v-else :d="`M${drawn.x[i]} 38 v22 l-4 8 h8 l-4 -8`" />
    </g>
  </svg>
</template>

<style scoped>
.strip {
  width: 100%;
  height: 76px;
}

line,
path {
  stroke: var(--ink);
  stroke-width: 2;
  fill: none;
}

.thread,
.fold line {
  stroke: var(--line);
  stroke-width: 1.5;
}

.fold line {
  stroke: var(--ink);
}

text {
  font-size: 12px;
  fill: var(--unsure);
}

circle {
  fill: var(--ink);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.out circle {
  fill: var(--paper);
}

.record line {
  stroke: var(--accent);
  stroke-width: 3;
}
</style>
