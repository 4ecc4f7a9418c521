<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { count } from '../../shared/format'

defineProps<{ file: Schemas['FileRehearsal'] }>()
</script>

<template>
  <article>
    <p v-if="file.problem" class="problem"><strong>Not usable.</strong> {{ file.problem }}</p>
    <template v-else>
      <p>
        <strong>{{ file.file }}</strong> is <strong>{{ file.table }}</strong>: {{ count(file.read) }} read,
        {{ count(file.new) }} new, {{ count(file.replaced) }} replaced, {{ count(file.unchanged) }} unchanged,
        <template v-if="file.repeated">{{ count(file.repeated) }} repeated, </template>
        <span :class="{ bad: file.rejected }">{{ count(file.rejected) }} rejected</span>
        <span v-if="file.extra.length" class="quiet">; kept besides: {{ file.extra.join(', ') }}</span>
      </p>
      <p v-if="file.lines" class="quiet">
        {{ count(file.lines) }} lines = {{ count(file.header) }} header + {{ count(file.read) }} rows +
        {{ count(file.skipped) }} skipped (blank, or inside a cell)
      </p>
      <p v-if="file.lost" class="bad">
        {{ count(file.lost) }} {{ file.lost === 1 ? 'row' : 'rows' }} of days that are replaced would be gone
      </p>
      <ul v-if="file.rejected_rows.length || file.findings.length">
        <li v-for="row in file.rejected_rows" :key="`${row.line} ${row.column}`">
          <span class="bad">Line {{ row.line }}</span
          ><template v-if="row.column">, {{ row.column }}</template> <q v-if="row.value">{{ row.value }}</q>:
          {{ row.reason }}
        </li>
        <li v-for="(finding, i) in file.findings" :key="i" class="quiet">
          Line {{ finding.line }}, {{ finding.code.replaceAll('_', ' ')
          }}<template v-if="finding.field">, {{ finding.field }}</template> {{ finding.id || finding.value }}
        </li>
      </ul>
      <details v-if="file.sample.length">
        <summary>First rows</summary>
        <div class="scroll">
          <table>
            <thead>
              <tr>
                <th v-for="name in [...file.columns, ...file.extra]" :key="name">{{ name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, i) in file.sample" :key="i">
                <td v-for="(cell, j) in row" :key="j" :title="cell">{{ cell }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </details>
    </template>
  </article>
</template>

<style scoped>
article {
  border-bottom: 1px solid var(--line);
  padding: 5px 0;
}

p {
  margin: 0;
}

ul {
  margin: 2px 0 4px;
  padding-left: 20px;
  max-height: 160px;
  overflow: auto;
}

.bad,
.problem strong {
  color: var(--loses);
  font-weight: 600;
}

.scroll {
  overflow-x: auto;
}

td {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

summary {
  cursor: pointer;
  font-size: 13px;
}
</style>
