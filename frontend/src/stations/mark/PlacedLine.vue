<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { count } from '../../shared/format'
import ArrivalTicks from './ArrivalTicks.vue'
import { saysOf, stateOf, toldOf } from './placed'

/** A link on the placing list: where it is, its state, what arrives. */
defineProps<{ link: Schemas['PlacedLink'] }>()
defineEmits<{ test: [] }>()
</script>

<template>
  <tr class="placed" :data-says="saysOf(link)" :title="link.url">
    <td class="short">{{ [link.campaign, toldOf(link)].filter(Boolean).join(' · ') }}</td>
    <td class="short" :title="[link.placement, link.box].filter(Boolean).join(', ')">
      {{ link.placement || link.box }}
    </td>
    <td class="state" :class="{ loses: link.late || link.draft }">
      {{ stateOf(link) }}<template v-if="link.due && !link.visits">, due {{ link.due }}</template>
    </td>
    <td><ArrivalTicks :weeks="link.weeks ?? []" /></td>
    <td class="number">{{ count(link.visits) }}</td>
    <td class="number">{{ link.short ? count(link.clicks) : '' }}</td>
    <td class="day">{{ link.last }}</td>
    <td class="short">{{ link.mender }}</td>
    <td class="number">
      <button type="button" class="plain link no-print" :data-says="saysOf(link)" @click="$emit('test')">
        Test visit
      </button>
    </td>
  </tr>
</template>

<style scoped>
td {
  height: 24px;
  padding-block: 0;
}

@media (max-width: 700px) {
  td:nth-child(2),
  td:nth-child(8) {
    max-width: 120px;
  }
}

.state,
.day,
.short {
  white-space: nowrap;
}

.short {
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.loses {
  color: var(--loses);
}
</style>
