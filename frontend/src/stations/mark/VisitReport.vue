<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { FATE_WORDS, FATES_THAT_ARE_WELL } from '../../api/declared'
import MovingTable from '../../shared/MovingTable.vue'

defineProps<{ visit: Schemas['Visit'] }>()
const well = (fate: keyof typeof FATE_WORDS) => (FATES_THAT_ARE_WELL as readonly string[]).includes(fate)
</script>

<template>
  <section aria-label="Test visit" role="status">
    <p v-for="step in visit.steps" :key="step.url" class="url">{{ step.status }} {{ step.url }}</p>
    <p v-if="visit.problem" class="loses">✕ {{ visit.problem }}</p>
    <slot />
    <MovingTable v-if="visit.fields.length">
      <thead>
        <tr>
          <th>Parameter</th>
          <th>Meant</th>
          <th>Arrived</th>
          <th>Verdict</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in visit.fields" :key="f.name">
          <td>{{ f.name }}</td>
          <td>{{ f.expected }}</td>
          <td>{{ f.arrived }}</td>
          <td :class="well(f.fate) ? 'pays' : 'loses'">
            {{ well(f.fate) ? '✓' : '✕' }} {{ FATE_WORDS[f.fate] }}
          </td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
table {
  width: auto;
  min-width: 480px;
}

.url {
  margin: 0;
  word-break: break-all;
}

.loses {
  color: var(--loses);
}

.pays {
  color: var(--pays);
}
</style>
