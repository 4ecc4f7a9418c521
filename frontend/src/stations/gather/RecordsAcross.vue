<script setup lang="ts">
import { computed } from 'vue'
import { count, money } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import { acrossOf, fieldWords, REST, valueWords, type RecordGroup, type RecordsOut } from './records'

/** Records by one field, or by one across another; each figure opens the records behind it. */
const props = defineProps<{ records: RecordsOut; by: string; across: string; measure: string }>()
const emit = defineEmits<{ open: [values: Record<string, string>] }>()
const table = computed(() => acrossOf(props.records.groups))
const show = (sums: RecordGroup['sums']) => {
  if (!sums.records) return '–'
  return props.measure === 'value' ? money(sums.value, props.records.minor_digits) : count(sums.records)
}
const said = (field: string, value: string) => `${fieldWords(field)} ${valueWords(value, field)}`
const MOST_GROUPS = 200
/** Whoever groups by what nearly every record has of its own sees the largest, and how many more there are. */
const bySize = computed(() => props.records.groups.slice(0, MOST_GROUPS))
const rowsAcross = computed(() => table.value.rows.slice(0, MOST_GROUPS))
const more = computed(
  () => (props.across ? table.value.rows.length : props.records.groups.length) - MOST_GROUPS,
)
</script>

<template>
  <section aria-label="Groups">
    <p v-if="more > 0" class="quiet">
      The first {{ MOST_GROUPS }} groups; {{ count(more) }} more are in the sums and in the export.
    </p>
    <MovingTable v-if="across">
      <thead>
        <tr>
          <th>{{ fieldWords(by) }} across {{ fieldWords(across) }}</th>
          <th v-for="column in table.columns" :key="column" class="number">
            {{ column === REST ? `${table.rest} more` : valueWords(column, across) }}
          </th>
          <th class="number">Sum</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rowsAcross" :key="row">
          <th scope="row">{{ valueWords(row, by) }}</th>
          <td v-for="column in table.columns" :key="column" class="number">
            <button
              v-if="column !== REST && table.cell(row, column).records"
              type="button"
              class="plain"
              :aria-label="`${show(table.cell(row, column))}: ${said(by, row)}, ${said(across, column)}`"
              @click="emit('open', { [by]: row, [across]: column })"
            >
              {{ show(table.cell(row, column)) }}
            </button>
            <template v-else>{{ show(table.cell(row, column)) }}</template>
          </td>
          <td class="number">
            <button
              type="button"
              class="plain"
              :aria-label="`${show(table.ofRow(row))}: ${said(by, row)}`"
              @click="emit('open', { [by]: row })"
            >
              {{ show(table.ofRow(row)) }}
            </button>
          </td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">Sum</th>
          <td v-for="column in table.columns" :key="column" class="number">
            {{ show(table.ofColumn(column)) }}
          </td>
          <td class="number">{{ show(table.sum) }}</td>
        </tr>
      </tfoot>
    </MovingTable>
    <MovingTable v-else>
      <thead>
        <tr>
          <th>{{ fieldWords(by) }}</th>
          <th class="number">Records</th>
          <th class="number">Value</th>
          <th class="number">Count</th>
          <th class="number">Value that counts</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="group in bySize" :key="group.values[0]">
          <th scope="row">
            <button type="button" class="plain link" @click="emit('open', { [by]: group.values[0]! })">
              {{ valueWords(group.values[0]!, by) }}
            </button>
          </th>
          <td class="number">{{ count(group.sums.records) }}</td>
          <td class="number">{{ money(group.sums.value, records.minor_digits) }}</td>
          <td class="number">{{ count(group.sums.counted) }}</td>
          <td class="number">{{ money(group.sums.counted_value, records.minor_digits) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">Sum</th>
          <td class="number">{{ count(records.sums.records) }}</td>
          <td class="number">{{ money(records.sums.value, records.minor_digits) }}</td>
          <td class="number">{{ count(records.sums.counted) }}</td>
          <td class="number">{{ money(records.sums.counted_value, records.minor_digits) }}</td>
        </tr>
      </tfoot>
    </MovingTable>
  </section>
</template>

<style scoped>
th[scope='row'] {
  font-weight: 400;
  border-bottom: 1px solid var(--line);
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
}

td button,
th button {
  min-width: 24px;
  min-height: 24px;
  text-align: inherit;
}

tfoot th[scope='row'],
tfoot td {
  font-weight: 600;
  border-top: 2px solid var(--ink);
  border-bottom: none;
}
</style>
