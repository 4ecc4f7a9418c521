<script setup lang="ts">
import { computed } from 'vue'
import type { Board } from '../../api/client'

/** What figures can be found again by, and what they rest on. */
const props = defineProps<{ board: Board }>()
/** The word or stage on whose day records stand, if they do not stand on their own. */
const event = computed(() => props.board.date_basis.split('event:')[1])
</script>

<template>
  <p class="stamp quiet">
    Fingerprint <b>{{ board.fingerprint }}</b> · data state <b>{{ board.data }}</b> · origin
    <b>{{ board.origin }}</b> · days in {{ board.time_zone }} · margin {{ board.margin }}
    <template v-if="board.date_basis === 'touch'"> · credit on the day of its touch</template>
    <template v-if="event">
      · records on the day of <b>{{ event }}</b>, {{ board.without_event }} never had it</template
    >
    <template v-if="board.rejected">
      · {{ board.rejected }} {{ board.rejected === 1 ? 'row' : 'rows' }} rejected for want of a rate</template
    >
  </p>
</template>

<style scoped>
.stamp {
  font-size: 13px;
  margin: 6px 0 0;
}
</style>
