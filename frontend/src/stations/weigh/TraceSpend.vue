<script setup lang="ts">
import type { Trace } from '../../api/client'
import { count, money } from '../../shared/format'
import FileLine from './FileLine.vue'
import MovingTable from '../../shared/MovingTable.vue'

defineProps<{ trace: Trace }>()
</script>

<template>
  <section aria-label="Spend rows">
    <h3>Spend rows</h3>
    <MovingTable>
      <thead>
        <tr>
          <th class="day">Day</th>
          <th class="platform">Platform, account</th>
          <th>Level</th>
          <th class="number stated">As reported</th>
          <th class="number cost">{{ trace.currency }}</th>
          <th class="number clicks">Clicks</th>
          <th class="file">File, line</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in trace.spend_rows" :key="`${s.file} ${s.line}`">
          <td class="day">{{ s.day }}</td>
          <td :title="`${s.platform} ${s.account}`">{{ s.platform }} {{ s.account }}</td>
          <td :title="[s.campaign, s.level].filter(Boolean).join(', ')">
            {{ s.level || s.campaign }}
          </td>
          <td class="number">
            {{ s.original }} {{ s.currency }}<span v-if="s.estimated" class="quiet"> est.</span>
          </td>
          <td class="number">{{ money(s.cost, trace.minor_digits) }}</td>
          <td class="number">{{ count(s.clicks) }}</td>
          <td><FileLine :file="s.file" :line="s.line" /></td>
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

th.day {
  width: 80px;
}

.platform {
  width: 104px;
}

.stated {
  width: 86px;
}

.cost {
  width: 62px;
}

.clicks {
  width: 48px;
}

.file {
  width: 98px;
}

td .quiet {
  margin-left: 4px;
}

.day,
.from {
  white-space: nowrap;
  font-size: 13px;
}
</style>
