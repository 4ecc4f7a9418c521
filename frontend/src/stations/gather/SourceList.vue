<script setup lang="ts">
import { computed, ref, toRef } from 'vue'
import type { Load } from '../../api/client'
import { SOURCE_STATE_WORDS } from '../../api/declared'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import type { Plan } from '../plan/queries'
import RecordForm from '../plan/RecordForm.vue'
import { SOURCES } from '../plan/sections'
import { useRecords } from '../plan/useRecords'
import LoadTable from './LoadTable.vue'
import WeekTicks from './WeekTicks.vue'
import { moneyOf, type SourceNow } from './reading'

const props = defineProps<{
  sources: SourceNow[]
  loads: Load[]
  home: string
  plan: Plan
}>()

const { change, open, edit, close, keep, remove, records } = useRecords(
  toRef(props, 'plan'),
  computed(() => SOURCES),
)
const opened = ref('')
const keyOf = (source: SourceNow) => `${source.name} ${source.table}`
const toggle = (source: SourceNow) => (opened.value = opened.value === keyOf(source) ? '' : keyOf(source))
const loadsOf = (source: SourceNow) => props.loads.filter((load) => source.loads.includes(load.id))
const place = (source: SourceNow) => records.value.findIndex((r) => r.name === source.name)
const calledOf = (source: SourceNow) => source.name || source.file || source.table.replaceAll('_', ' ')
/** The last day and how late it is, in words. */
function lateOf(source: SourceNow): string {
  if (!source.last_day) return source.rows ? 'no days' : SOURCE_STATE_WORDS[source.state ?? 'none_yet']
  const late = source.late_days
    ? `quiet since ${source.last_day}, ${source.late_days} ${source.late_days === 1 ? 'day' : 'days'} late`
    : source.state === 'ended'
      ? `ended ${source.last_day}`
      : source.last_day
  return source.partial ? `${late}, not over` : late
}
</script>

<template>
  <section v-if="sources.length" aria-label="Sources" class="sources">
    <header class="titled">
      <h2>Sources</h2>
      <ExportControl :tables="[{ path: '/gather/sources' }]" />
    </header>
    <ProblemNote v-if="!open" :error="change.error.value" />
    <table>
      <thead>
        <tr>
          <th>Source</th>
          <th>What</th>
          <th class="ticks">13 weeks to its last day</th>
          <th>Last day</th>
          <th class="number">Rows</th>
          <th class="number">Rejected</th>
          <th class="number">Worth</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="source in sources" :key="keyOf(source)">
          <tr>
            <td class="name">
              <button
                type="button"
                class="plain link"
                :aria-expanded="opened === keyOf(source)"
                @click="toggle(source)"
              >
                {{ calledOf(source) }}
              </button>
            </td>
            <td>
              {{
                [source.kind || source.table.replaceAll('_', ' '), source.account].filter(Boolean).join(', ')
              }}
            </td>
            <td class="ticks"><WeekTicks :days="source.days" :missing="source.missing_days" /></td>
            <td :class="{ bad: source.late_days }" :title="source.why">{{ lateOf(source) }}</td>
            <td class="number">{{ count(source.rows) }}</td>
            <td class="number" :class="{ bad: source.rejected }">{{ count(source.rejected) }}</td>
            <td class="number">{{ source.money.length ? moneyOf(source.money, home) : '–' }}</td>
          </tr>
          <tr v-if="opened === keyOf(source)" class="more">
            <td colspan="7">
              <p>
                {{ source.why }}
                <template v-if="source.platforms.length"
                  >Spend of {{ source.platforms.join(', ') }}.</template
                >
                Its days are those of {{ source.zone }}.
                <template v-if="source.name && place(source) >= 0">
                  <button type="button" class="plain link" @click="edit(place(source))">
                    Change how {{ source.name }} is read
                  </button>
                  <button type="button" class="plain link" @click="remove(place(source))">
                    Remove {{ source.name }}
                  </button>
                </template>
              </p>
              <p v-if="source.missing_days" class="bad">
                Missing: {{ source.missing.join(', ')
                }}<template v-if="source.missing.length < source.missing_days"> and more</template>. A missing
                day is not zero: load it, or see whether the source had none.
              </p>
              <LoadTable v-if="loadsOf(source).length" :loads="loadsOf(source)" />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <RecordForm
      v-if="open"
      title="Change this source"
      :fields="plan.fields.source!"
      :record="open.record"
      :error="change.error.value"
      :busy="change.isPending.value"
      @keep="keep"
      @close="close"
    />
  </section>
</template>

<style scoped>
.sources {
  margin-bottom: 12px;
}

td {
  padding-block: 2px;
}

.name {
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.bad {
  color: var(--loses);
}

@media print {
  .ticks {
    display: none;
  }
}

@media (width < 900px) {
  .ticks {
    display: none;
  }
}

/* A name is high enough to be hit, a state is not broken into words. */
td {
  height: 25px;
}

@media (max-width: 700px) {
  td:nth-child(4) {
    min-width: 150px;
  }
}

.more td {
  padding: 4px 6px 8px 18px;
  background: var(--sheet);
}

.more p {
  margin: 0 0 4px;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
</style>
