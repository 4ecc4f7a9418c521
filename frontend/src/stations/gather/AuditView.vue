<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import { cutAt, titleOf } from '../mark/faults'
import { usePlan } from '../plan/queries'
import { moneyOf } from './reading'
import MovingTable from '../../shared/MovingTable.vue'

const plan = usePlan()
const audit = useQuery({ queryKey: ['audit'], queryFn: () => answer(api.GET('/gather/audit')) })
const shown = useAddressState('show')
const home = computed(() => (plan.data.value?.general.home_currency as string | undefined) ?? 'EUR')
type Ad = Schemas['AdAudited']
const find = ref('')
const wanted = computed(() => find.value.trim().toLowerCase())
const isWanted = (ad: Ad) =>
  [ad.ad, ad.platform, ad.account, ad.campaign, ad.ad_group, ad.address].some((text) =>
    text.toLowerCase().includes(wanted.value),
  )
const ads = computed(() =>
  (audit.data.value?.ads ?? []).filter(
    (ad) => (shown.value !== 'wrong' || ad.findings.length) && isWanted(ad),
  ),
)
const money = (amount: string) => (amount ? moneyOf([{ currency: '', amount }], home.value) : '–')
/** Ads of one finding that are shown. */
const SHOWN = 100
const WIDTHS = ['150px', '330px', '50px', '105px', '76px', 'auto']
/** Ads by their worst finding. */
const groups = computed(() =>
  (audit.data.value?.groups ?? [])
    .filter((group) => group.code || shown.value !== 'wrong')
    .map((group) => {
      const of = ads.value.filter((ad) => (ad.findings[0]?.code ?? '') === group.code)
      const says = of[0]?.findings[0]?.message ?? ''
      return {
        ...group,
        title: titleOf(group.code),
        of,
        /** How many of it are shown at most. */
        ads: wanted.value ? of.length : group.ads,
        says: of.every((ad) => ad.findings[0]?.message === says) ? says : '',
      }
    }),
)
const cut = (ad: Ad, code: string) => cutAt({ url: ad.address, findings: ad.findings }, code)
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
      a platform, an ad, its address, and what is added to it at which level.
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
      {{ ' ' }}<FindField v-model="find" label="Find an ad" /> {{ ' ' }}
      <ExportControl :tables="[{ path: '/gather/audit' }]" />
    </p>
    <p v-if="wanted && !ads.length" class="quiet">
      None of {{ count(audit.data.value.ads.length) }} contains “{{ find }}”.
    </p>
    <section
      v-for="group in groups.filter((one) => one.of.length)"
      :key="group.code"
      class="group"
      :aria-label="group.title"
    >
      <h2>
        {{ count(group.ads) }} {{ group.ads === 1 ? 'ad' : 'ads'
        }}<template v-if="!wanted">, {{ money(group.spend) }}</template
        >: {{ group.title }}
      </h2>
      <p v-if="group.says" class="quiet">{{ group.says }}</p>
      <table :aria-label="`Ads: ${group.title}`">
        <colgroup>
          <col v-for="width in WIDTHS" :key="width" :style="{ width }" />
        </colgroup>
        <thead class="unseen">
          <tr>
            <th>Ad</th>
            <th>Where it is</th>
            <th>State</th>
            <th>Spend</th>
            <th>Pattern of</th>
            <th>Address it will have</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="ad in group.of.slice(0, SHOWN)"
            :key="`${ad.file} ${ad.line}`"
            :class="{ bare: !ad.tagged }"
            :title="ad.address"
          >
            <td>{{ ad.ad }}</td>
            <td>
              {{ [ad.platform, ad.account, ad.campaign, ad.ad_group].filter(Boolean).join(' › ') }}
            </td>
            <td>{{ ad.state }}</td>
            <td class="number">{{ money(ad.spend) }}</td>
            <td>{{ ad.level || '–' }}</td>
            <td class="address">
              {{ cut(ad, group.code).before
              }}<u v-if="cut(ad, group.code).fault">{{ cut(ad, group.code).fault }}</u
              >{{ cut(ad, group.code).after }}
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="group.ads > SHOWN" class="quiet">
        The first {{ SHOWN }} of {{ count(group.ads) }} are shown, those with most spend.
      </p>
    </section>
    <section v-if="audit.data.value.coverage.length" aria-label="What arrives" class="coverage">
      <header class="titled">
        <h2>What actually arrives</h2>
        <ExportControl :tables="[{ path: '/gather/audit', query: { rows: 'roles' } }]" />
      </header>
      <MovingTable>
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
      </MovingTable>
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

.group h2 {
  font-size: 14px;
  margin: 12px 0 2px;
}

.group p {
  margin: 0 0 2px;
}

.group table {
  table-layout: fixed;
}

.group td {
  height: 24px;
  padding-block: 0;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

@media (max-width: 700px) {
  .group tr {
    display: block;
    border-bottom: 1px solid var(--line);
  }

  .group td {
    display: block;
    height: auto;
    white-space: normal;
    overflow-wrap: anywhere;
    border: 0;
    text-align: left;
  }
}

u {
  font-weight: 600;
  text-decoration-thickness: 2px;
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
