<script setup lang="ts">
import { useElementBounding, useWindowSize } from '@vueuse/core'
import { computed, ref } from 'vue'

/** Of hundreds of rows of one height those in sight, with some around them; the page scrolls, not the table. */
const props = defineProps<{ count: number; height: number; columns: number }>()
const AROUND = 8

const body = ref<HTMLElement>()
// Where the rows are goes by one measure alone: of two, one could be older than the other.
const { top } = useElementBounding(body)
const { height: seen } = useWindowSize()
const first = computed(() =>
  Math.max(0, Math.min(props.count - 1, Math.floor(-top.value / props.height) - AROUND)),
)
const end = computed(() =>
  Math.min(props.count, first.value + Math.ceil(seen.value / props.height) + 2 * AROUND),
)
</script>

<template>
  <tbody ref="body">
    <tr v-if="first" aria-hidden="true" :style="{ height: `${first * height}px` }">
      <td :colspan="columns" />
    </tr>
    <slot :first="first" :end="end" />
    <tr v-if="end < count" aria-hidden="true" :style="{ height: `${(count - end) * height}px` }">
      <td :colspan="columns" />
    </tr>
  </tbody>
</template>
