<script setup lang="ts">
import { computed } from 'vue'
import { count, instant, money } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import { fieldWords, type RecordsOut } from './records'

/** The records of a list, one a line: people by the ids of their records alone. */
const props = defineProps<{ records: RecordsOut; columns: string[] }>()
const may = computed(() => props.records.sums.records - props.records.withheld)
</script>

<template>
  <section aria-label="Records listed">
    <p v-if="records.withheld" role="note">
      {{ count(records.withheld) }} of {{ count(records.sums.records) }} are not named: nobody of them agreed
      to {{ records.purpose }}.
      <router-link class="link" :to="{ name: 'plan', query: { section: '' } }">The rule</router-link>
    </p>
    <p v-if="may > records.rows.length" class="quiet">
      The latest {{ count(records.rows.length) }} of {{ count(may) }}; the export has all.
    </p>
    <MovingTable>
      <thead>
        <tr>
          <th>When</th>
          <th>Record</th>
          <th class="number">Value</th>
          <th v-for="name in columns" :key="name">{{ fieldWords(name) }}</th>
          <th>File, line</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in records.rows" :key="`${row.table} ${row.id}`">
          <td class="when">{{ instant(row.at, records.time_zone) }}</td>
          <td>
            <router-link class="link" :to="{ name: 'record', query: { table: row.table, id: row.id } }"
              >{{ row.goal }} {{ row.id }}</router-link
            >
          </td>
          <td class="number">{{ money(row.value, records.minor_digits) }}</td>
          <td v-for="name in columns" :key="name">{{ row.cells[name]?.replaceAll('_', ' ') }}</td>
          <td class="quiet">{{ row.file }} {{ row.line }}</td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
td a {
  display: inline-block;
  line-height: 24px;
}

.when {
  white-space: nowrap;
}
</style>
