<script setup lang="ts">
import type { Load } from '../../api/client'
import ExportControl from '../../shared/ExportControl.vue'
import LoadTable from './LoadTable.vue'

defineProps<{ loads: Load[] }>()
</script>

<template>
  <section aria-label="Loads">
    <header class="titled">
      <h2>Loads</h2>
      <ExportControl v-if="loads.length" :tables="[{ path: '/gather/loads' }]" />
    </header>
    <p v-if="!loads.length" class="quiet">Nothing is loaded yet. Load a file, or drop some on this page.</p>
    <LoadTable v-else :loads="loads" />
  </section>
</template>
