<script setup lang="ts">
/** The head of a page that is no station: what it is, what it answers, and what stands at its right end. */
defineProps<{ title: string; about?: string }>()
</script>

<template>
  <header>
    <h1>
      {{ title }} <small v-if="about" class="quiet">{{ about }}</small>
    </h1>
    <span class="aside no-print"><slot /></span>
  </header>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  gap: 4px 16px;
}

small {
  font-weight: 400;
  font-size: 14px;
}

.aside {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
}
</style>
