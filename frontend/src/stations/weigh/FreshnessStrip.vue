<script setup lang="ts">
import { computed } from 'vue'
import type { Board } from '../../api/client'

const props = defineProps<{ board: Board }>()
const sources = computed(() => props.board.sources.filter((s) => s.last_day))

function about(source: Board['sources'][number]): string {
  const parts = [`last day ${source.last_day}`]
  if (source.partial) parts.push('that day is not over yet in its zone')
  if (source.missing.length) parts.push(`no rows on ${source.missing.join(', ')}: missing, not zero`)
  if (source.other_zone)
    parts.push(`its days are those of ${source.zone}, the report's those of ${props.board.time_zone}`)
  return parts.join('; ')
}
</script>

<template>
  <ul class="strip" aria-label="Freshness">
    <li v-for="source in sources" :key="source.name" :title="about(source)">
      {{ source.name }} <b>{{ source.last_day }}</b>
      <span v-if="source.partial" class="note">◐ not over</span>
      <span v-if="source.missing.length" class="note bad"
        >▲ {{ source.missing.length }} {{ source.missing.length === 1 ? 'day' : 'days' }} missing</span
      >
      <span v-if="source.other_zone" class="note">⊕ {{ source.zone }}</span>
    </li>
  </ul>
</template>

<style scoped>
.strip {
  list-style: none;
  padding: 3px 0;
  margin: 0 0 4px;
  display: flex;
  flex-wrap: wrap;
  gap: 1px 18px;
  font-size: 13px;
  border-block: 1px solid var(--line);
}

b {
  font-weight: 600;
}

.note {
  margin-left: 6px;
  color: var(--unsure);
}

.bad {
  color: var(--loses);
}
</style>
