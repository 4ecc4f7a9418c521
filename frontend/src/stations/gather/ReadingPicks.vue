<script setup lang="ts">
import { computed } from 'vue'
import { goesTo, sent, type FileRehearsal, type Reading, type TableColumn } from './reading'

const props = defineProps<{ file: FileRehearsal; reading: Reading; columns: TableColumn[] }>()
const emit = defineEmits<{ put: [next: Partial<Reading>] }>()

const pick = (written: string, event: Event) =>
  emit('put', sent(props.reading, written, (event.target as HTMLSelectElement).value))
const split = (written: string) =>
  props.reading.split?.find((s) => s.column === written)?.into.filter(Boolean)
const joined = (written: string) => props.reading.join?.find((j) => j.columns.includes(written))?.into
const rowsThere = computed(() => props.file.preview.filter((row) => row.stands.length || row.reason))
</script>

<template>
  <div class="tables">
    <div class="scroll" tabindex="0" aria-label="The first rows as they came">
      <table>
        <caption>
          As it came
        </caption>
        <thead>
          <tr>
            <th class="number">Line</th>
            <th v-for="name in file.names" :key="name" scope="col">
              <span class="written">{{ name }}</span>
              <span v-if="split(name)" class="quiet">split: {{ split(name)!.join(', ') }}</span>
              <span v-else-if="joined(name)" class="quiet">part of {{ joined(name) }}</span>
              <label v-else class="pick" :class="{ used: goesTo(reading, name) }">
                is
                <select
                  class="as-text"
                  :aria-label="`${name} goes to`"
                  :value="goesTo(reading, name)"
                  @change="pick(name, $event)"
                >
                  <option value="">an extra column</option>
                  <option v-for="c in columns" :key="c.name" :value="c.name">
                    {{ c.name.replaceAll('_', ' ') }}{{ c.required ? ' *' : '' }}
                  </option>
                </select>
              </label>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in file.preview" :key="row.line">
            <td class="number quiet">{{ row.line }}</td>
            <td v-for="(cell, i) in row.came" :key="i" :title="cell">{{ cell }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div
      v-if="file.columns.length"
      class="scroll"
      tabindex="0"
      aria-label="The first rows as they will be kept"
    >
      <table>
        <caption>
          As it will be kept
        </caption>
        <thead>
          <tr>
            <th class="number">Line</th>
            <th v-for="name in file.columns" :key="name" scope="col">{{ name.replaceAll('_', ' ') }}</th>
            <th v-for="name in file.extra" :key="`extra ${name}`" scope="col" class="quiet">{{ name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rowsThere" :key="row.line">
            <td class="number quiet">{{ row.line }}</td>
            <td v-if="row.reason" class="bad" :colspan="file.columns.length + file.extra.length">
              <template v-if="row.column">{{ row.column.replaceAll('_', ' ') }}: </template>{{ row.reason }}
            </td>
            <template v-else>
              <td v-for="(cell, i) in row.stands" :key="i" :title="cell">{{ cell }}</td>
            </template>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  margin-bottom: 6px;
}

caption {
  text-align: left;
  font-weight: 600;
  font-size: 13px;
}

th {
  vertical-align: bottom;
}

.written {
  display: block;
}

.pick {
  font-size: 13px;
  font-weight: 400;
  color: var(--unsure);
  white-space: nowrap;
}

.used {
  color: var(--ink);
}

td {
  max-width: 190px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.bad {
  color: var(--loses);
}
</style>
