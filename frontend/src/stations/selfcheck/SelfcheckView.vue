<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import MovingTable from '../../shared/MovingTable.vue'

const found = useQuery({ queryKey: ['selfcheck'], queryFn: () => answer(api.GET('/selfcheck')) })
const held = computed(() => found.data.value?.filter((one) => one.holds).length ?? 0)
</script>

<template>
  <h1>Self-check <small class="quiet">does this program compute what it should?</small></h1>
  <p class="about">
    Examples that are published, or small enough to be worked out by hand, computed just now by the program
    that weighs your data. The same from a terminal: <code>yardstick selfcheck</code>.
  </p>
  <ProblemNote :error="found.error.value" />
  <WorkingNote v-if="found.isLoading.value" what="Working out every example." />
  <template v-if="found.data.value">
    <p role="status">
      <b>{{ held }} of {{ found.data.value.length }}</b> examples hold.
      <ExportControl :tables="[{ path: '/selfcheck' }]" />
    </p>
    <MovingTable>
      <thead>
        <tr>
          <th>Rule</th>
          <th>Given</th>
          <th class="number">Wanted</th>
          <th class="number">Got</th>
          <th><span class="unseen">Actions</span></th>
          <th>Wanted by</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="one in found.data.value"
          :key="`${one.rule} ${one.example}`"
          :class="{ wrong: !one.holds }"
        >
          <td>{{ one.rule }}</td>
          <td>{{ one.example }}</td>
          <td class="number found">{{ one.wanted || 'no figure' }}</td>
          <td class="number found">{{ one.got || 'no figure' }}</td>
          <td class="says">{{ one.holds ? '✓ holds' : '✕ does not hold' }}</td>
          <td class="quiet">{{ one.source }}</td>
        </tr>
      </tbody>
    </MovingTable>
  </template>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

.about {
  max-width: 90ch;
  margin: 4px 0;
}

/* Some are lists of figures. */
.found {
  white-space: normal;
  overflow-wrap: anywhere;
  min-width: 9ch;
}

.says {
  white-space: nowrap;
  color: var(--pays);
}

.wrong .says {
  color: var(--loses);
  font-weight: 650;
}
</style>
