<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api, type Schemas } from '../../api/client'
import ExportControl from '../../shared/ExportControl.vue'
import FindAnything from '../../shared/FindAnything.vue'
import { count, moneyWithUnit } from '../../shared/format'
import PageHead from '../../shared/PageHead.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import UndoByHand from '../plan/UndoByHand.vue'
import { useByHand } from '../plan/useByHand'
import MatterRows from './MatterRows.vue'
import { matterWords, objectWords } from './matterWords'

/** What is open: each matter by what is at stake, opened to its rows and to what mends it. */
const found = useQuery({ queryKey: ['matters'], queryFn: () => answer(api.GET('/matters')) })
const matters = computed(() => found.data.value)
const byHand = useByHand()
const { busy, error } = byHand
type Matter = Schemas['OpenMatter']
const keyOf = (one: Matter) => `${one.kind} ${one.object.join(' ')}`
const opened = ref<string>()
const toggle = (one: Matter) => (opened.value = opened.value === keyOf(one) ? undefined : keyOf(one))
const money = (amount: number | null) =>
  amount === null ? '–' : moneyWithUnit(amount, matters.value!.minor_digits, matters.value!.currency)
</script>

<template>
  <PageHead title="Matters" about="what is open, and what is at stake?">
    <UndoByHand :by-hand="byHand" />
    <FindAnything />
    <ExportControl
      :tables="[{ path: '/matters', rows: matters?.matters.length }]"
      :stamp="matters?.fingerprint"
    />
  </PageHead>
  <ProblemNote :error="found.error.value ?? error" />
  <WorkingNote v-if="found.isLoading.value" what="Looking for what is open." />
  <p v-if="matters && !matters.matters.length" role="status">Nothing open here.</p>
  <section v-else-if="matters" aria-label="Open matters">
    <p role="status">
      {{ count(matters.matters.length) }}
      {{ matters.matters.length === 1 ? 'matter is' : 'matters are' }} open.
    </p>
    <table>
      <thead>
        <tr>
          <th>What</th>
          <th>Of</th>
          <th class="number">Rows</th>
          <th class="number">Spend at stake</th>
          <th class="number">Value at stake</th>
          <th>Since</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in matters.matters" :key="keyOf(one)">
          <tr>
            <td>
              <button
                type="button"
                class="plain link"
                :aria-expanded="opened === keyOf(one)"
                :title="one.rule"
                @click="toggle(one)"
              >
                {{ matterWords(one.kind) }}
              </button>
            </td>
            <td class="object">{{ objectWords(one.object) }}</td>
            <td class="number">{{ count(one.rows) }}</td>
            <td class="number">{{ money(one.spend) }}</td>
            <td class="number">{{ money(one.value) }}</td>
            <td class="day">{{ one.first_day }}</td>
          </tr>
          <tr v-if="opened === keyOf(one)">
            <td colspan="6">
              <p class="quiet">
                Found where: {{ one.rule }}.
                <template v-if="one.said && one.kind !== 'near_value'">{{ one.said }}</template>
              </p>
              <MatterRows
                :matter="one"
                :zone="matters.time_zone"
                :currency="matters.currency"
                :digits="matters.minor_digits"
                :busy="busy"
                @take-out="byHand.put($event, true)"
                @meaning="byHand.giveMeaning(one.object[0]!, $event)"
                @same-as="(...said) => byHand.sameAs(...said)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.object {
  max-width: 360px;
  overflow: hidden;
  text-overflow: ellipsis;
}

td button {
  min-height: 24px;
}

.day {
  white-space: nowrap;
}
</style>
