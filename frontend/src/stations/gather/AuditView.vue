<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import { usePlan } from '../plan/queries'
import { moneyOf } from './reading'

const plan = usePlan()
const audit = useQuery({ queryKey: ['audit'], queryFn: () => answer(api.GET('/gather/audit')) })
const shown = useAddressState('show')
const home = computed(() => (plan.data.value?.general.home_currency as string | undefined) ?? 'EUR')
const ads = computed(() =>
  (audit.data.value?.ads ?? []).filter((ad) => shown.value !== 'wrong' || ad.findings.length),
)
const money = (amount: string) => (amount ? moneyOf([{ currency: '', amount }], home.value) : '–')
const share = (c: { hits: number; of: number }) => (c.of ? c.hits / c.of : 0)
</script>

<template>
  <h1>Ads <small class="quiet">which of them would arrive untagged today?</small></h1>
  <ProblemNote :error="audit.error.value" />
  <WorkingNote
    v-if="audit.isLoading.value"
    what="Looking at the ads: each one’s address is made as the platform will make it, and read as a visit is."
  />
  <template v-if="audit.data.value">
    <p v-if="!audit.data.value.ads.length" class="quiet">
      No ads have arrived. Load a list of them at <router-link class="link" to="/gather">Gather</router-link>:
      a platform, an ad, its address, and what stands behind it at which level.
    </p>
    <p v-else>
      <strong :class="audit.data.value.untagged ? 'bad' : 'good'">
        {{ count(audit.data.value.untagged) }} of {{ count(audit.data.value.ads.length) }}</strong
      >
      would arrive untagged<template v-if="audit.data.value.untagged"
        >, {{ money(audit.data.value.untagged_spend) }} of spend</template
      >; with {{ count(audit.data.value.wrong) }} something is wrong.
      <label class="no-print">
        <input
          type="checkbox"
          :checked="shown === 'wrong'"
          @change="shown = ($event.target as HTMLInputElement).checked ? 'wrong' : ''"
        />
        Those alone
      </label>
      {{ ' ' }}<ExportControl :tables="[{ path: '/gather/audit' }]" />
    </p>
    <table v-if="ads.length" aria-label="Ads">
      <thead>
        <tr>
          <th>Ad</th>
          <th>Where it is</th>
          <th>State</th>
          <th class="number">Spend</th>
          <th>Pattern of</th>
          <th>Address it will have</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="ad in ads" :key="`${ad.file} ${ad.line}`" :class="{ bare: !ad.tagged }">
          <td>{{ ad.ad }}</td>
          <td>{{ [ad.platform, ad.account, ad.campaign, ad.ad_group].filter(Boolean).join(' › ') }}</td>
          <td>{{ ad.state }}</td>
          <td class="number">{{ money(ad.spend) }}</td>
          <td>{{ ad.level || '–' }}</td>
          <td class="address">
            <code>{{ ad.address }}</code>
            <ul v-if="ad.findings.length">
              <li
                v-for="f in ad.findings"
                :key="f.code + f.field + f.value"
                :class="{ bad: f.level === 'error' }"
              >
                {{ f.message }}
              </li>
            </ul>
          </td>
        </tr>
      </tbody>
    </table>
    <section v-if="audit.data.value.coverage.length" aria-label="What arrives" class="coverage">
      <header class="titled">
        <h2>What truly arrives</h2>
        <ExportControl :tables="[{ path: '/gather/audit', query: { rows: 'roles' } }]" />
      </header>
      <table>
        <thead>
          <tr>
            <th>Platform</th>
            <th>Role</th>
            <th>Why it should be there</th>
            <th class="number">Arrived</th>
            <th><span class="unseen">Actions</span></th>
            <th class="number">Spend reported by it</th>
            <th>Figures that suffer</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in audit.data.value.coverage" :key="c.platform + c.role">
            <td>{{ c.platform }}</td>
            <td>{{ c.role }}</td>
            <td class="quiet">{{ c.asked }}</td>
            <td class="number">{{ (100 * share(c)).toFixed(1) }} % of {{ count(c.of) }}</td>
            <td>
              <svg width="120" height="12" aria-hidden="true">
                <rect x="0.5" y="2.5" width="119" height="7" class="all" />
                <rect x="0.5" y="2.5" :width="119 * share(c)" height="7" class="part" />
              </svg>
            </td>
            <td class="number">{{ money(c.spend) }}</td>
            <td :class="{ bad: c.suffers }">{{ c.suffers || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </template>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

td {
  padding-block: 3px;
  vertical-align: top;
}

.address {
  min-width: 600px;
  overflow-wrap: anywhere;
}

code {
  font-size: 12px;
}

ul {
  margin: 2px 0 0;
  padding-left: 16px;
  font-size: 13px;
}

.bad {
  color: var(--loses);
}

.good {
  color: var(--pays);
}

.bare td:first-child {
  border-left: 3px solid var(--loses);
}

.coverage {
  margin-top: 16px;
}

.all {
  fill: none;
  stroke: var(--line);
}

.part {
  fill: var(--ink);
}
</style>
