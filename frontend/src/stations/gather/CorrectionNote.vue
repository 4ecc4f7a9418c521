<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { count } from '../../shared/format'
import { moneyOf } from './reading'
import MovingTable from '../../shared/MovingTable.vue'

defineProps<{ correction: Schemas['Correction']; home: string }>()
</script>

<template>
  <details class="correction">
    <summary>
      {{ count(correction.days_changed) }} {{ correction.days_changed === 1 ? 'day changes' : 'days change'
      }}<template v-if="correction.days_losing"
        >, <span class="bad">{{ count(correction.days_losing) }} with fewer rows</span></template
      >
    </summary>
    <MovingTable>
      <thead>
        <tr>
          <th>Day</th>
          <th class="number">Was worth</th>
          <th class="number">Will be worth</th>
          <th class="number">Rows before</th>
          <th class="number">Rows after</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="day in correction.days" :key="day.day + day.currency">
          <td>{{ day.day }}</td>
          <td class="number">{{ moneyOf([{ currency: day.currency, amount: day.before }], home) }}</td>
          <td class="number">{{ moneyOf([{ currency: day.currency, amount: day.after }], home) }}</td>
          <td class="number">{{ count(day.rows_before) }}</td>
          <td class="number" :class="{ bad: day.rows_after < day.rows_before }">
            {{ count(day.rows_after) }}
          </td>
        </tr>
      </tbody>
    </MovingTable>
  </details>
</template>

<style scoped>
table {
  width: auto;
}

.bad {
  color: var(--loses);
}

summary {
  cursor: pointer;
}
</style>
