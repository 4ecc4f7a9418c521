<script setup lang="ts">
import { computed } from 'vue'

/** An address to be read and typed off: it breaks before an & alone, unless a part of it is wider than its line. */
const props = defineProps<{ url: string }>()
const parts = computed(() => props.url.split(/(?=&)/))
</script>

<template>
  <span class="address-text"
    ><span v-for="(part, i) in parts" :key="i">{{ part }}</span></span
  >
</template>

<style scoped>
.address-text > span {
  display: inline-block;
  max-width: 100%;
  overflow-wrap: anywhere;
}
</style>
