<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import AddressText from '../../shared/AddressText.vue'
import { LEVELS } from './usePattern'

/** What to tell whoever sets up the platform, level by level. */
const props = defineProps<{
  whose: Schemas['For']
  resolved: Pick<Schemas['Resolved'], 'cells' | 'parts' | 'suffix' | 'preview' | 'withheld'>
}>()
const named = computed(() => ({
  account: props.whose.platform,
  campaign: props.whose.campaign,
  group: props.whose.group,
  ad: props.whose.ad,
}))
/** The levels that say anything. A platform puts the nearest pattern alone behind an address, so each holds all of it. */
const said = computed(() => LEVELS.filter((level) => props.resolved.cells.some((c) => c.level === level)))
const nearest = computed(() => said.value.at(-1))
const print = () => window.print()
</script>

<template>
  <section class="sheet" aria-label="Placing sheet">
    <h2>
      Placing sheet
      <button type="button" class="plain link no-print" @click="print">Print</button>
    </h2>
    <ol v-if="nearest">
      <li>
        Open {{ whose.platform
        }}<template v-if="nearest !== 'account'">
          and there the {{ nearest }} {{ named[nearest] || '(each one of this kind)' }}</template
        >.
      </li>
      <li>
        In the box for what is added to an address, paste this whole and change nothing of it:
        <code><AddressText :url="resolved.suffix" /></code>
      </li>
      <li v-if="said.length > 1">
        Less specific levels ({{ said.slice(0, -1).join(', ') }}) may keep theirs: only the most specific one
        counts.
      </li>
      <li>The landing page stays as it is, without any of these parts in it.</li>
      <li v-for="part in resolved.parts.filter((p) => p.field === 'referrer')" :key="part.field">
        What pages may learn about where visitors come from: {{ part.text }}.
      </li>
      <li>
        Click on one ad. You should land at
        <template v-if="resolved.withheld">
          its landing page, followed by:
          <code><AddressText :url="resolved.preview.slice(resolved.preview.indexOf('?'))" /></code>
        </template>
        <template v-else>
          an address like <code><AddressText :url="resolved.preview" /></code>
        </template>
      </li>
    </ol>
    <p v-else class="quiet">Nothing is set yet.</p>
  </section>
</template>

<style scoped>
.sheet {
  border-top: 1px solid var(--line);
  margin-top: 14px;
  padding-top: 8px;
  max-width: 860px;
}

code {
  display: block;
  font: inherit;
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 3px 6px;
  margin: 2px 0;
}

ol {
  margin: 4px 0;
  padding-left: 20px;
}
</style>
