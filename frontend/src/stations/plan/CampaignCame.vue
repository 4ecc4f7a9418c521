<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { credit, money } from '../../shared/format'
import { grouped } from './records'
import type { Rec } from './queries'

const props = defineProps<{ record: Rec; came: Schemas['Came'][] }>()
defineEmits<{ lock: [] }>()
const mine = computed(() => props.came.find((c) => c.name === props.record.name))
const expects = computed(() => props.record.expected_leads || props.record.expected_value)
const locked = computed(() =>
  props.record.locked_on ? `locked on ${String(props.record.locked_on)}` : 'not locked',
)
</script>

<template>
  <td class="number">{{ record.budget ? grouped(String(record.budget)) : '–' }}</td>
  <td class="number" title="Spend on the campaign's own days, its other costs and priced clicks with it">
    {{ mine ? money(mine.spend, mine.digits) : '–' }}
  </td>
  <td class="number" :title="`${record.expected_reason ?? ''} (${locked})`">
    <span v-if="record.expected_leads" class="under">{{ record.expected_leads }} leads </span>
    <template v-if="record.expected_value">{{ grouped(String(record.expected_value)) }}</template>
    <span v-if="record.locked_on" class="quiet under">locked {{ record.locked_on }}</span>
    <span v-else-if="!expects" class="quiet">–</span>
    <button
      v-else
      type="button"
      class="plain link no-print"
      title="Lock it from today on; nobody can change it afterwards"
      @click.stop="$emit('lock')"
    >
      Lock
    </button>
  </td>
  <td class="number" title="Credited on the campaign's own days, under the usual yardstick">
    <template v-if="mine">
      <span v-if="record.expected_leads" class="under">{{ credit(mine.leads) }} leads </span>
      {{ money(mine.value, mine.digits) }}
    </template>
    <span v-else class="quiet">–</span>
  </td>
</template>

<style scoped>
.under {
  display: block;
}

td {
  padding-block: 3px;
  vertical-align: top;
}
</style>
