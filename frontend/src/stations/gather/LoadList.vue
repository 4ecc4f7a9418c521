<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Load } from '../../api/client'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import LoadTable from './LoadTable.vue'

const props = defineProps<{ loads: Load[] }>()
const find = ref('')
const found = computed(() => {
  const text = find.value.trim().toLowerCase()
  return props.loads.filter((load) =>
    `${load.file} ${load.source} ${load.subject} ${load.made_by}`.toLowerCase().includes(text),
  )
})
</script>

<template>
  <section aria-label="Loads">
    <header class="titled">
      <h2>Loads</h2>
      <FindField v-if="loads.length" v-model="find" label="Find a load" />
      <ExportControl v-if="loads.length" :tables="[{ path: '/gather/loads' }]" />
    </header>
    <p v-if="!loads.length" class="quiet">Nothing is loaded yet. Load a file, or drop some on this page.</p>
    <p v-else-if="!found.length" class="quiet">None of {{ loads.length }} contains “{{ find }}”.</p>
    <LoadTable v-else :loads="found" />
  </section>
</template>
