<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Rec } from './queries'
import { headOf, type Section } from './sections'
import { matches, shown } from './records'

const props = defineProps<{
  section: Section
  records: Rec[]
  find: string
  selected: number | null
  numbers: string[]
}>()
const emit = defineEmits<{ edit: [at: number]; remove: [at: number]; move: [from: number, to: number] }>()

const rows = computed(() =>
  props.records.map((record, at) => ({ record, at })).filter(({ record }) => matches(record, props.find)),
)
const columns = computed(() => {
  const used = new Set(props.records.flatMap((r) => Object.keys(r)))
  const [first] = props.section.columns
  return props.section.columns.filter((c) => c === first || used.has(c) || !props.records.length)
})
/** A day, a code or another short word stays on one line. */
const isToken = (value: unknown) => /^\S{1,14}$/.test(shown(value))
const dragged = ref<number | null>(null)

function drop(to: number) {
  if (dragged.value !== null && dragged.value !== to) emit('move', dragged.value, to)
  dragged.value = null
}
</script>

<template>
  <p v-if="!records.length" class="quiet">
    Nothing here yet. Add the first {{ section.one }} with the button above.
  </p>
  <p v-else-if="!rows.length" class="quiet">None of {{ records.length }} contains “{{ find }}”.</p>
  <table v-else>
    <thead>
      <tr>
        <th v-if="section.ordered" class="number">No.</th>
        <th v-for="name in columns" :key="name" :class="{ number: numbers.includes(name) }">
          {{ headOf(name) }}
        </th>
        <slot name="head" />
        <th class="no-print"><span class="hidden">Actions</span></th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="{ record, at } in rows"
        :key="at"
        :class="{ chosen: at === selected, dragged: at === dragged }"
        :draggable="section.ordered"
        @dragstart="dragged = at"
        @dragover.prevent
        @drop="drop(at)"
      >
        <td v-if="section.ordered" class="number grip">{{ at + 1 }}</td>
        <td
          v-for="(name, i) in columns"
          :key="name"
          :class="{ number: numbers.includes(name), token: isToken(record[name]) }"
        >
          <button v-if="i === 0" type="button" class="plain link" @click="$emit('edit', at)">
            {{ shown(record[name]) || '(empty)' }}
          </button>
          <template v-else>{{ shown(record[name]) }}</template>
        </td>
        <slot :record="record" />
        <td class="number actions no-print">
          <template v-if="section.ordered">
            <button
              type="button"
              class="plain"
              :disabled="at === 0"
              :aria-label="`Move ${shown(record[columns[0]!])} up`"
              title="Move up"
              @click="$emit('move', at, at - 1)"
            >
              ↑
            </button>
            <button
              type="button"
              class="plain"
              :disabled="at === records.length - 1"
              :aria-label="`Move ${shown(record[columns[0]!])} down`"
              title="Move down"
              @click="$emit('move', at, at + 1)"
            >
              ↓
            </button>
          </template>
          <button
            type="button"
            class="plain link"
            :aria-label="`remove ${shown(record[columns[0]!])}`"
            @click="$emit('remove', at)"
          >
            remove
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td {
  padding-block: 3px;
  vertical-align: top;
}

.chosen td {
  background: color-mix(in srgb, var(--accent) 14%, transparent);
}

.dragged {
  opacity: 0.5;
}

.token {
  white-space: nowrap;
}

td:not(.grip):first-child,
.grip + td {
  min-width: 150px;
}

.grip {
  cursor: grab;
}

.actions {
  white-space: nowrap;
}

.actions button {
  margin-left: 8px;
}

th {
  position: relative;
}

.hidden {
  position: absolute;
  clip-path: inset(50%);
}
</style>
