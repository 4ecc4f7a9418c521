<script setup lang="ts">
import { computed } from 'vue'
import { instant } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import FileLine from './FileLine.vue'
import { loadWords, type RecordOut } from './recordWords'

/** Statuses, refunds, lines and contacts of a record; what came after the record itself stands under its day. */
const props = defineProps<{ record: RecordOut }>()
const came = (load: number | null) => (load === null ? undefined : props.record.loads[load])
/** Whether a row came later than the record: of files that were given together none did. */
function isLater(load: number | null): boolean {
  const [mine, of] = [came(load), came(props.record.load)]
  return !!mine && !!of && mine.batch_number !== of.batch_number && mine.at > of.at
}
const groups = computed(() => {
  const { rows, load } = props.record
  const later = rows.filter((row) => isLater(row.load))
  return [
    { since: '', rows: rows.filter((row) => !later.includes(row)) },
    { since: instant(came(load)?.at ?? props.record.at, props.record.time_zone).slice(0, 10), rows: later },
  ].filter((group) => group.rows.length)
})
const saidOf = (row: RecordOut['rows'][number]) =>
  Object.entries(row.said)
    .map(([name, said]) => `${name.replaceAll('_', ' ')} ${said}`)
    .join(', ')
</script>

<template>
  <section aria-label="Rows about it">
    <h2>Rows about it</h2>
    <MovingTable>
      <tbody v-for="group in groups" :key="group.since">
        <tr v-if="group.since">
          <th colspan="4" scope="rowgroup">New since {{ group.since }}, when the record was loaded</th>
        </tr>
        <tr v-for="(row, i) in group.rows" :key="i">
          <td>{{ row.table.replaceAll('_', ' ') }}</td>
          <td class="when">{{ row.at ? instant(row.at, record.time_zone) : '' }}</td>
          <td>{{ saidOf(row) }}</td>
          <td><FileLine :file="row.file" :line="row.line" />{{ loadWords(row.load, record) }}</td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
.when {
  white-space: nowrap;
}

th {
  padding-top: 8px;
}
</style>
