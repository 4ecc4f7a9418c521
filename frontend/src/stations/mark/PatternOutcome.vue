<script setup lang="ts">
import { computed, ref } from 'vue'
import { useMutation } from '@tanstack/vue-query'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import PatternSheet from './PatternSheet.vue'
import type { Pattern } from './usePattern'
import VisitReport from './VisitReport.vue'

/** What becomes of the pattern: the addresses to take away, how visitors land, and a click on the ad. */
const props = defineProps<{
  whose: Pattern['whose']['value']
  resolved: NonNullable<Pattern['resolved']['data']['value']>
}>()

/** The ways out, each with the key that copies it. */
const ways = computed(() => [
  { key: 'c', title: 'Whole address', text: props.resolved.address },
  { key: 's', title: 'After any address', text: props.resolved.suffix },
  { key: 'l', title: 'Around their own address', text: props.resolved.with_landing },
])
const copied = ref('')
async function copy(key: string) {
  const way = ways.value.find((w) => w.key === key)
  if (!way?.text) return
  await navigator.clipboard.writeText(way.text)
  copied.value = `${way.title} copied.`
}
useKeys({ c: () => void copy('c'), s: () => void copy('s'), l: () => void copy('l') })

const click = useAddressState('click')
const visit = useMutation<Schemas['Visit'], Problem>({
  mutationFn: () =>
    answer(api.POST('/mark/patterns/visit', { body: { whose: props.whose, click: click.value.trim() } })),
})
</script>

<template>
  <ul v-if="resolved.findings.length">
    <li v-for="f in resolved.findings" :key="f.code + f.field + f.value" :class="f.level">
      <b>{{ f.level }}</b> {{ f.message }}
    </li>
  </ul>
  <dl aria-label="Ways out">
    <template v-for="way in ways" :key="way.key">
      <dt>
        {{ way.title }}
        <button
          v-if="way.text"
          type="button"
          class="plain link no-print"
          :title="`Copy (${way.key})`"
          @click="copy(way.key)"
        >
          copy ({{ way.key }})
        </button>
      </dt>
      <dd>
        {{ way.text }}
        <span v-if="!way.text" class="quiet">{{
          way.key === 'l'
            ? 'This platform has no slot for the landing page; name it in its dialect if it has.'
            : 'Nothing is set yet.'
        }}</span>
      </dd>
    </template>
    <dt>As visitors land</dt>
    <dd>{{ resolved.preview }}</dd>
    <dt>One ? only</dt>
    <dd :class="resolved.one_question_mark ? 'pays' : 'loses'">
      {{
        resolved.one_question_mark
          ? "✓ on this landing page, in the platform's writing and filled"
          : '✕ not on this landing page'
      }}
    </dd>
  </dl>
  <p class="quiet" role="status">{{ copied }}</p>
  <form class="tools no-print" @submit.prevent="visit.mutate()">
    <label
      >Test a click: the address the platform gives for a click on the ad
      <input
        v-model="click"
        class="tool landing"
        placeholder="https://ads.quorrin.example/click/whale-search"
      />
    </label>
    <v-btn type="submit" :disabled="!click.trim() || visit.isPending.value">Click on it</v-btn>
  </form>
  <ProblemNote :error="visit.error.value" />
  <VisitReport v-if="visit.data.value" :visit="visit.data.value" />
  <PatternSheet :whose="whose" :resolved="resolved" />
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 8px 0;
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}

.landing {
  width: 340px;
  max-width: 100%;
  min-width: 0;
}

dl {
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 4px 10px;
  margin: 12px 0 4px;
}

dt {
  font-weight: 600;
}

dt button {
  font-weight: 400;
}

dd {
  margin: 0;
  word-break: break-all;
}

@media (max-width: 700px) {
  label {
    flex-wrap: wrap;
    max-width: 100%;
  }

  dl {
    grid-template-columns: minmax(0, 1fr);
  }

  dd {
    margin-bottom: 6px;
  }
}

ul {
  margin: 8px 0 0;
  padding-left: 16px;
}

.error b,
.loses {
  color: var(--loses);
}

.pays {
  color: var(--pays);
}
</style>
