<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import VisitReport from './VisitReport.vue'

/** Where one landed, beside the link it came from. */
const url = ref('')
const compare = useMutation<Schemas['Landed'], Problem>({
  mutationFn: () => answer(api.POST('/mark/landed', { body: { url: url.value } })),
})
</script>

<template>
  <form class="landed no-print" @submit.prevent="compare.mutate()">
    <label>
      Clicked one yourself? Paste the address you landed at
      <input
        v-model="url"
        class="tool"
        placeholder="https://www.lunnick.example/boats?utm_source=…"
        aria-label="The address you landed at"
      />
    </label>
    <v-btn type="submit" :disabled="!url.trim() || compare.isPending.value">Compare</v-btn>
  </form>
  <ProblemNote :error="compare.error.value" />
  <section v-if="compare.data.value" class="report" aria-label="Landed">
    <p class="url">Beside the link {{ compare.data.value.url }}</p>
    <p v-for="problem in compare.data.value.problems" :key="problem" class="loses">✕ {{ problem }}</p>
    <VisitReport :visit="{ steps: [], fields: compare.data.value.fields, problem: '' }" />
  </section>
</template>

<style scoped>
.landed {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 6px 0;
}

label {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

input {
  width: min(440px, 80vw);
}

.report {
  border-left: 3px solid var(--accent);
  padding-left: 10px;
  margin: 4px 0 10px;
}

.url {
  word-break: break-all;
  margin: 0;
}

.loses {
  color: var(--loses);
  margin: 0;
}
</style>
