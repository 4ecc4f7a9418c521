<script setup lang="ts">
import { computed } from 'vue'
import ExportControl from '../../shared/ExportControl.vue'
import FindAnything from '../../shared/FindAnything.vue'
import { count, moneyWithUnit } from '../../shared/format'
import { useKeys } from '../../shared/keys'
import PageHead from '../../shared/PageHead.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import UndoByHand from '../plan/UndoByHand.vue'
import { useByHand } from '../plan/useByHand'
import CapturedSeen from './CapturedSeen.vue'
import KeptLists from './KeptLists.vue'
import { everyOne, isValue, MOST_AT_ONCE, useRecords, useRecordsQuestion } from './records'
import RecordsAcross from './RecordsAcross.vue'
import RecordsQuestion from './RecordsQuestion.vue'
import RecordsRows from './RecordsRows.vue'
import UnlistedWords from './UnlistedWords.vue'

/** Leads, orders and deals: how many and what they are worth, by anything that is known of them. */
const question = useRecordsQuestion()
const { by, across, where, listed, measure, asked, set } = question
const found = useRecords(question)
const records = computed(() => found.data.value)
const show = (minor: number) => moneyWithUnit(minor, records.value!.minor_digits, records.value!.currency)

/** Questions that are asked again and again. */
const USUAL = {
  'by source': {},
  life: { by: 'created_month', across: 'won_month' },
  'does not count': { where: ['counts is word'], by: 'latest_source', across: 'status' },
  'said and seen': { by: 'self_reported', across: 'latest_source', where: ['self_reported is not empty'] },
  'captured and said': { by: 'captured_source', across: 'self_reported' },
}
const ask = (values: Record<string, string | string[]>) =>
  set({
    ...{
      by: undefined,
      across: undefined,
      where: undefined,
      list: undefined,
      from: undefined,
      to: undefined,
    },
    ...values,
  })
/** The records behind a figure. */
function open(values: Record<string, string>) {
  const clauses = Object.entries(values).map(([name, value]) => isValue(name, value))
  void set({ where: [...new Set([...where.value, ...clauses])], list: 'yes' })
}
/** Whether all that fits is in quarantine, so that it can be put back, or none is; undefined where it is mixed. */
const turned = computed(() => {
  const { sums, quarantined } = records.value ?? { sums: { records: 0 }, quarantined: 0 }
  if (!sums.records || sums.records > MOST_AT_ONCE) return undefined
  return quarantined === sums.records ? true : quarantined ? undefined : false
})
const byHand = useByHand()
const { busy, error } = byHand
/** All that fits, in one act: what is in quarantine is put back, else it is taken out. */
async function turnAll() {
  const back = turned.value
  if (listed.value && back !== undefined) byHand.putAll(await everyOne(asked.value), !back)
}
useKeys({ Delete: () => void turnAll() })
const tables = computed(() => [
  { path: '/records/groups', query: asked.value, what: 'groups' },
  { path: '/records/rows', query: asked.value, what: 'records', rows: records.value?.sums.records },
])
</script>

<template>
  <PageHead title="Records" about="what became of each lead, order and deal?">
    <UndoByHand :by-hand="byHand" />
    <FindAnything />
    <ExportControl :tables="tables" :stamp="records?.fingerprint" />
  </PageHead>
  <ProblemNote :error="found.error.value ?? error" />
  <WorkingNote v-if="found.isLoading.value" what="Looking at the records." />
  <template v-if="records">
    <UnlistedWords :records="records" />
    <p class="usual no-print">
      <button
        v-for="(values, name) in USUAL"
        :key="name"
        type="button"
        class="plain link"
        @click="ask(values)"
      >
        {{ name }}
      </button>
      <KeptLists />
    </p>
    <RecordsQuestion :records="records" :question="question" />
    <p class="ties" role="status">
      <b>{{ count(records.sums.records) }} {{ records.sums.records === 1 ? 'record' : 'records' }}</b
      >, {{ show(records.sums.value) }}; {{ count(records.sums.counted) }} count,
      {{ show(records.sums.counted_value)
      }}<template v-if="records.elsewhere">; {{ count(records.elsewhere) }} on other days</template>
    </p>
    <p v-if="!records.sums.records && records.elsewhere">
      None on these days; {{ count(records.elsewhere) }} on other days.
      <button
        type="button"
        class="plain link"
        @click="set({ from: undefined, to: undefined, day_of: undefined })"
      >
        Show all
      </button>
    </p>
    <p v-else-if="!records.sums.records">
      None fits.
      <button v-if="where.length" type="button" class="plain link" @click="where = []">
        Remove the filters
      </button>
    </p>
    <RecordsAcross
      v-else-if="records.groups.length"
      :records="records"
      :by="by"
      :across="across"
      :measure="measure"
      @open="open"
    />
    <p v-if="records.sums.records" class="no-print">
      <button type="button" class="tool" :aria-expanded="!!listed" @click="listed = listed ? '' : 'yes'">
        {{ listed ? 'Hide the list' : `List ${count(records.sums.records)}` }}
      </button>
    </p>
    <template v-if="listed">
      <p v-if="turned !== undefined" class="no-print">
        <button type="button" class="tool" :disabled="busy" title="Delete" @click="turnAll">
          {{ turned ? 'Put back' : 'Take out' }} all {{ count(records.sums.records) }}
        </button>
      </p>
      <RecordsRows :records="records" :columns="asked.columns" />
    </template>
    <CapturedSeen />
  </template>
</template>

<style scoped>
.usual {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
}

.ties {
  margin: 6px 0;
}
</style>
