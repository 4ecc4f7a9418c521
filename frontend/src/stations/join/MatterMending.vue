<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'
import type { Schemas } from '../../api/client'
import type { useByHand } from '../plan/useByHand'
import { elsewhere, isOfPages, renamed } from './matterWords'

/** What mends a matter, each a sentence with blanks; all of it is tried before it is kept. */
const props = defineProps<{
  matter: Schemas['OpenMatter']
  likely: string
  byHand: ReturnType<typeof useByHand>
}>()
const { busy } = props.byHand
const MEANINGS = ['counts', 'does not count', 'good']
const value = computed(() => renamed(props.matter.kind, props.matter.object))
const other = computed(() => elsewhere(props.matter.kind))
/** The parameter of the click mark that the arrivals of a matter carry. */
const mark = computed(() => (props.matter.kind === 'untagged_mark' ? props.matter.object[0] : undefined))
const meant = ref('')
const page = ref('')
const source = ref('')
const campaign = ref('')
const from = ref('')
const until = ref('')
watch(
  () => props.matter,
  (now, before) => {
    if (before && now.kind === before.kind && now.object.join() === before.object.join()) return
    meant.value = now.kind === 'near_value' ? now.said : ''
    page.value = now.pages[0] ?? ''
    source.value = props.likely
    campaign.value = ''
    from.value = now.first_day
    until.value = now.last_day
  },
  { immediate: true },
)
const id = useId()
const sameAs = () =>
  meant.value.trim() && props.byHand.sameAs(value.value!.field, value.value!.old, meant.value.trim())
const readPage = () =>
  props.byHand.readPage(page.value, {
    source: source.value.trim(),
    campaign: campaign.value.trim(),
    from: from.value,
    until: until.value,
    mark: mark.value,
  })
</script>

<template>
  <p v-if="matter.kind === 'unlisted_word'">
    It
    <button
      v-for="means in MEANINGS"
      :key="means"
      type="button"
      class="tool means"
      :disabled="busy"
      @click="byHand.giveMeaning(matter.object[0]!, means)"
    >
      {{ means }}
    </button>
  </p>
  <p v-else-if="matter.kind === 'shared_identifier'" class="quiet">
    It joins nobody as it stands; the limit is in Plan, Workspace.
  </p>
  <form v-if="value" @submit.prevent="sameAs">
    <label :for="`${id} meant`">{{ value.old }} is the same {{ value.field }} as</label>
    <input :id="`${id} meant`" v-model="meant" type="text" autocomplete="off" class="tool" />
    <button type="submit" class="tool" :disabled="busy || !meant.trim()">Try it</button>
  </form>
  <form v-if="isOfPages(matter.kind) && matter.pages.length" @submit.prevent="readPage">
    <label :for="`${id} page`">Untagged arrivals {{ mark ? `with ${mark} ` : '' }}on</label>
    <select :id="`${id} page`" v-model="page" class="tool">
      <option v-for="one in matter.pages" :key="one">{{ one }}</option>
    </select>
    <label :for="`${id} from`">from</label>
    <input :id="`${id} from`" v-model="from" type="date" class="tool" />
    <label :for="`${id} until`">until</label>
    <input :id="`${id} until`" v-model="until" type="date" class="tool" />
    <label :for="`${id} source`">are source</label>
    <input :id="`${id} source`" v-model="source" type="text" autocomplete="off" class="tool short" />
    <label :for="`${id} campaign`">campaign</label>
    <input :id="`${id} campaign`" v-model="campaign" type="text" autocomplete="off" class="tool" />
    <button type="submit" class="tool" :disabled="busy || !page || !(source.trim() || campaign.trim())">
      Try it
    </button>
  </form>
  <p v-if="other">
    <router-link class="link" :to="other.to">{{ other.words }}</router-link>
  </p>
</template>

<style scoped>
select {
  max-width: 260px;
}

.means {
  margin-right: 8px;
}
</style>
