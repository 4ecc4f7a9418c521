<script setup lang="ts">
import { ref } from 'vue'
import FindField from './FindField.vue'

/** Finds records and people, on a page whose own rows are not looked through. */
const text = ref('')
</script>

<template>
  <FindField v-model="text" label="Find a record" placeholder="Find a record (/)" recent />
</template>
