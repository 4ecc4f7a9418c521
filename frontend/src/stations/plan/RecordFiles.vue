<script setup lang="ts">
import LoadFile from '../../shared/LoadFile.vue'
import ExportControl from '../../shared/ExportControl.vue'
import { useTakeInSection } from './queries'
import type { SectionName } from './sections'

/** One list of records out as a file, and a file in its place. */
const props = defineProps<{ section: SectionName }>()
const emit = defineEmits<{ failed: [problem: unknown] }>()

const takeIn = useTakeInSection()
function take(file: File) {
  emit('failed', null)
  takeIn.mutate({ section: props.section, file }, { onError: (problem) => emit('failed', problem) })
}
</script>

<template>
  <ExportControl :tables="[{ path: `/plan/sections/${section}` }]" />
  <LoadFile
    label="File of records"
    hint="The file's rows take the place of these records; it can be undone"
    @file="take"
  />
</template>
