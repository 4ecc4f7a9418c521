<script setup lang="ts">
import { nextTick, ref } from 'vue'
import LoadFile from '../../shared/LoadFile.vue'
import ExportControl from '../../shared/ExportControl.vue'
import { count } from '../../shared/format'
import { useRehearseSection, useTakeInSection, type How, type ListRehearsal } from './queries'
import type { SectionName } from './sections'

/** One list of records out as a file; a file in by adding, updating or replacing, each with what it would do. */
const props = defineProps<{ section: SectionName }>()
const emit = defineEmits<{ failed: [problem: unknown] }>()

const rehearse = useRehearseSection()
const takeIn = useTakeInSection()
const asked = ref<{ file: File; found: ListRehearsal } | null>(null)
const first = ref<HTMLElement>()
const fail = { onError: (problem: unknown) => emit('failed', problem) }

function look(file: File) {
  emit('failed', null)
  rehearse.mutate(
    { section: props.section, file },
    {
      ...fail,
      onSuccess: async (found) => {
        asked.value = { file, found }
        // Where nothing stands there is nothing to choose.
        if (found.gone + found.changed + found.same === 0) return take('replace')
        await nextTick()
        first.value?.querySelector('button')?.focus()
      },
    },
  )
}

function take(how: How) {
  const { file } = asked.value!
  asked.value = null
  takeIn.mutate({ section: props.section, file, how }, fail)
}
</script>

<template>
  <ExportControl :tables="[{ path: `/plan/sections/${section}` }]" />
  <LoadFile label="File of records" @file="look" />
  <div
    v-if="asked"
    ref="first"
    class="asked"
    role="group"
    aria-label="What to do with the file"
    @keydown.esc.stop="asked = null"
  >
    <p>
      {{ asked.file.name }}: {{ count(asked.found.rows) }} {{ asked.found.rows === 1 ? 'row' : 'rows' }},
      {{ count(asked.found.new) }} new, {{ count(asked.found.changed) }} changed,
      {{ count(asked.found.same) }} the same; {{ count(asked.found.gone) }} of the list
      {{ asked.found.gone === 1 ? 'is' : 'are' }} not in it.
    </p>
    <v-btn @click="take('add')">Add: {{ count(asked.found.new) }} new</v-btn>
    <v-btn @click="take('update')"
      >Update: {{ count(asked.found.new) }} new, {{ count(asked.found.changed) }} changed</v-btn
    >
    <v-btn @click="take('replace')">Replace: {{ count(asked.found.gone) }} removed as well</v-btn>
    <v-btn @click="asked = null">Leave the list as it is</v-btn>
  </div>
</template>

<style scoped>
.asked {
  flex-basis: 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  border-left: 3px solid var(--accent);
  padding: 2px 0 4px 10px;
}

.asked p {
  flex-basis: 100%;
  margin: 0;
}
</style>
