<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import { amount, instant, moneyWithUnit } from '../../shared/format'
import FindAnything from '../../shared/FindAnything.vue'
import MovingTable from '../../shared/MovingTable.vue'
import PageHead from '../../shared/PageHead.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useBack } from '../../shared/useBack'
import WorkingNote from '../../shared/WorkingNote.vue'
import FileLine from './FileLine.vue'
import RecordAbout from './RecordAbout.vue'
import RecordDoings from './RecordDoings.vue'
import RecordStrip from './RecordStrip.vue'
import RecordTouches from './RecordTouches.vue'
import { useQuestion } from './question'
import { countedWords, loadWords, reasonWords, stepWords } from './recordWords'

/** One lead, order or deal: what became of it, what it is worth, and what its touches get. */
const question = useQuestion()
const table = useAddressState('table', 'conversions')
const id = useAddressState('id')
const found = useQuery({
  queryKey: ['record', question.asked, table, id],
  queryFn: () => {
    const query = { ...question.asked.value, table: table.value as 'leads' | 'conversions', id: id.value }
    return answer(api.GET('/weigh/record', { params: { query } }))
  },
})
const record = computed(() => found.data.value)
const ends = computed(() => {
  const trail = record.value?.touches.filter((touch) => !touch.without) ?? []
  const name = (touch: (typeof trail)[number] | undefined) =>
    touch ? touch.campaign || touch.source || touch.channel : ''
  return { first: name(trail[0]), last: name(trail.at(-1)) }
})
watch(
  record,
  (now) => now && (document.title = `${now.goal} ${now.id} - ${document.title.split(' - ').at(-1)}`),
)

/** A decimal text with its own decimals, grouped. */
const stated = (text: string) => amount(Number(text), text.split('.')[1]?.length ?? 0)

const back = useBack('table', 'id')
</script>

<template>
  <PageHead
    :title="record ? `${record.goal} ${record.id}` : id"
    :about="record && [record.word, record.stage, record.owner].filter(Boolean).join(', ')"
  >
    <FindAnything />
    <button type="button" class="plain link" title="Esc" @click="back">Back</button>
  </PageHead>
  <ProblemNote :error="found.error.value" />
  <WorkingNote v-if="found.isLoading.value" what="Looking at the record." />
  <template v-if="record">
    <p class="state" role="status">
      <b>{{ countedWords(record) }}</b>
      <span>
        {{ instant(record.at, record.time_zone) }}, <FileLine :file="record.file" :line="record.line" />{{
          loadWords(record.load, record)
        }}
      </span>
      <span v-if="ends.first">
        First source {{ ends.first }}, latest {{ ends.last
        }}<template v-if="record.reason">: {{ reasonWords(record.reason) }}</template>
      </span>
      <span v-else-if="record.reason">Source: {{ reasonWords(record.reason) }}</span>
    </p>
    <RecordDoings :record="record" />
    <RecordStrip :record="record" />
    <div class="halves">
      <section aria-label="Value">
        <h2>Value</h2>
        <MovingTable>
          <tbody>
            <tr v-for="(step, i) in record.worth" :key="i">
              <td>{{ stepWords(step.step) }}</td>
              <td class="number">{{ stated(step.amount) }} {{ step.currency }}</td>
              <td class="quiet">{{ step.by }}</td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <th scope="row">{{ record.apart ? 'Worth' : 'Counted' }}</th>
              <td class="number">{{ moneyWithUnit(record.value, record.minor_digits, record.currency) }}</td>
              <td></td>
            </tr>
          </tfoot>
        </MovingTable>
      </section>
      <RecordTouches :record="record" />
    </div>
    <RecordAbout v-if="record.rows.length" :record="record" />
  </template>
</template>

<style scoped>
.state {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 4px 0;
}

.halves {
  display: grid;
  grid-template-columns: minmax(0, 400px) minmax(0, 1fr);
  gap: 20px;
  margin: 8px 0 12px;
}

tfoot td,
tfoot th {
  font-weight: 600;
  border-top: 2px solid var(--ink);
  border-bottom: none;
}

@media (max-width: 1100px) {
  .halves {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
