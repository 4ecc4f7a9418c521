<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import ProblemNote from '../../shared/ProblemNote.vue'

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
</script>

<template>
  <ProblemNote :error="there.error.value ?? preview.error.value" />
  <p v-if="there.data.value && !there.data.value.senders.length" class="quiet">
    No mail sender yet. <router-link class="link" to="/plan?section=sender">Set one up</router-link>: once for
    one-off mails, once for automated series.
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
      <router-link class="link" to="/plan?section=sender">Change senders</router-link>
    </div>
    <table v-if="preview.data.value" aria-label="Links of a mail">
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
    </table>
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

.url {
  word-break: break-all;
}

td {
  vertical-align: top;
  padding-block: 3px;
}
</style>
