<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import AdPreview from '../../shared/AdPreview.vue'
import RegisterHere from './RegisterHere.vue'
import type { SheetRow } from './useSheet'

const props = defineProps<{
  row: SheetRow
  number: number
  column?: Schemas['SheetColumn']
  ads: readonly Schemas['SheetAd'][]
}>()
defineEmits<{ changed: []; anew: [] }>()
const same = (a: string, b?: string) => a.toLowerCase() === b?.trim().toLowerCase()
const ad = computed(() => props.ads.find((a) => same(a.number, props.row.cells.content)))
const leadsTo = computed(() => props.row.url.split('?')[0]!.replace(/^https?:\/\//, ''))
const copy = () => navigator.clipboard.writeText(props.row.url)
</script>

<template>
  <section class="detail" :aria-label="`Row ${number}`">
    <AdPreview
      v-if="ad"
      class="ad"
      wide
      :number="ad.number"
      :name="ad.name"
      :text="ad.text"
      :picture="ad.picture"
      :leads-to="leadsTo"
    />
    <p v-if="column" class="quiet">
      <b>{{ column.name.replace('_', ' ') }}</b>: {{ column.text }}
      {{ column.example ? `For example ${column.example}.` : '' }}
    </p>
    <p class="url">
      <span>{{ row.url || 'No address yet.' }}</span>
      <button v-if="row.url" type="button" class="plain link no-print" @click="copy">Copy</button>
    </p>
    <RegisterHere :key="row.key" :row="row" @changed="$emit('changed')" />
    <ul v-if="row.findings.length">
      <li v-for="f in row.findings" :key="f.code + f.field + f.message" :class="f.level">
        <b>{{ f.level }}</b> {{ f.message }}
        <template v-if="f.code === 'made_otherwise' && row.made">
          <br /><span class="made">{{ row.made }}</span>
          <button type="button" class="plain link no-print" @click="$emit('anew')">
            I placed the new address
          </button>
        </template>
      </li>
    </ul>
    <p v-else-if="row.url" class="well">✓ Nothing wrong with it.</p>
  </section>
</template>

<style scoped>
.detail {
  margin-top: 8px;
  min-height: 92px;
}

p {
  margin: 0 0 3px;
}

.ad {
  float: right;
  margin-left: 14px;
}

.url span {
  word-break: break-all;
}

.url {
  display: flex;
  gap: 10px;
}

ul {
  margin: 0;
  padding-left: 16px;
}

.error b,
.error {
  color: var(--loses);
}

.warning b {
  color: var(--accent-text);
}

.made {
  word-break: break-all;
  margin-right: 10px;
}

.well {
  color: var(--pays);
}
</style>
