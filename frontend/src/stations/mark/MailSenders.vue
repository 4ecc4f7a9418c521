<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import MadeOf from '../plan/MadeOf.vue'
import { ofMark } from '../plan/sections'
import MovingTable from '../../shared/MovingTable.vue'

const there = useQuery({ queryKey: ['patterns'], queryFn: () => answer(api.GET('/mark/patterns')) })
const sender = useAddressState('sender')
const list = useAddressState('list', 'card holders')
const series = useAddressState('series', 'renewal')
const message = useAddressState('message', 'second reminder')
const asked = computed(() => ({
  sender: sender.value || there.data.value?.senders[0] || '',
  list: list.value,
  series: series.value,
  message: message.value,
}))
const preview = useQuery({
  queryKey: ['mail', asked],
  queryFn: () => answer(api.POST('/mark/mail', { body: asked.value })),
  enabled: computed(() => !!asked.value.sender),
})
const MADE = ofMark('sender')
/** One line a kind of mail: an untagged link before and after. */
const plain = computed(() => {
  const seen = new Set<string>()
  return (preview.data.value ?? []).filter((p) => !seen.has(p.kind) && seen.add(p.kind))
})
const print = () => window.print()
</script>

<template>
  <MadeOf :sections="MADE" />
  <ProblemNote :error="there.error.value ?? preview.error.value" />
  <WorkingNote v-if="there.isLoading.value" what="Reading the mail senders of the plan." />
  <p v-if="there.data.value && !there.data.value.senders.length" class="quiet">
    No mail sender yet. Set one up under Mail senders: once for one-off mails, once for automated series.
  </p>
  <template v-else-if="there.data.value">
    <div class="tools no-print">
      <label
        >Sender
        <select v-model="sender" class="tool">
          <option
            v-for="s in there.data.value.senders"
            :key="s"
            :value="s === there.data.value.senders[0] ? '' : s"
          >
            {{ s }}
          </option>
        </select>
      </label>
      <label>List <input v-model.lazy="list" class="tool" /></label>
      <label>Series <input v-model.lazy="series" class="tool" /></label>
      <label>Message <input v-model.lazy="message" class="tool" /></label>
    </div>
    <MovingTable v-if="preview.data.value" aria-label="Links of a mail">
      <thead>
        <tr>
          <th>Mail</th>
          <th>Link as written</th>
          <th>Link as sent</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in preview.data.value" :key="p.kind + p.before">
          <td>{{ p.kind }}</td>
          <td class="url">{{ p.before }}</td>
          <td class="url">
            <span v-if="p.before === p.after" class="quiet">left alone: it has tags already</span>
            <template v-else>{{ p.after }}</template>
          </td>
        </tr>
      </tbody>
    </MovingTable>
    <section v-if="preview.data.value?.length" class="sheet" aria-label="Placing sheet">
      <h2>
        Placing sheet
        <button type="button" class="plain link no-print" @click="print">Print</button>
      </h2>
      <ol>
        <li>Open {{ asked.sender }} and there the settings for what is added to links.</li>
        <li v-for="p in plain" :key="p.kind">
          For {{ p.kind }} mails an untagged link must go out like this: <code>{{ p.after }}</code>
        </li>
        <li>Switch off whatever the sender adds on its own.</li>
        <li>Send one mail to yourself, click on one link, and paste where you land into Placing.</li>
      </ol>
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

.url,
code {
  word-break: break-all;
}

.sheet {
  margin-top: 14px;
  border-top: 1px solid var(--line);
  padding-top: 8px;
  max-width: 860px;
}

code {
  display: block;
  font: inherit;
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 3px 6px;
}

ol {
  margin: 4px 0;
  padding-left: 20px;
}

td:first-child {
  white-space: nowrap;
}

td {
  vertical-align: top;
  padding-block: 3px;
}
</style>
