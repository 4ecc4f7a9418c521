<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { instant, money } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import FileLine from './FileLine.vue'
import { kindWords, pairsOf, whatWords, type PersonOut, type PersonRow } from './personWords'
import { apartWords } from './recordWords'

/** All a person did, in the order of time; a row that ties identifiers can be told to tie two of them no more. */
const props = defineProps<{
  person: PersonOut
  rows: readonly PersonRow[]
  label: string
  busy: boolean
}>()
const emit = defineEmits<{ separate: [first: string, second: string] }>()
const opened = ref<string>()
const keyOf = (row: PersonRow) => `${row.table} ${row.id}`
const called = (number: number) => {
  const one = props.person.identifiers[number]!
  return `${kindWords(one.kind)} ${one.shown}`
}
const route = useRoute()
const linkOf = ({ table, id }: PersonRow) => ({ name: 'record', query: { ...route.query, table, id } })
function separate([first, second]: [number, number]) {
  const { identifiers } = props.person
  emit('separate', identifiers[first]!.written, identifiers[second]!.written)
}
/** Delete on a knot that ties two separates them; of one that ties more it asks which. */
function unknot(row: PersonRow) {
  const pairs = pairsOf(row.knot)
  if (pairs.length === 1) separate(pairs[0]!)
  else opened.value = keyOf(row)
}
const anyValue = computed(() => props.rows.some((row) => row.value))
</script>

<template>
  <section :aria-label="label">
    <slot />
    <p class="quiet">
      Times in {{ person.time_zone }}<template v-if="anyValue">; value in {{ person.currency }}</template
      ><template v-if="person.more_rows && rows === person.rows"
        >; {{ person.more_rows }} more visits, earlier</template
      >.
    </p>
    <MovingTable>
      <thead>
        <tr>
          <th>When</th>
          <th>What</th>
          <th class="number">Value</th>
          <th>Carries</th>
          <th>File, line</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in rows" :key="keyOf(row)">
          <tr :class="{ apart: row.apart }">
            <td class="when">{{ instant(row.at, person.time_zone) }}</td>
            <td>
              <router-link v-if="row.table !== 'visits'" class="link" :to="linkOf(row)">{{
                whatWords(row)
              }}</router-link>
              <template v-else>{{ whatWords(row) }}</template>
              <small v-if="row.apart" class="quiet apart-word">{{ apartWords(row.apart) }}</small>
            </td>
            <td class="number">{{ row.value ? money(row.value, person.minor_digits) : '' }}</td>
            <td>
              {{ row.identifiers.map(called).join(', ') }}
              <button
                v-if="row.knot.length"
                type="button"
                class="plain link no-print"
                :aria-expanded="opened === keyOf(row)"
                :aria-label="`knot of ${row.knot.map(called).join(', ')}`"
                title="Enter: which to separate; Delete: separate"
                @click="opened = opened === keyOf(row) ? undefined : keyOf(row)"
                @keydown.delete.prevent="unknot(row)"
              >
                knot
              </button>
            </td>
            <td><FileLine :file="row.file" :line="row.line" /></td>
          </tr>
          <tr v-if="opened === keyOf(row)" class="no-print">
            <td></td>
            <td colspan="4">
              <span class="pairs">
                <button
                  v-for="pair in pairsOf(row.knot)"
                  :key="pair.join()"
                  type="button"
                  class="tool"
                  :disabled="busy"
                  @click="separate(pair)"
                >
                  Separate {{ called(pair[1]) }} from {{ called(pair[0]) }}
                </button>
              </span>
            </td>
          </tr>
        </template>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
.when {
  white-space: nowrap;
}

.apart-word {
  margin-left: 6px;
}

.apart td {
  color: var(--unsure);
}

.pairs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
}

section {
  margin-top: 12px;
}

p {
  margin: 2px 0;
  font-size: 13px;
}

:slotted(h2 .quiet) {
  font-weight: 400;
  font-size: 13px;
}
</style>
