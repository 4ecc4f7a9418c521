<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answer, api, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'

const links = useQuery({ queryKey: ['placing'], queryFn: () => answer(api.GET('/mark/placing')) })
const base = useQuery({ queryKey: ['short-base'], queryFn: () => answer(api.GET('/mark/short-base')) })
const text = ref('')
const said = ref<Schemas['Message']>()
const problem = ref<unknown>()
const choices = computed(() =>
  (links.data.value ?? [])
    .filter((l) => !l.withheld)
    .map((l) => ({
      key: l.key,
      // A short link that nobody else can open goes into no message.
      url: l.short && !base.data.value?.problem ? base.data.value?.base + l.short : l.url,
      name: l.campaign,
    })),
)

let timer = 0
watch(text, (now) => {
  clearTimeout(timer)
  timer = window.setTimeout(async () => {
    try {
      said.value = await answer(api.POST('/mark/message', { body: { text: now } }))
      problem.value = undefined
    } catch (wrong) {
      problem.value = wrong
    }
  }, 90)
})
function add(event: Event) {
  const select = event.target as HTMLSelectElement
  text.value = `${text.value.trimEnd()} ${select.value}`.trimStart()
  select.value = ''
}
</script>

<template>
  <section class="message" aria-label="Text message">
    <p>Write the message with its link: what counts is the whole.</p>
    <label
      >Link
      <select class="tool" @change="add">
        <option value="">Add a link …</option>
        <option v-for="c in choices" :key="c.key" :value="c.url">{{ c.name }}: {{ c.url }}</option>
      </select>
    </label>
    <textarea
      v-model="text"
      class="tool"
      rows="5"
      aria-label="Message"
      placeholder="Last cabins tonight: https://…/~/night"
    />
    <ProblemNote :error="problem" />
    <p v-if="said" role="status">
      <b>{{ said.parts }} {{ said.parts === 1 ? 'part' : 'parts' }}</b
      >, {{ said.units }} units of {{ said.alphabet }}, {{ said.left }} left in the last part.
      <template v-if="said.odd"
        >These characters make a part hold 70 instead of 160: <b>{{ [...said.odd].join(' ') }}</b></template
      >
    </p>
  </section>
</template>

<style scoped>
.message {
  max-width: 640px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  margin-top: 8px;
}

p {
  margin: 0;
}

textarea {
  height: auto;
}

select {
  max-width: min(520px, 100%);
}
</style>
