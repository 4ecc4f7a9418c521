<script setup lang="ts">
import { computed } from 'vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { instant } from '../../shared/format'
import { useShareRules, useSharedRules, useTakeOverRules, useWithdrawRules } from './queries'

defineProps<{ basis: number; zone: string; rules: number }>()

const shared = useSharedRules()
const share = useShareRules()
const withdraw = useWithdrawRules()
const takeOver = useTakeOverRules()

const list = computed(() => shared.data.value)
const busy = computed(() => share.isPending.value || withdraw.isPending.value || takeOver.isPending.value)
const error = computed(
  () => shared.error.value ?? share.error.value ?? withdraw.error.value ?? takeOver.error.value,
)
const differs = computed(() =>
  [
    list.value?.only_shared.length ? `only shared: ${list.value.only_shared.join(', ')}` : '',
    list.value?.only_here.length ? `only here: ${list.value.only_here.join(', ')}` : '',
  ]
    .filter(Boolean)
    .join('; '),
)
</script>

<template>
  <section v-if="list" class="shared" aria-label="Shared with other workspaces">
    <p role="status">
      <template v-if="!list.version">Nothing is shared between workspaces yet.</template>
      <template v-else>
        Shared by {{ list.mine ? 'this workspace' : `workspace ${list.by}` }},
        {{ list.records.length }} rule{{ list.records.length === 1 ? '' : 's' }},
        {{ instant(list.shared_at!, zone) }}.
        <template v-if="list.same">✓ These are the same.</template>
        <b v-else>These differ: {{ differs || 'another order' }}.</b>
      </template>
    </p>
    <p v-if="!list.same || list.mine" class="choice no-print">
      <v-btn
        v-if="list.version && !list.same"
        :disabled="busy"
        @click="takeOver.mutate({ version: list.version, basis: basis })"
        >Take the shared rules over</v-btn
      >
      <v-btn v-if="!list.same && (rules || list.version)" :disabled="busy" @click="share.mutate(list.version)"
        >Share these with every workspace</v-btn
      >
      <v-btn v-if="list.mine && list.version" :disabled="busy" @click="withdraw.mutate(list.version)"
        >Take back what was shared</v-btn
      >
    </p>
    <ProblemNote :error="error" />
  </section>
</template>

<style scoped>
.shared {
  border-left: 3px solid var(--line);
  padding-left: 10px;
  margin-bottom: 10px;
}

.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 4px;
}
</style>
