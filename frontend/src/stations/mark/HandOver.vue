<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { address, answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import AddressText from '../../shared/AddressText.vue'
import ProblemNote from '../../shared/ProblemNote.vue'

const links = useQuery({ queryKey: ['placing'], queryFn: () => answer(api.GET('/mark/placing')) })
const base = useQuery({ queryKey: ['short-base'], queryFn: () => answer(api.GET('/mark/short-base')) })
const campaign = useAddressState('campaign')
const error = useAddressState('error', 'm')
const codes = useAddressState('codes', 'yes')

const waiting = computed(() => (links.data.value ?? []).filter((l) => l.state !== 'ended'))
const campaigns = computed(() => [...new Set(waiting.value.map((l) => l.campaign))])
const rows = computed(() =>
  waiting.value.filter((l) => l.campaign === (campaign.value || campaigns.value[0])),
)
const print = () => window.print()
</script>

<template>
  <div class="tools no-print">
    <label
      >Campaign
      <select
        class="tool"
        :value="campaign || campaigns[0]"
        @change="campaign = ($event.target as HTMLSelectElement).value"
      >
        <option v-for="c in campaigns" :key="c">{{ c }}</option>
      </select>
    </label>
    <label
      >QR codes
      <select v-model="codes" class="tool">
        <option value="yes">yes</option>
        <option value="no">no</option>
      </select>
    </label>
    <label title="How much of a code may be dirty or torn: L 7 %, M 15 %, Q 25 %, H 30 %"
      >Error level
      <select v-model="error" class="tool">
        <option v-for="level in ['l', 'm', 'q', 'h']" :key="level" :value="level">
          {{ level.toUpperCase() }}
        </option>
      </select>
    </label>
    <v-btn variant="flat" color="primary" @click="print">Print</v-btn>
  </div>
  <ProblemNote :error="links.error.value ?? base.error.value" />
  <p v-if="base.data.value?.problem && rows.some((l) => l.short)" class="loses no-print">
    The sheet has no code and no short link: {{ base.data.value.problem }}.
  </p>
  <p v-for="link in rows.filter((l) => l.withheld)" :key="link.key" class="loses no-print">
    {{ [link.placement, link.url].filter(Boolean).join(': ') }} is not on the sheet: {{ link.withheld }}.
  </p>
  <p v-if="links.data.value && !rows.length" class="quiet">No link of this campaign waits to be placed.</p>
  <section v-else class="sheet" aria-label="Placing sheet">
    <h2>Links for {{ campaign || campaigns[0] }}</h2>
    <p>
      Paste each address whole, as it stands, into the box named beside it. Please do not shorten it, retype
      it or add anything. Then say on which day it went in.
    </p>
    <article v-for="link in rows" :key="link.key">
      <a
        v-if="codes === 'yes' && !link.withheld && !(link.short && base.data.value?.problem)"
        :href="address(`/mark/links/${link.key}/qr.png?error=${error}`)"
        download
        title="Take the code away as PNG"
      >
        <img
          :src="address(`/mark/links/${link.key}/qr.svg?error=${error}`)"
          :alt="`QR code of ${link.short ? base.data.value?.base + link.short : link.url}`"
        />
      </a>
      <div>
        <p>
          <b>{{ link.placement || 'Place not yet named' }}</b><template v-if="link.box"
            >: paste it into {{ link.box }}</template
          >
        </p>
        <p v-if="link.draft" class="loses">Do not place this yet: its campaign is a draft.</p>
        <p v-if="link.leave">Do not touch: {{ link.leave }}</p>
        <p v-if="link.withheld" class="loses">Do not place this yet: its address is being corrected.</p>
        <p v-else><AddressText :url="link.url" /></p>
        <p v-if="link.short && !link.withheld">
          Short link:
          <span v-if="base.data.value?.problem">follows later</span>
          <AddressText v-else :url="`${base.data.value?.base ?? ''}${link.short}`" />
        </p>
        <p class="quiet">
          Put there on: {{ link.placed_on || '____________' }} by {{ link.placed_by || '____________' }}
        </p>
      </div>
    </article>
  </section>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin: 8px 0;
}

.sheet {
  max-width: 860px;
}

/* The whole paper is upright then: a page of another kind would begin a second one. */
:global(body:has(section[aria-label='Placing sheet'])) {
  page: upright;
}

article {
  display: flex;
  gap: 16px;
  border-top: 1px solid var(--line);
  padding: 8px 0;
  break-inside: avoid;
}

p {
  margin: 0 0 3px;
}

img {
  width: 108px;
  height: 108px;
  background: #fff;
}

.loses {
  color: var(--loses);
}
</style>
