<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api, type Schemas } from '../../api/client'
import { count } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'

/** By which identifiers people were joined, the largest persons, and the identifiers with most others. */
const found = useQuery({
  queryKey: ['joined-people'],
  queryFn: () => answer(api.GET('/coverage/people')),
})
const words = (kinds: readonly string[]) =>
  kinds.map((kind) => kind.replaceAll('_', ' ')).join(' and ') || 'nothing: each row is a person of its own'
type Row = Schemas['PersonOfRow']
const lists = computed(() => [
  {
    title: 'Largest persons',
    number: 'Rows',
    rows: found.data.value?.largest ?? [],
    of: (one: Row) => one.id,
    beside: (one: Row) => one.words,
  },
  {
    title: 'Identifiers with most others',
    number: 'Others',
    rows: found.data.value?.widest ?? [],
    of: (one: Row) => one.words,
    beside: (one: Row) => (one.joins ? '' : 'joins nobody'),
  },
])
const page = (table: string, id: string) => ({ name: 'person', query: { table, id } })
</script>

<template>
  <section aria-label="People">
    <h2>People</h2>
    <ProblemNote :error="found.error.value" />
    <WorkingNote v-if="found.isLoading.value" what="Looking at people." />
    <div v-if="found.data.value" class="people">
      <MovingTable>
        <thead>
          <tr>
            <th>Joined by</th>
            <th class="number">People</th>
            <th class="number">Rows</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found.data.value.by_kinds" :key="one.kinds.join()">
            <td>{{ words(one.kinds) }}</td>
            <td class="number">{{ count(one.people) }}</td>
            <td class="number">{{ count(one.rows) }}</td>
          </tr>
        </tbody>
      </MovingTable>
      <MovingTable v-for="list in lists" :key="list.title">
        <thead>
          <tr>
            <th>{{ list.title }}</th>
            <th class="number">{{ list.number }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in list.rows" :key="`${one.words} ${one.table} ${one.id}`">
            <td>
              <router-link class="link" :to="page(one.table, one.id)">{{ list.of(one) }}</router-link>
              <span class="quiet beside">{{ list.beside(one) }}</span>
            </td>
            <td class="number">{{ count(one.number) }}</td>
          </tr>
        </tbody>
      </MovingTable>
    </div>
  </section>
</template>

<style scoped>
.people {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 12px 24px;
  align-items: start;
}

.beside {
  margin-left: 6px;
}

td a {
  display: inline-block;
  line-height: 24px;
}
</style>
