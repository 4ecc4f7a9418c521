<script setup lang="ts">
import type { Load } from '../../api/client'
import LoadTable from './LoadTable.vue'

defineProps<{ loads: Load[] }>()
</script>

<template>
  <section aria-label="Loads">
    <h2>Loads</h2>
    <p v-if="!loads.length" class="quiet">Nothing is loaded yet. Choose files above, or drop them there.</p>
    <LoadTable v-else :loads="loads" />
  </section>
</template>
