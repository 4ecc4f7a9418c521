<script setup lang="ts">
import type { Trace } from '../../api/client'
import { instant } from '../../shared/format'
import FileLine from './FileLine.vue'
import MovingTable from '../../shared/MovingTable.vue'

const props = defineProps<{ trace: Trace }>()
const at = (iso: string) => instant(iso, props.trace.time_zone)
</script>

<template>
  <section aria-label="Touches">
    <h3>
      Touches <span class="quiet">times in {{ trace.time_zone }}</span>
    </h3>
    <MovingTable>
      <thead>
        <tr>
          <th>When</th>
          <th>Campaign</th>
          <th>Source / medium</th>
          <th>Channel</th>
          <th>File, line</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="touch in trace.touches" :key="`${touch.file} ${touch.line}`">
          <td class="from">{{ at(touch.at) }}</td>
          <td>{{ touch.campaign || (touch.tagged ? 'no campaign' : 'untagged') }}</td>
          <td>{{ [touch.source, touch.medium].filter(Boolean).join(' / ') || '–' }}</td>
          <td :title="touch.why">{{ touch.channel }}</td>
          <td><FileLine :file="touch.file" :line="touch.line" /></td>
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

.from {
  font-size: 13px;
  white-space: nowrap;
}
</style>
