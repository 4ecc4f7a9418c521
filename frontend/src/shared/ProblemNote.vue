<script setup lang="ts">
defineProps<{ error: unknown }>()
</script>

<template>
  <p v-if="error" class="problem" role="alert">{{ (error as Error).message }}</p>
</template>

<style scoped>
.problem {
  border-left: 4px solid var(--loses);
  background: var(--sheet);
  padding: 6px 10px;
  margin: 8px 0;
  max-width: 900px;
}
</style>
