<script setup lang="ts">
import { computed } from 'vue'
import MovingTable from '../../shared/MovingTable.vue'
import ExportControl from '../../shared/ExportControl.vue'
import { valueWords, useAgreement } from './records'

/** How often what a form captured says what the visits say, by form and week. */
const agreement = useAgreement()
const rows = computed(() => agreement.data.value ?? [])
const percent = (share: number | null) => (share === null ? '–' : `${Math.round(share * 100)} %`)
</script>

<template>
  <section v-if="rows.length" aria-label="Captured and seen">
    <h2>
      Captured and seen
      <small class="quiet">does the form say what the visits say? latest source, 90 % interval</small>
      {{ ' ' }}<ExportControl :tables="[{ path: '/records/agreement' }]" />
    </h2>
    <MovingTable>
      <thead>
        <tr>
          <th>Week</th>
          <th>Form</th>
          <th class="number">Agree</th>
          <th class="number">Of</th>
          <th class="number">Share</th>
          <th class="number">Between</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="`${row.week} ${row.form}`">
          <td>{{ row.week }}</td>
          <td>{{ valueWords(row.form) }}</td>
          <td class="number">{{ row.agree }}</td>
          <td class="number">{{ row.compared }}</td>
          <td class="number">{{ percent(row.agree / row.compared) }}</td>
          <td class="number">{{ percent(row.low) }} to {{ percent(row.high) }}</td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
small {
  font-weight: 400;
}
</style>
