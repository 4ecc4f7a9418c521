<script setup lang="ts">
import type { Trace } from '../../api/client'
import { count, credit, money } from '../../shared/format'

defineProps<{ trace: Trace }>()
</script>

<template>
  <section aria-label="Where the untagged touches came from">
    <h3>Where these touches came from and where they landed</h3>
    <table>
      <thead>
        <tr>
          <th class="channel">Channel</th>
          <th class="referrer">Referrer</th>
          <th>Landing page</th>
          <th class="number few">Touches</th>
          <th class="number few">Credited</th>
          <th class="number worth">{{ trace.currency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="o in trace.openings" :key="`${o.channel} ${o.referrer_host} ${o.landing_page}`">
          <td :title="o.channel">{{ o.channel }}</td>
          <td :title="o.referrer_host">{{ o.referrer_host || '–' }}</td>
          <td class="page" :title="o.landing_page">
            {{ o.landing_page.replace(/^https?:\/\//, '') || '–' }}
          </td>
          <td class="number">{{ count(o.touches) }}</td>
          <td class="number">{{ credit(o.share) }}</td>
          <td class="number">{{ money(o.value, trace.minor_digits) }}</td>
        </tr>
      </tbody>
    </table>
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

.channel {
  width: 104px;
}

.referrer {
  width: 110px;
}

.few {
  width: 66px;
}

.worth {
  width: 84px;
}

.page {
  overflow-wrap: anywhere;
}
</style>
