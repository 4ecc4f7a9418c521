<script setup lang="ts">
import type { Problem, Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import PlacedLine from './PlacedLine.vue'
import VisitReport from './VisitReport.vue'
import type { Line } from './placed'

/** Heads of groups and links under them, as they follow each other. */
defineProps<{
  lines: Line[]
  closed: Set<string>
  /** The link that was visited last, and what came of it. */
  visited?: string
  visit?: Schemas['Visit']
  failed?: Problem | null
}>()
defineEmits<{ toggle: [fault: string]; test: [link: Schemas['PlacedLink']] }>()
</script>

<template>
  <template v-for="line in lines" :key="'link' in line ? line.link.key : line.head">
    <tr v-if="'head' in line" class="fault">
      <th colspan="9" scope="rowgroup">
        <button
          v-if="line.fault"
          type="button"
          class="plain"
          :aria-expanded="!closed.has(line.fault)"
          @click="$emit('toggle', line.fault)"
        >
          {{ closed.has(line.fault) ? '›' : '⌄' }} {{ line.head }}
        </button>
        <template v-else>{{ line.head }}</template>
      </th>
    </tr>
    <template v-else>
      <PlacedLine :link="line.link" @test="$emit('test', line.link)" />
      <tr v-if="visited === line.link.key && (visit || failed)" class="visit">
        <td colspan="9">
          <ProblemNote :error="failed" />
          <VisitReport v-if="visit" :visit="visit">
            <p v-if="line.link.visits && !line.link.deviations.length">
              {{ line.link.verdict }}: a test that fails, here or on the platform, is a false alarm.
            </p>
          </VisitReport>
        </td>
      </tr>
    </template>
  </template>
</template>

<style scoped>
.fault th {
  font-weight: 650;
  padding-top: 8px;
  border-bottom: 1px solid var(--ink);
}

.fault button {
  font-weight: 650;
}

.visit > td {
  background: var(--sheet);
  padding: 6px 12px;
}
</style>
