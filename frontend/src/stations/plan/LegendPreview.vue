<script setup lang="ts">
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { usePreviewLegend, type Rec } from './queries'
import MovingTable from '../../shared/MovingTable.vue'

const props = defineProps<{ draft: Rec }>()
const preview = usePreviewLegend()
const filled = () => Object.fromEntries(Object.entries(props.draft).filter(([, v]) => v !== '' && v !== null))
</script>

<template>
  <section class="preview" aria-label="Preview">
    <v-btn @click="preview.mutate(filled())">Preview on its visits</v-btn>
    <ProblemNote :error="preview.error.value" />
    <template v-if="preview.data.value">
      <p>
        {{ count(preview.data.value.visits) }} visits of this source from that day on.
        <template v-if="!preview.data.value.visits">Check the source's spelling.</template>
      </p>
      <MovingTable v-if="preview.data.value.fields.length">
        <thead>
          <tr>
            <th>Field</th>
            <th>Role now</th>
            <th>Role then</th>
            <th>Values</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="field in preview.data.value.fields" :key="field.field">
            <td>{{ field.field }}</td>
            <td>{{ field.before || '–' }}</td>
            <td :class="{ changed: field.before !== field.after }">{{ field.after || '–' }}</td>
            <td>
              <span v-for="v in field.values" :key="v.value" class="value"
                >{{ v.value }} ({{ v.visits }})</span
              >
              <span v-if="field.distinct > field.values.length" class="quiet"
                >and {{ field.distinct - field.values.length }} more</span
              >
              <p v-for="said in field.conflicts" :key="said" class="conflict">⚠ {{ said }}</p>
            </td>
          </tr>
        </tbody>
      </MovingTable>
    </template>
  </section>
</template>

<style scoped>
.preview {
  margin: 10px 0;
}

.value {
  margin-right: 8px;
}

.conflict {
  margin: 2px 0 0;
  color: var(--loses);
}

.changed {
  font-weight: 650;
}
</style>
