<script setup lang="ts">
import MovingTable from '../../shared/MovingTable.vue'
import FileLine from './FileLine.vue'
import type { TraceList } from './traceLists'

/** One list of a trace. */
defineProps<{ list: TraceList }>()
</script>

<template>
  <section :aria-label="list.label">
    <h3>
      {{ list.title }}<span v-if="list.about" class="quiet"> {{ list.about }}</span>
    </h3>
    <p v-if="list.lead" class="quiet">{{ list.lead }}</p>
    <MovingTable>
      <thead>
        <tr>
          <th
            v-for="column in list.columns"
            :key="column.head"
            :class="{ number: column.number }"
            :style="column.width ? { width: `${column.width}px` } : undefined"
          >
            {{ column.head }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in list.rows" :key="row.key">
          <td
            v-for="(cell, i) in row.cells"
            :key="i"
            :class="{
              number: list.columns[i]!.number,
              small: list.columns[i]!.small,
              wraps: list.columns[i]!.wraps,
            }"
            :title="cell.hint"
          >
            <FileLine v-if="cell.line !== undefined" :file="cell.text" :line="cell.line" />
            <template v-else
              >{{ cell.text }}<span v-if="cell.quiet" class="quiet"> {{ cell.quiet }}</span></template
            >
          </td>
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

h3 .quiet {
  font-weight: 400;
}

p {
  font-size: 13px;
  margin: 0 0 4px;
}

td .quiet {
  margin-left: 4px;
}

.small {
  font-size: 13px;
  white-space: nowrap;
}

.wraps {
  overflow-wrap: anywhere;
}
</style>
