<script setup lang="ts">
import { useWindowVirtualizer } from '@tanstack/vue-virtual'
import { useElementBounding, useWindowScroll } from '@vueuse/core'
import { computed, ref } from 'vue'

/** Of hundreds of rows of one height those in sight, with some around them; the page scrolls, not the table. */
const props = defineProps<{ count: number; height: number; columns: number }>()
const AROUND = 15

const body = ref<HTMLElement>()
const { top } = useElementBounding(body)
const { y } = useWindowScroll()
const lines = useWindowVirtualizer(
  computed(() => ({
    count: props.count,
    estimateSize: () => props.height,
    overscan: AROUND,
    scrollMargin: Math.round(top.value + y.value),
  })),
)
const inSight = computed(() => lines.value.getVirtualItems())
const first = computed(() => inSight.value[0]?.index ?? 0)
const end = computed(() => (inSight.value.at(-1)?.index ?? -1) + 1)
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
