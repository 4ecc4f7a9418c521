<script setup lang="ts">
import { computed, toRef } from 'vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import type { Plan } from '../plan/queries'
import RecordForm from '../plan/RecordForm.vue'
import RecordTable from '../plan/RecordTable.vue'
import { PLATFORMS } from '../plan/sections'
import { useRecords } from '../plan/useRecords'

const props = defineProps<{ plan: Plan }>()
const plan = toRef(props, 'plan')
const { change, open, records, numbers, edit, close, keep, remove, move } = useRecords(
  plan,
  computed(() => PLATFORMS),
)
</script>

<template>
  <section aria-label="Platforms" class="platforms">
    <header>
      <h2>Platforms</h2>
      <span class="quiet">{{ PLATFORMS.purpose }}</span>
      <button type="button" class="plain link no-print" @click="edit(records.length, {})">
        Add a platform
      </button>
    </header>
    <ProblemNote v-if="!open" :error="change.error.value" />
    <RecordTable
      v-if="records.length"
      :section="PLATFORMS"
      :records="records"
      find=""
      :selected="open?.at ?? null"
      :numbers="numbers"
      @edit="edit($event)"
      @remove="remove"
      @move="move"
    />
    <RecordForm
      v-if="open"
      :title="open.isNew ? 'New platform' : 'Change this platform'"
      :fields="plan.fields.platform!"
      :record="open.record"
      :error="change.error.value"
      :busy="change.isPending.value"
      @keep="keep"
      @close="close"
    />
  </section>
</template>

<style scoped>
.platforms {
  margin: 12px 0;
}

header {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: baseline;
}

header .link {
  margin-left: auto;
}
</style>
