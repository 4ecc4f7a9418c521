<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import FindAnything from '../../shared/FindAnything.vue'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useBack } from '../../shared/useBack'
import WorkingNote from '../../shared/WorkingNote.vue'
import { useByHand, type ByHand } from '../plan/useByHand'
import PersonRows from './PersonRows.vue'
import PersonThreads from './PersonThreads.vue'
import { useQuestion } from './question'

/** A person: by which rows it is one, and all it did. */
const question = useQuestion()
const table = useAddressState('table', 'leads')
const id = useAddressState('id')
const found = useQuery({
  queryKey: ['person', question.asked, table, id],
  queryFn: () => {
    const of = { table: table.value as 'visits' | 'leads' | 'conversions', id: id.value }
    return answer(api.GET('/weigh/person', { params: { query: { ...question.asked.value, ...of } } }))
  },
})
const person = computed(() => found.data.value)
/** Its rows that are no test yet, as the list of records by hand names them. */
const counting = computed(() =>
  (person.value?.rows ?? [])
    .filter((row) => row.apart !== 'test' && row.apart !== 'quarantined')
    .map(({ table, id }) => ({ table: table as ByHand['table'], id })),
)
const byHand = useByHand()
const { last, busy, error } = byHand
const back = useBack('table', 'id')
useKeys({ u: byHand.takeBack })
</script>

<template>
  <header>
    <h1>
      {{ person?.name || 'Person' }} <small class="quiet">of {{ id }}</small>
    </h1>
    <span class="aside no-print">
      <button
        v-if="counting.length > 1 && !person?.more_rows"
        type="button"
        class="tool"
        :disabled="busy"
        title="Its visits and records, as of a test"
        @click="byHand.takeOutAll(counting)"
      >
        Take out all {{ counting.length }}
      </button>
      <FindAnything />
      <button
        v-if="last"
        type="button"
        class="plain link"
        :disabled="busy"
        :title="`Take back: ${last.what} (u)`"
        @click="byHand.takeBack()"
      >
        Undo: {{ last.what }}
      </button>
      <button type="button" class="plain link" title="Esc" @click="back">Back</button>
    </span>
  </header>
  <ProblemNote :error="found.error.value ?? error" />
  <WorkingNote v-if="found.isLoading.value" what="Looking at the person." />
  <template v-if="person">
    <PersonThreads :person="person" />
    <PersonRows :person="person" :busy="busy" @separate="byHand.separate" />
  </template>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  gap: 4px 16px;
}

small {
  font-weight: 400;
  font-size: 14px;
}

.aside {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 12px;
}
</style>
