<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useChangeRecords, usePlan, type Rec } from '../plan/queries'
import type { SheetRow } from './useSheet'

/** What a row names and the plan does not know is registered where it was met. */
const props = defineProps<{ row: SheetRow }>()
const emit = defineEmits<{ changed: [] }>()

const plan = usePlan()
const change = useChangeRecords()
const sectionOf = (name: string) => (plan.data.value?.sections[name] ?? []) as Rec[]
const campaign = computed(() =>
  props.row.findings.some((f) => f.code === 'unknown_campaign') ? props.row.cells.campaign?.trim() : '',
)
const page = computed(() => {
  const text = props.row.cells.page?.trim() ?? ''
  const known = sectionOf('landing_page').some((p) => p.name === text || p.address === text.split('?')[0])
  return props.row.url && /^https?:/i.test(text) && !known ? text.split(/[?#]/)[0]! : ''
})
const called = ref<string | null>(null)
const field = ref<HTMLInputElement>()

async function nameIt() {
  called.value = new URL(page.value).pathname.replaceAll('/', ' ').trim() || 'Front page'
  await nextTick()
  field.value?.focus()
}

async function register(section: string, record: Rec, what: string) {
  const list = [...sectionOf(section), record]
  await change.mutateAsync({ section, basis: plan.data.value!.basis, records: list, what })
  called.value = null
  emit('changed')
}
const registerCampaign = () =>
  register('campaign', { name: campaign.value, state: 'approved' }, `campaign ${campaign.value} added`).catch(
    () => {},
  )
const registerPage = () =>
  register(
    'landing_page',
    { name: called.value!.trim(), address: page.value },
    `page ${called.value} added`,
  ).catch(() => {})
</script>

<template>
  <p v-if="campaign || page" class="register no-print">
    <button v-if="campaign" type="button" class="plain link" @click="registerCampaign">
      Register the campaign {{ campaign }}
    </button>
    <button v-if="page && called === null" type="button" class="plain link" @click="nameIt">
      Register this page
    </button>
  </p>
  <form v-if="page && called !== null" class="register" @submit.prevent="registerPage">
    <label>
      Call {{ page }}
      <input ref="field" v-model="called" class="tool" @keydown.esc.stop="called = null" />
    </label>
    <v-btn type="submit" variant="flat" color="primary" :disabled="!called.trim()">Register</v-btn>
  </form>
  <ProblemNote :error="change.error.value" />
</template>

<style scoped>
.register {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin: 2px 0;
}
</style>
