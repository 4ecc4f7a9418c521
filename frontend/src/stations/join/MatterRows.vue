<script setup lang="ts">
import { instant, moneyWithUnit } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import type { Schemas } from '../../api/client'
import type { ByHand } from '../plan/useByHand'

/** The heaviest rows of a matter, two side by side where one may be the double of the other. */
const props = defineProps<{
  matter: Schemas['OpenMatter']
  zone: string
  currency: string
  digits: number
  busy: boolean
}>()
const emit = defineEmits<{ takeOut: [one: ByHand] }>()
type Row = Schemas['MatterRow']
const when = (row: Row) => (row.at.includes('T') ? instant(row.at, props.zone) : row.at)
const place = (row: Row) => (row.file ? `, ${row.file} ${row.line}` : '')
const stake = (row: Row) => {
  const amount = row.value ?? row.spend
  return amount === null ? '' : moneyWithUnit(amount, props.digits, props.currency)
}
const PAGES: Record<string, string> = { visits: 'person', leads: 'record', conversions: 'record' }
const linkOf = ({ table, id }: Row) =>
  PAGES[table] ? { name: PAGES[table], query: { table, id } } : undefined
const minutes = (row: Row) => Math.round((Date.parse(row.at) - Date.parse(row.beside!.at)) / 60_000)
</script>

<template>
  <MovingTable>
    <tbody>
      <tr v-for="(row, at) in matter.listed" :key="at">
        <template v-if="row.beside">
          <td>
            <router-link class="link" :to="linkOf(row.beside)!">{{ row.beside.id }}</router-link>
            {{ when(row.beside) }}{{ place(row.beside) }}
          </td>
          <td class="quiet">{{ minutes(row) }} min later</td>
        </template>
        <td>
          <router-link v-if="linkOf(row)" class="link" :to="linkOf(row)!">{{ row.id }}</router-link>
          <template v-else>{{ row.id || row.words }}</template>
          {{ when(row) }}{{ place(row) }}
        </td>
        <td class="number">{{ stake(row) }}</td>
        <td v-if="row.beside">
          <button
            type="button"
            class="tool"
            :disabled="busy"
            @click="emit('takeOut', { table: row.table as ByHand['table'], id: row.id })"
          >
            Take out {{ row.id }}
          </button>
        </td>
      </tr>
    </tbody>
  </MovingTable>
</template>

<style scoped>
td a {
  display: inline-block;
  line-height: 24px;
}
</style>
