<script setup lang="ts">
import FindField from '../../shared/FindField.vue'
import type { useSheet } from './useSheet'

/** What can be done to the rows that are picked. */
defineProps<{
  sheet: ReturnType<typeof useSheet>
  /** Rows that are picked, and rows shown. */
  chosen: number
  count: number
  /** Whether the column in focus has a naming pattern. */
  named: boolean
}>()
const emit = defineEmits<{
  add: []
  multiply: []
  sameBelow: []
  build: []
  remove: []
  preset: [name: string]
}>()
const find = defineModel<string>('find', { required: true })

function choose(event: Event) {
  const select = event.target as HTMLSelectElement
  emit('preset', select.value)
  select.value = ''
}
</script>

<template>
  <div class="tools no-print">
    <v-btn variant="flat" color="primary" :disabled="!sheet.loaded.value" title="n" @click="emit('add')"
      >Add a row</v-btn
    >
    <v-btn :disabled="!chosen" @click="emit('multiply')">One for each …</v-btn>
    <v-btn :disabled="!chosen" title="Ctrl D" @click="emit('sameBelow')">Same below</v-btn>
    <v-btn v-if="named" :disabled="!chosen" @click="emit('build')">Build a name …</v-btn>
    <v-btn :disabled="!chosen" @click="emit('remove')">Remove</v-btn>
    <select v-if="sheet.presets.value.length" class="tool" aria-label="Preset" @change="choose">
      <option value="">Preset …</option>
      <option v-for="p in sheet.presets.value" :key="p.name" :value="p.name">{{ p.name }}</option>
    </select>
    <FindField v-model="find" />
    <span class="quiet">{{ count }} of {{ sheet.order.value.length }} links</span>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}
</style>
