<script setup lang="ts">
import { instant, moneyWithUnit } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import type { Schemas } from '../../api/client'
import type { ByHand } from '../plan/useByHand'

/** The rows of a matter, two side by side where one may be the double of the other, and what mends it. */
const props = defineProps<{
  matter: Schemas['OpenMatter']
  zone: string
  currency: string
  digits: number
  busy: boolean
}>()
const emit = defineEmits<{ takeOut: [one: ByHand]; meaning: [means: string] }>()
type Row = Schemas['MatterRow']
const when = (row: Row) => instant(row.at, props.zone)
const stake = (row: Row) => (row.value === null ? '' : moneyWithUnit(row.value, props.digits, props.currency))
const linkOf = ({ table, id }: Row) =>
  table === 'refunds' ? undefined : { name: table === 'visits' ? 'person' : 'record', query: { table, id } }
const minutes = (row: Row) => Math.round((Date.parse(row.at) - Date.parse(row.beside!.at)) / 60_000)
const MEANINGS = ['counts', 'does not count', 'good']
</script>

<template>
  <MovingTable>
    <tbody>
      <tr v-for="row in matter.listed" :key="`${row.table} ${row.id}`">
        <template v-if="row.beside">
          <td>
            <router-link class="link" :to="linkOf(row.beside)!">{{ row.beside.id }}</router-link>
            {{ when(row.beside) }}, {{ row.beside.file }} {{ row.beside.line }}
          </td>
          <td class="quiet">{{ minutes(row) }} min later</td>
        </template>
        <td>
          <router-link v-if="linkOf(row)" class="link" :to="linkOf(row)!">{{ row.id }}</router-link>
          <template v-else>{{ row.id }}</template>
          {{ when(row) }}, {{ row.file }} {{ row.line }}
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
  <p v-if="matter.kind === 'unlisted_word'">
    It
    <button
      v-for="means in MEANINGS"
      :key="means"
      type="button"
      class="tool means"
      :disabled="busy"
      @click="emit('meaning', means)"
    >
      {{ means }}
    </button>
  </p>
  <p v-else-if="matter.kind === 'refund_alone'">
    <router-link class="link" to="/gather">Load its order</router-link>
  </p>
  <p v-else-if="matter.kind === 'shared_identifier'" class="quiet">
    It joins nobody as it stands; the limit is in Plan, Workspace.
  </p>
</template>

<style scoped>
.means {
  margin-right: 8px;
}

td a {
  display: inline-block;
  line-height: 24px;
}
</style>
