<script setup lang="ts">
/** What happens while a view has nothing to show yet. */
defineProps<{ what: string }>()
</script>

<template>
  <p class="quiet working" role="status">{{ what }}</p>
</template>

<style scoped>
.working {
  margin: 24px 0;
  animation: late 0.2s 0.15s both;
}

/* An answer that is there at once needs no word before it. */
@keyframes late {
  from {
    visibility: hidden;
  }
}
</style>
