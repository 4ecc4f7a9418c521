<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'
import TrialRows from '../../shared/TrialRows.vue'
import { trialWords } from '../../shared/trialWords'

/** What a settings file that waits would move on the rows that stand; Keep is that of the rehearsal. */
const props = defineProps<{ token: string }>()
const seen = ref(false)
const moved = useQuery({
  queryKey: ['settings-trial', props.token],
  queryFn: () =>
    answer(
      api.POST('/gather/rehearsals/{token}/settings/trial', { params: { path: { token: props.token } } }),
    ),
  // It is weighed anew each time it is asked: once is enough for files that wait.
  staleTime: Infinity,
  retry: false,
})
</script>

<template>
  <p v-if="moved.data.value?.moves">
    On the rows that stand: {{ trialWords(moved.data.value) }}.
    <button type="button" class="plain link" :aria-expanded="seen" @click="seen = !seen">
      {{ seen ? 'hide' : 'see' }}
    </button>
  </p>
  <p v-else-if="moved.isLoading.value" class="quiet">Trying what these settings would move.</p>
  <ProblemNote :error="moved.error.value" />
  <TrialRows v-if="seen && moved.data.value" :trial="moved.data.value" />
</template>

<style scoped>
p {
  margin: 0;
}
</style>
