<script setup lang="ts">
import { computed } from 'vue'
import { maskedText } from '../../shared/masked'
import { usePlan, type Rec } from '../plan/queries'
import type { SectionName } from '../plan/sections'
import type { useByHand } from '../plan/useByHand'

/** What the plan holds to mend what came, the latest first; each is taken back by itself, in any order, on trial. */
const props = defineProps<{ byHand: ReturnType<typeof useByHand> }>()
const { busy } = props.byHand
const plan = usePlan()
const MOST = 40
const since = (one: Rec) =>
  [one.from ? ` from ${one.from as string}` : '', one.until ? ` until ${one.until as string}` : ''].join('')
/** The page that a legend reads, if it is one of untagged arrivals. */
function pageOf(one: Rec): string | undefined {
  const when = (one.when ?? []) as { field: string; op: string; value?: unknown }[]
  const page = when.find((condition) => condition.field === 'landing_page')
  return page && when.some((condition) => condition.op === 'is empty') ? String(page.value) : undefined
}
const WORDS: readonly [SectionName, (one: Rec) => string | undefined][] = [
  ['rename', (one) => `${one.field as string} ${one.old as string} is ${one.new as string}${since(one)}`],
  [
    'legend',
    (one) => {
      const fixed = (one.fixed ?? {}) as Record<string, string>
      const page = pageOf(one)
      return (
        page &&
        `untagged on ${page} is ${[fixed.source, fixed.campaign].filter(Boolean).join(', ')}${since(one)}`
      )
    },
  ],
  [
    'record',
    (one) =>
      `${one.table as string} ${one.id as string} ${one.state === 'counted' ? 'counts' : 'is taken out'}`,
  ],
  [
    'separate',
    (one) => `${maskedText(one.first as string)} is not ${maskedText(one.second as string)}${since(one)}`,
  ],
  ['status', (one) => `status ${one.word as string} ${one.means as string}`],
]
const mended = computed(() =>
  WORDS.flatMap(([section, words]) =>
    ((plan.data.value?.sections[section] ?? []) as Rec[])
      .flatMap((record) => {
        const said = words(record)
        return said ? [{ section, record, words: said }] : []
      })
      .reverse(),
  ),
)
</script>

<template>
  <details v-if="mended.length" class="no-print">
    <summary>{{ mended.length }} {{ mended.length === 1 ? 'mending' : 'mendings' }} in the plan</summary>
    <ul>
      <li v-for="one in mended.slice(0, MOST)" :key="`${one.section} ${one.words}`">
        {{ one.words }}
        <button
          type="button"
          class="plain link"
          :disabled="busy"
          :aria-label="`Take back: ${one.words}`"
          @click="byHand.withdraw(one.section, one.record, one.words)"
        >
          Take back
        </button>
      </li>
    </ul>
    <p v-if="mended.length > MOST" class="quiet">{{ mended.length - MOST }} more are in Plan.</p>
  </details>
</template>

<style scoped>
details {
  margin: 12px 0;
}

ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}

li button {
  min-height: 24px;
  margin-left: 8px;
}
</style>
