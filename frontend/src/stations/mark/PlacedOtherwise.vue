<script setup lang="ts">
import { computed } from 'vue'
import type { useSheet } from './useSheet'

const props = defineProps<{ sheet: ReturnType<typeof useSheet> }>()
const find = defineModel<string>({ required: true })

/** Links that went out with another address than their rows give now. */
const otherwise = computed(() => props.sheet.order.value.filter((k) => props.sheet.rows.get(k)?.made))
const one = computed(() => otherwise.value.length === 1)
</script>

<template>
  <p v-if="otherwise.length" class="otherwise no-print">
    {{ otherwise.length }} {{ one ? 'link was' : 'links were' }} placed with a different address from the one
    {{ one ? 'its row gives' : 'their rows give' }} now. What was placed stays as it is.
    <button
      type="button"
      class="plain link"
      @click="find = find === 'made_otherwise' ? '' : 'made_otherwise'"
    >
      {{ find === 'made_otherwise' ? 'See all' : 'See them' }}
    </button>
    <button type="button" class="plain link" @click="sheet.placeAnew(otherwise)">
      I placed the new {{ one ? 'address' : 'addresses' }}
    </button>
  </p>
</template>

<style scoped>
.otherwise {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  margin: 4px 0;
}
</style>
