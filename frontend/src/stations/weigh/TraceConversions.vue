<script setup lang="ts">
import { useRoute } from 'vue-router'
import type { Schemas, Trace } from '../../api/client'
import { instant, money, share } from '../../shared/format'
import FileLine from './FileLine.vue'
import MovingTable from '../../shared/MovingTable.vue'

const props = defineProps<{ trace: Trace; by: string }>()

const at = (iso: string) => instant(iso, props.trace.time_zone)
const amount = (minor: number) => money(minor, props.trace.minor_digits)

const route = useRoute()
/** The page of a record, asked as the board is. */
const pageOf = (c: Schemas['TracedConversion']) => ({
  name: 'record',
  query: { ...route.query, trace: undefined, table: c.table, id: c.id },
})

function touchName(touch: Schemas['TracedTouch']): string {
  return touch.campaign || `${touch.tagged ? 'no campaign' : 'untagged'} · ${touch.channel}`
}
function touchKind(touch: Schemas['TracedTouch']): string {
  if (touch.captured) return 'captured by the form'
  return touch.kind === 'click' ? '' : touch.kind
}
</script>

<template>
  <section aria-label="Conversions">
    <h3>
      Conversions and their trails <span class="quiet">times in {{ trace.time_zone }}</span>
    </h3>
    <MovingTable>
      <thead>
        <tr>
          <th>Conversion and touches</th>
          <th class="when">When</th>
          <th class="number share">Share</th>
          <th class="number worth">{{ trace.currency }}</th>
          <th class="file">File, line</th>
        </tr>
      </thead>
      <tbody v-for="c in trace.conversions" :key="`${c.table} ${c.id}`">
        <tr class="conversion">
          <td>
            <RouterLink v-if="c.id" class="link" :to="pageOf(c)">{{ c.goal }} {{ c.id }}</RouterLink>
            <template v-else>{{ c.goal }}</template><span v-if="c.good" class="quiet"> good</span>
          </td>
          <td>{{ at(c.at) }}</td>
          <td class="number">{{ share(c.share_here) }}</td>
          <td class="number">
            {{ amount(c.value_here)
            }}<span v-if="c.value_here !== c.value" class="quiet"> of {{ amount(c.value) }}</span>
          </td>
          <td><FileLine :file="c.file" :line="c.line" /></td>
        </tr>
        <tr v-for="(touch, i) in c.touches" :key="i" :class="{ here: touch.here }" class="touch">
          <td>
            <span class="dot" aria-hidden="true">{{ touch.here ? '◆' : '◇' }}</span>
            <span :title="touch.why">{{ touchName(touch) }}</span>
            {{ ' '
            }}<span class="quiet">
              {{ [touch.source, touch.medium].filter(Boolean).join(' / ') }} {{ touchKind(touch) }}</span
            >
          </td>
          <td>{{ at(touch.at) }}</td>
          <td class="number">{{ touch.share ? share(touch.share) : '–' }}</td>
          <td class="number">{{ touch.share ? amount(touch.value) : '–' }}</td>
          <td><FileLine :file="touch.file" :line="touch.line" /></td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
h3 {
  font-size: 14px;
  font-weight: 650;
  margin: 0 0 2px;
}

h3 .quiet {
  font-weight: 400;
}

td {
  vertical-align: top;
}

td:nth-child(2) {
  white-space: nowrap;
}

td .quiet,
.dot {
  margin: 0 4px;
}

.conversion td {
  font-weight: 600;
  padding-top: 5px;
}

.conversion .quiet {
  font-weight: 400;
}

.touch td:first-child {
  padding-left: 18px;
}

.touch td {
  color: var(--unsure);
  border-bottom-style: dotted;
}

.touch.here td {
  color: var(--ink);
}

.when {
  width: 116px;
}

.share {
  width: 58px;
}

.worth {
  width: 132px;
}

.file {
  width: 104px;
}

.from {
  font-size: 13px;
  white-space: nowrap;
}
</style>
