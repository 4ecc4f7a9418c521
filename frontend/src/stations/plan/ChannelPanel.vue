<script setup lang="ts">
import { ref, watch } from 'vue'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useRehearseChannels, useTryChannel, type Rec, type RuleSection } from './queries'
import MovingTable from '../../shared/MovingTable.vue'

const props = defineProps<{ rules: Rec[]; section: RuleSection; draft?: boolean }>()
const url = ref('')
const referrer = ref('')
const tried = useTryChannel()
const counts = useRehearseChannels()

// What is being written changes with every letter: then a person asks for the count.
watch(
  () => props.rules,
  (rules) => (props.draft ? counts.reset() : counts.mutate({ rules, section: props.section })),
  { immediate: true },
)
const ask = () =>
  tried.mutate({ url: url.value, referrer: referrer.value, rules: props.rules, section: props.section })
</script>

<template>
  <section class="try" aria-label="Try the rules">
    <h2>Which rule matches it?</h2>
    <div class="ask" @keydown.enter.prevent="ask">
      <label
        >Address
        <input v-model="url" class="tool wide" placeholder="https://www.lunnick.example/boats?utm_source=…" />
      </label>
      <label
        >Referrer <input v-model="referrer" class="tool" placeholder="https://findery.example/, or empty" />
      </label>
      <v-btn @click="ask">Ask</v-btn>
    </div>
    <ProblemNote :error="tried.error.value" />
    <p v-if="tried.data.value" role="status">
      <b>{{ tried.data.value.channel }}</b> by {{ tried.data.value.why }}.
      <span class="quiet"
        >Read:
        {{
          Object.entries(tried.data.value.tags)
            .map(([k, v]) => `${k} ${v}`)
            .join(', ') || 'no tag'
        }}{{ tried.data.value.mark ? `, click mark ${tried.data.value.mark}` : ''
        }}{{ tried.data.value.referrer_host ? `, from ${tried.data.value.referrer_host}` : '' }}</span
      >
    </p>
    <v-btn v-if="draft" @click="counts.mutate({ rules, section })">Count real visits before and after</v-btn>
    <ProblemNote :error="counts.error.value" />
    <MovingTable v-if="counts.data.value?.length" aria-label="Visits by rule">
      <thead>
        <tr>
          <th>Rule</th>
          <th>Channel</th>
          <th class="number">Visits as kept</th>
          <th class="number">With these rules</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in counts.data.value" :key="row.why + row.channel">
          <td>{{ row.why }}</td>
          <td>{{ row.channel }}</td>
          <td class="number">{{ count(row.before) }}</td>
          <td class="number" :class="{ changed: row.before !== row.after }">
            {{ row.before !== row.after ? '→ ' : '' }}{{ count(row.after) }}
          </td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
.try {
  margin-top: 14px;
}

.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}

.wide {
  width: 380px;
  max-width: 60vw;
}

table {
  width: auto;
  min-width: min(560px, 100%);
}

.changed {
  font-weight: 650;
}
</style>
