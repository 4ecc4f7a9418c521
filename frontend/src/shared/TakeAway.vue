<script setup lang="ts">
import { computed } from 'vue'
import { address } from '../api/client'

/** A table as a file, in any of the formats; `query` is what was asked, `what` tells several tables of one place apart. */
const props = defineProps<{
  path: string
  query?: Record<string, unknown>
  what?: string
}>()

const KINDS = { csv: 'CSV', xlsx: 'XLSX', parquet: 'Parquet' }
const query = computed(() => {
  const known = Object.entries(props.query ?? {}).flatMap(([name, value]) =>
    [value ?? []].flat().map((one): [string, string] => [name, String(one)]),
  )
  return known.length ? `?${new URLSearchParams(known)}` : ''
})
</script>

<template>
  <span class="away no-print">
    <template v-if="what">{{ what }} </template>
    <a
      v-for="(title, kind) in KINDS"
      :key="kind"
      class="link"
      :href="address(`${path}.${kind}${query}`)"
      :aria-label="what ? `${what} as ${title}` : undefined"
      download
      >{{ title }}</a
    >
  </span>
</template>

<style scoped>
.away {
  display: inline-flex;
  gap: 10px;
  align-items: baseline;
  white-space: nowrap;
}
</style>
