<script setup lang="ts">
import { computed, ref, useId } from 'vue'
import { instant, moneyWithUnit } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import type { Schemas } from '../../api/client'
import type { ByHand } from '../plan/useByHand'
import { elsewhere, renamed } from './matterWords'

/** The rows of a matter, two side by side where one may be the double of the other, and what mends it. */
const props = defineProps<{
  matter: Schemas['OpenMatter']
  zone: string
  currency: string
  digits: number
  busy: boolean
}>()
const emit = defineEmits<{
  takeOut: [one: ByHand]
  meaning: [means: string]
  sameAs: [field: string, old: string, meant: string]
}>()
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
const value = computed(() => renamed(props.matter.kind, props.matter.object))
const other = computed(() => elsewhere(props.matter.kind))
const meant = ref(props.matter.kind === 'near_value' ? props.matter.said : '')
const field = useId()
const minutes = (row: Row) => Math.round((Date.parse(row.at) - Date.parse(row.beside!.at)) / 60_000)
const MEANINGS = ['counts', 'does not count', 'good']
</script>

<template>
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
  <p v-else-if="matter.kind === 'shared_identifier'" class="quiet">
    It joins nobody as it stands; the limit is in Plan, Workspace.
  </p>
  <form v-if="value" @submit.prevent="meant.trim() && emit('sameAs', value.field, value.old, meant.trim())">
    <label :for="field">{{ value.old }} is the same {{ value.field }} as</label>
    <input :id="field" v-model="meant" type="text" autocomplete="off" />
    <button type="submit" class="tool" :disabled="busy || !meant.trim()">Try it</button>
  </form>
  <p v-if="other">
    <router-link class="link" :to="other.to">{{ other.words }}</router-link>
  </p>
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
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.means {
  margin-right: 8px;
}

td a {
  display: inline-block;
  line-height: 24px;
}
</style>
