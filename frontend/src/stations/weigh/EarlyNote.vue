<script setup lang="ts">
import { computed } from 'vue'
import type { Certainty } from '../../api/client'

const props = defineProps<{ certainty: Certainty }>()

/** The kinds of conversions of which too few have come by now for the range to be looked at. */
const early = computed(() =>
  Object.entries(props.certainty.come).flatMap(([kind, come]) =>
    come !== null && come < props.certainty.mature_share
      ? [`${Math.floor(come * 100)} % of the ${kind === 'sale' ? 'sales' : 'leads'}`]
      : [],
  ),
)
const needed = computed(() => Math.round(props.certainty.mature_share * 100))
const says = computed(
  () =>
    `Of what the touches of these days will have earned, ${early.value.join(' and ')} have come; ${needed.value} % are needed. Later days will look better`,
)
</script>

<template>
  <span v-if="early.length" class="early" role="status" :data-says="says" :title="says">
    <b>Too early.</b> {{ early.join(' and ') }} have come, {{ needed }} % are needed
  </span>
</template>

<style scoped>
.early {
  margin-left: auto;
  border-left: 3px solid var(--accent);
  padding-left: 8px;
}
</style>
