<script setup lang="ts">
/** Where a row came from: however little room there is, its line stays whole. */
defineProps<{ file: string; line: number }>()
</script>

<template>
  <span class="from" :title="`${file} ${line}`"
    ><span class="file">{{ file }}</span
    >&nbsp;{{ line }}</span
  >
</template>

<style scoped>
.from {
  display: inline-flex;
  max-width: 100%;
  font-size: 13px;
  white-space: nowrap;
}

.file {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
