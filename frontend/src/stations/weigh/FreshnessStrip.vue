<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Board } from '../../api/client'

/** How far the data reach: one line, the late sources by name; opened, every source with what is to be known of it. */
const props = defineProps<{ board: Board }>()
type Source = Board['sources'][number] & { last_day: string }
const sources = computed(() =>
  props.board.sources.flatMap((s) => (s.last_day ? [{ ...s, last_day: s.last_day }] : [])),
)
const newest = computed(() => sources.value.reduce((last, s) => (s.last_day > last ? s.last_day : last), ''))
const DAY = 86_400_000
const behind = (s: Source) => (Date.parse(newest.value) - Date.parse(s.last_day)) / DAY

const days = (n: number) => `${n} ${n === 1 ? 'day' : 'days'}`
/** Late, or with days that are missing. */
const late = computed(() =>
  sources.value
    .filter((s) => s.missing.length || behind(s) > 1)
    .map((s) => ({
      name: s.name,
      words: [
        ...(behind(s) > 1 ? [`to ${s.last_day}, ${days(behind(s))} behind`] : []),
        ...(s.missing.length ? [`${days(s.missing.length)} missing`] : []),
      ].join(', '),
      about: about(s),
    })),
)
/** All others, and the day that every one of them reaches. */
const rest = computed(() => sources.value.filter((s) => !s.missing.length && behind(s) <= 1))
const reach = computed(() =>
  rest.value.reduce((day, s) => (s.last_day < day ? s.last_day : day), newest.value),
)
const open = ref(false)

function about(source: Source): string {
  const parts = [`last day ${source.last_day}`]
  if (source.partial) parts.push('that day is not over yet in its zone')
  if (source.missing.length) parts.push(`no rows on ${source.missing.join(', ')}: missing, not zero`)
  if (source.other_zone)
    parts.push(`its days are those of ${source.zone}, the report's those of ${props.board.time_zone}`)
  return parts.join('; ')
}
</script>

<template>
  <section class="freshness" aria-label="Freshness">
    <p class="line">
      <span v-for="s in late" :key="s.name" class="late" :data-says="`${s.name}: ${s.about}`"
        ><b>{{ s.name }}</b> {{ s.words }}</span
      >
      <button
        v-if="sources.length"
        type="button"
        class="plain link"
        :aria-expanded="open"
        data-says="Every source with its last day. Enter: open or close"
        @click="open = !open"
      >
        <template v-if="rest.length"
          >{{ rest.length }} {{ late.length ? 'more' : rest.length === 1 ? 'source' : 'sources' }} to
          {{ reach }}</template
        ><template v-else>all sources</template>
      </button>
      <slot />
    </p>
    <ul v-if="open" class="strip">
      <li v-for="source in sources" :key="source.name" :title="about(source)">
        {{ source.name }} <b>{{ source.last_day }}</b>
        <span v-if="source.partial" class="note">not over</span>
        <span v-if="source.missing.length" class="note bad">{{ days(source.missing.length) }} missing</span>
        <span v-if="source.other_zone" class="note">days of {{ source.zone }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.freshness {
  font-size: 13px;
}

.line {
  display: flex;
  gap: 18px;
  height: 20px;
  line-height: 20px;
  margin: 0;
  overflow: hidden;
  white-space: nowrap;
}

.late {
  color: var(--loses);
}

.strip {
  list-style: none;
  padding: 3px 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 1px 18px;
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

@media print {
  .line {
    height: auto;
    flex-wrap: wrap;
  }
}
</style>
