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
</script>

<template>
  <p v-if="early.length" class="early" role="status">
    <b>Too early.</b> Of what the touches of these days will have earned, {{ early.join(' and ') }} have come;
    {{ Math.round(certainty.mature_share * 100) }} % are needed. Later days will look better.
  </p>
</template>

<style scoped>
.early {
  margin: 0 0 4px;
  border-left: 3px solid var(--accent);
  padding-left: 8px;
  font-size: 14px;
}
</style>
