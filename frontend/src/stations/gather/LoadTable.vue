<script setup lang="ts">
import type { Load } from '../../api/client'
import { address } from '../../api/client'
import { count, instant } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useUndo } from './queries'

defineProps<{ loads: Load[] }>()
const undo = useUndo()
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
</script>

<template>
  <ProblemNote :error="undo.error.value" />
  <table>
    <thead>
      <tr>
        <th>File</th>
        <th>Source or table</th>
        <th>Loaded ({{ zone }})</th>
        <th>By</th>
        <th class="number">Rows read</th>
        <th class="number">New</th>
        <th class="number">Replaced</th>
        <th class="number">Unchanged</th>
        <th class="number" title="The same as a row of the same file: counts once">Repeated</th>
        <th class="number">Rejected</th>
        <th><span class="unseen">Actions</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="load in loads" :key="load.id" :class="{ undone: load.undone }">
        <td>{{ load.file }}</td>
        <td>{{ load.source || load.subject.replaceAll('_', ' ') }}</td>
        <td>{{ instant(load.made_at, zone) }}</td>
        <td>{{ load.made_by }}</td>
        <td class="number">{{ count(load.read) }}</td>
        <td class="number">{{ count(load.new) }}</td>
        <td class="number">{{ count(load.replaced) }}</td>
        <td class="number">{{ count(load.unchanged) }}</td>
        <td class="number">{{ count(load.repeated) }}</td>
        <td class="number">
          <a
            v-if="load.rejected"
            class="link"
            :href="address(`/gather/loads/${load.id}/rejected.csv`)"
            title="The rejected rows with their reasons, as CSV"
            download
          >
            {{ count(load.rejected) }}
          </a>
          <template v-else>0</template>
        </td>
        <td class="number">
          <span v-if="load.undone" class="quiet">undone</span>
          <button
            v-else
            type="button"
            class="plain link"
            :disabled="!load.can_undo || undo.isPending.value"
            :title="
              load.can_undo
                ? `Take ${load.file} out again`
                : `A later load of ${load.subject} stands on it: undo that first`
            "
            @click="undo.mutate(load.id)"
          >
            Undo
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td {
  padding-block: 3px;
}

.undone td {
  color: var(--unsure);
  text-decoration: line-through;
}

.undone td:last-child {
  text-decoration: none;
}

button:disabled {
  color: var(--unsure);
  cursor: not-allowed;
  text-decoration: none;
}
</style>
