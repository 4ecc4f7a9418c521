<script setup lang="ts">
import { nextTick, ref } from 'vue'
import type { Load } from '../../api/client'
import { address } from '../../api/client'
import { count, instant } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useRedo, useUndo } from './queries'

const props = defineProps<{ loads: Load[] }>()
const undo = useUndo()
const redo = useRedo()
const body = ref<HTMLElement>()
const announced = ref('')
/** The focus stays in the line of what was undone or brought back, whose button is another one now. */
async function turn(load: Load) {
  const way = load.undone ? redo : undo
  const isDone = await way.mutateAsync(load.id).then(
    () => true,
    () => false,
  )
  if (!isDone) return
  announced.value = load.undone ? `${load.file} is back` : `${load.file} is undone`
  await nextTick()
  body.value?.querySelector<HTMLElement>(`[data-load="${load.id}"] .turn`)?.focus()
}
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
</script>

<template>
  <p class="unseen no-print" aria-live="polite">{{ announced }}</p>
  <ProblemNote :error="undo.error.value ?? redo.error.value" />
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
    <tbody ref="body">
      <tr v-for="load in props.loads" :key="load.id" :data-load="load.id" :class="{ undone: load.undone }">
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
          <span v-if="load.undone" class="quiet" :class="{ turn: !load.can_redo }" tabindex="-1"
            >undone
          </span>
          <button
            v-if="!load.undone || load.can_redo"
            type="button"
            class="plain link turn"
            :disabled="(!load.undone && !load.can_undo) || undo.isPending.value || redo.isPending.value"
            :title="
              load.undone
                ? `Bring the rows of ${load.file} back`
                : load.can_undo
                  ? `Take the rows of ${load.file} out of every figure`
                  : `A later load of ${load.subject} builds on it: undo that first`
            "
            @click="turn(load)"
          >
            {{ load.undone ? 'Redo' : 'Undo' }}
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
