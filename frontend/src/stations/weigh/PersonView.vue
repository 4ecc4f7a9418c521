<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import FindAnything from '../../shared/FindAnything.vue'
import { useKeys } from '../../shared/keys'
import PageHead from '../../shared/PageHead.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useBack } from '../../shared/useBack'
import WorkingNote from '../../shared/WorkingNote.vue'
import UndoByHand from '../plan/UndoByHand.vue'
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
/** Its rows and those of the same test, in quarantine or not, as the list of records by hand names them. */
const rowsThat = (out: boolean) =>
  [...(person.value?.rows ?? []), ...(person.value?.also ?? [])]
    .filter((row) => (row.apart === 'test' || row.apart === 'quarantined') === out)
    .map(({ table, id }) => ({ table: table as ByHand['table'], id }))
/** In one act goes what is listed: where more was found, it would be less than all. One row alone has its own page. */
const several = computed(() => {
  const { rows = [], also = [], more_rows = 0, more_also = 0 } = person.value ?? {}
  return !more_rows && !more_also && rows.length + also.length > 1
})
const counting = computed(() => rowsThat(false))
const out = computed(() => rowsThat(true))
const byHand = useByHand()
const { busy, error } = byHand
const back = useBack('table', 'id')
const router = useRouter()
/** The rule by which it is one person, or more. */
useKeys({ o: () => void router.push({ name: 'plan', query: { section: 'separate' } }) })
</script>

<template>
  <PageHead :title="person?.name || 'Person'" :about="`of ${id}`">
    <button
      v-if="counting.length && several"
      type="button"
      class="tool"
      :disabled="busy"
      title="Its visits and records, as of a test"
      @click="byHand.putAll(counting, true)"
    >
      Take out all {{ counting.length }}
    </button>
    <button
      v-if="out.length && several"
      type="button"
      class="tool"
      :disabled="busy"
      @click="byHand.putAll(out, false)"
    >
      Put back all {{ out.length }}
    </button>
    <FindAnything />
    <UndoByHand :by-hand="byHand" />
    <button type="button" class="plain link" title="Esc" @click="back">Back</button>
  </PageHead>
  <ProblemNote :error="found.error.value ?? error" />
  <WorkingNote v-if="found.isLoading.value" what="Looking at the person." />
  <template v-if="person">
    <PersonThreads :person="person" />
    <PersonRows
      :person="person"
      label="What it did"
      :rows="person.rows"
      :busy="busy"
      @separate="byHand.separate"
    >
      <h2>Visits and records</h2>
    </PersonRows>
    <PersonRows
      v-if="person.also.length"
      :person="person"
      label="Of the same test"
      :rows="person.also"
      :busy="busy"
    >
      <h2>
        Of the same test
        <span class="quiet"
          >they carry one of these identifiers; a test record joins nobody<template v-if="person.more_also"
            >; the first {{ person.also.length }}, at least {{ person.more_also }} more</template
          ></span
        >
      </h2>
    </PersonRows>
  </template>
</template>
