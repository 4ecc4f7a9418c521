<script setup lang="ts">
import type { Trace } from '../../api/client'
import { credit, money } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'

defineProps<{ trace: Trace }>()
</script>

<template>
  <section aria-label="States that give this figure">
    <h3>What would be lost without them</h3>
    <p class="quiet">
      Removal credits states, not touches: the effect is the share of a goal's conversions that would be lost
      if everyone who comes to the state went away. Conversions are shared in proportion to the effects.
    </p>
    <MovingTable>
      <thead>
        <tr>
          <th>State</th>
          <th>Goal</th>
          <th class="number">Effect</th>
          <th class="number">Credited here</th>
          <th class="number">{{ trace.currency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in trace.states" :key="`${s.goal} ${s.state}`">
          <td>{{ s.state }}</td>
          <td>{{ s.goal }}</td>
          <td class="number">{{ (s.effect * 100).toFixed(1) }} %</td>
          <td class="number">{{ credit(s.share) }}</td>
          <td class="number">{{ money(s.value, trace.minor_digits) }}</td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 14px;
}

h3 {
  font-size: 14px;
  font-weight: 650;
  margin: 0 0 2px;
}

p {
  font-size: 13px;
  margin: 0 0 4px;
}
</style>
