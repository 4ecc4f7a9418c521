<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { ref, watch } from 'vue'

/**
 * A table of plain cells. On a narrow screen one that is wider than its place moves by itself; without a control inside
 * it could not be moved by keys, so Tab stops at it while it is too wide.
 */
const table = ref<HTMLElement>()
const stop = ref<0>()
const { width } = useElementSize(table)
watch(
  [table, width],
  () => {
    const here = table.value
    stop.value = here && here.scrollWidth > here.clientWidth + 1 ? 0 : undefined
  },
  { flush: 'post' },
)
</script>

<template>
  <table ref="table" :tabindex="stop">
    <slot />
  </table>
</template>
