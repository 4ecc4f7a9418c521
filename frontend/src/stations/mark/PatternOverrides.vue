<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api, type Schemas } from '../../api/client'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import { moneyOf } from '../gather/reading'
import MovingTable from '../../shared/MovingTable.vue'

/** What nearer levels say in place of the account: with what depends on it, and open at a press. */
const props = defineProps<{ platform: string; home: string }>()
const emit = defineEmits<{ open: [one: Schemas['Override']] }>()

const found = useQuery({
  queryKey: ['overrides', computed(() => props.platform)],
  queryFn: () =>
    answer(api.GET('/mark/patterns/overrides', { params: { query: { platform: props.platform } } })),
  enabled: computed(() => !!props.platform),
})
const parameter = (field: string) =>
  ['source', 'medium', 'campaign', 'term', 'content', 'id'].includes(field) ? `utm_${field}` : field
const whose = (one: Schemas['Override']) =>
  [one.level, one.name || 'any', one.kind && `(${one.kind})`].filter(Boolean).join(' ')
</script>

<template>
  <ProblemNote :error="found.error.value" />
  <MovingTable v-if="found.data.value?.length" aria-label="What overrides the account">
    <caption>
      What overrides the account's pattern: there the more specific one counts.
    </caption>
    <thead>
      <tr>
        <th>Set for</th>
        <th>Says</th>
        <th>In place of</th>
        <th class="number">Spend</th>
        <th class="number">Touches that arrived</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in found.data.value" :key="`${one.level} ${one.name} ${one.kind}`">
        <td>
          <button type="button" class="plain link" @click="emit('open', one)">{{ whose(one) }}</button>
        </td>
        <td>
          <div v-for="(text, field) in one.says" :key="field">{{ parameter(String(field)) }} {{ text }}</div>
        </td>
        <td class="quiet" data-head="in place of">
          <div v-for="(text, field) in one.account" :key="field">{{ text || 'nothing' }}</div>
        </td>
        <td
          class="number"
          data-head="spend"
          :title="one.spend ? '' : 'Nothing that is loaded has this name.'"
        >
          {{ one.spend ? moneyOf([{ currency: '', amount: one.spend }], home) : '–' }}
        </td>
        <td
          class="number"
          data-head="touches"
          :title="one.touches == null ? 'Nothing that is loaded has this name.' : ''"
        >
          {{ one.touches == null ? '–' : count(one.touches) }}
        </td>
      </tr>
    </tbody>
  </MovingTable>
</template>

<style scoped>
table {
  margin: 10px 0;
}

caption {
  text-align: left;
  padding: 2px 0;
}

td {
  vertical-align: top;
  padding-block: 2px;
}

td div {
  overflow-wrap: anywhere;
}

@media (max-width: 700px) {
  thead {
    position: absolute;
    clip-path: inset(50%);
  }

  tr,
  td {
    display: block;
    border: 0;
    text-align: left;
  }

  tr {
    border-bottom: 1px solid var(--line);
  }

  td[data-head]::before {
    content: attr(data-head) ' ';
    color: var(--unsure);
  }
}
</style>
