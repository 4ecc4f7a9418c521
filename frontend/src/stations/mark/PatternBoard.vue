<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import ProblemNote from '../../shared/ProblemNote.vue'
import VisitReport from './VisitReport.vue'

const there = useQuery({ queryKey: ['patterns'], queryFn: () => answer(api.GET('/mark/patterns')) })
const platform = useAddressState('platform')
const campaign = useAddressState('campaign')
const group = useAddressState('group')
const kind = useAddressState('kind')
const landing = useAddressState('landing')

const asked = computed(() => ({
  platform: platform.value || there.data.value?.platforms[0] || '',
  campaign: campaign.value,
  group: group.value,
  kind: kind.value,
  landing: landing.value,
}))
const resolved = useQuery({
  queryKey: ['resolved', asked],
  queryFn: () => answer(api.GET('/mark/patterns/resolved', { params: { query: asked.value } })),
  enabled: computed(() => !!asked.value.platform),
})
const click = useAddressState('click')
const value = (event: Event) => (event.target as HTMLInputElement).value
const visit = useMutation<Schemas['Visit'], Problem>({
  mutationFn: () =>
    answer(api.POST('/mark/patterns/visit', { body: { ...asked.value, click: click.value.trim() } })),
})
const copy = () => navigator.clipboard.writeText(resolved.data.value?.address ?? '')
</script>

<template>
  <ProblemNote :error="there.error.value ?? resolved.error.value" />
  <p v-if="there.data.value && !there.data.value.platforms.length" class="quiet">
    No pattern yet.
    <router-link class="link" to="/plan?section=dialect">Enter how a platform writes its slots</router-link>,
    then <router-link class="link" to="/plan?section=pattern">set a pattern</router-link>.
  </p>
  <template v-else-if="there.data.value">
    <div class="tools no-print">
      <label
        >Platform
        <select class="tool" :value="asked.platform" @change="platform = value($event)">
          <option v-for="p in there.data.value.platforms" :key="p">{{ p }}</option>
        </select>
      </label>
      <label
        >Campaign
        <input class="tool" list="pattern-campaigns" :value="campaign" @change="campaign = value($event)" />
      </label>
      <label
        >Group <input class="tool" list="pattern-groups" :value="group" @change="group = value($event)" />
      </label>
      <label v-if="there.data.value.kinds.length"
        >Kind
        <select class="tool" :value="kind" @change="kind = value($event)">
          <option value="">any</option>
          <option v-for="k in there.data.value.kinds" :key="k">{{ k }}</option>
        </select>
      </label>
      <label
        >Landing page
        <input
          class="tool landing"
          :value="landing"
          placeholder="https://www.lunnick.example/boats"
          @change="landing = value($event)"
        />
      </label>
      <router-link class="link" to="/plan?section=pattern">Change patterns</router-link>
      <router-link class="link" to="/plan?section=own_slot">own slots</router-link>
      <router-link class="link" to="/plan?section=dialect">dialects</router-link>
      <datalist id="pattern-campaigns">
        <option v-for="c in there.data.value.campaigns" :key="c" :value="c" />
      </datalist>
      <datalist id="pattern-groups">
        <option v-for="g in there.data.value.groups" :key="g" :value="g" />
      </datalist>
    </div>
    <section v-if="resolved.data.value" aria-label="Resolved pattern">
      <table>
        <thead>
          <tr>
            <th>Part</th>
            <th>Text</th>
            <th>Comes from</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="part in resolved.data.value.parts" :key="part.field">
            <td>utm_{{ part.field }}</td>
            <td>{{ part.text }}</td>
            <td>{{ part.level }}{{ part.name ? ` ${part.name}` : '' }}</td>
          </tr>
          <tr v-for="part in resolved.data.value.own" :key="`own ${part.field}`">
            <td>(:{{ part.field }}:)</td>
            <td>{{ part.text }}</td>
            <td>{{ part.level }} {{ part.name }}</td>
          </tr>
        </tbody>
      </table>
      <ul v-if="resolved.data.value.findings.length">
        <li v-for="f in resolved.data.value.findings" :key="f.code + f.field + f.value" :class="f.level">
          <b>{{ f.level }}</b> {{ f.field }}: {{ f.message }}
        </li>
      </ul>
      <dl>
        <dt>For the platform</dt>
        <dd>
          {{ resolved.data.value.address }}
          <button type="button" class="plain link no-print" @click="copy">Copy</button>
        </dd>
        <dt>As visitors land</dt>
        <dd>{{ resolved.data.value.preview }}</dd>
        <dt>One ? only</dt>
        <dd :class="resolved.data.value.one_question_mark ? 'pays' : 'loses'">
          {{
            resolved.data.value.one_question_mark
              ? "✓ on this landing page, in the platform's writing and filled"
              : '✕ not on this landing page'
          }}
        </dd>
      </dl>
      <form class="tools no-print" @submit.prevent="visit.mutate()">
        <label
          >Test a click: the address the platform gives for a click on the ad
          <input
            v-model="click"
            class="tool landing"
            placeholder="https://ads.quorrin.example/click/whale-search"
          />
        </label>
        <v-btn type="submit" :disabled="!click.trim() || visit.isPending.value">Click on it</v-btn>
      </form>
      <ProblemNote :error="visit.error.value" />
      <VisitReport v-if="visit.data.value" :visit="visit.data.value" />
    </section>
  </template>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 8px 0;
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}

.landing {
  width: 340px;
}

table {
  max-width: 860px;
}

dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 4px 10px;
  margin: 12px 0;
}

dt {
  font-weight: 600;
}

dd {
  margin: 0;
  word-break: break-all;
}

.error b,
.loses {
  color: var(--loses);
}

.pays {
  color: var(--pays);
}
</style>
