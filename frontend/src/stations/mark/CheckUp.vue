<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import { count } from '../../shared/format'
import ExportControl from '../../shared/ExportControl.vue'
import type { Format } from '../../shared/exports'
import ProblemNote from '../../shared/ProblemNote.vue'

const SHOWN = 200
const text = ref('')
const only = useAddressState('level')
const pattern = useAddressState('patterns')
const check = useMutation<Schemas['Checked'][], Problem, string[]>({
  mutationFn: (urls) =>
    answer(api.POST('/mark/check-up', { body: { urls, pattern: pattern.value === 'yes' } })),
})
const found = computed(() => check.data.value ?? [])
const levelOf = (c: Schemas['Checked']) => c.findings[0]?.level ?? 'well'
const counts = computed(() => {
  const out: Record<string, number> = { error: 0, warning: 0, note: 0, well: 0 }
  for (const c of found.value) out[levelOf(c)]!++
  return out
})
const rows = computed(() => found.value.filter((c) => !only.value || levelOf(c) === only.value))
const run = () => check.mutate(text.value.split(/\s*\n\s*/).filter(Boolean))
const copyAll = () => navigator.clipboard.writeText(rows.value.map((c) => c.mended).join('\n'))
const failed = ref<unknown>(null)
/** What was found as a file: the addresses are sent along, which no link could hold. */
async function takeAway(kind: Format) {
  failed.value = null
  try {
    const body = { urls: rows.value.map((c) => c.url), pattern: pattern.value === 'yes' }
    const asked = { params: { path: { kind } }, body, parseAs: 'blob' } as const
    const file = (await answer(api.POST('/mark/check-up.{kind}', asked))) as unknown as Blob
    const link = document.createElement('a')
    link.href = URL.createObjectURL(file)
    link.download = `check-up.${kind}`
    link.click()
    URL.revokeObjectURL(link.href)
  } catch (problem) {
    failed.value = problem
  }
}
/** How many of a level, in words: 7 break, 6 ask, 2 to know, 1 well. */
const WORDS: Record<string, [one: string, more: string]> = {
  error: ['breaks', 'break'],
  warning: ['asks', 'ask'],
  note: ['to know', 'to know'],
  well: ['well', 'well'],
}
const wordOf = (level: string, number: number) => WORDS[level]![number === 1 ? 0 : 1]
</script>

<template>
  <form class="paste no-print" @submit.prevent="run">
    <label for="addresses">Addresses, one a line: one or a thousand</label>
    <textarea
      id="addresses"
      v-model="text"
      class="tool"
      rows="5"
      placeholder="https://www.lunnick.example/boats?utm_source=ostrel&utm_medium=paid-social&utm_campaign=swb-26"
      @keydown.ctrl.enter="run"
    />
    <div class="row">
      <v-btn type="submit" variant="flat" color="primary" :disabled="!text.trim() || check.isPending.value"
        >Check them</v-btn
      >
      <label>
        <input
          type="checkbox"
          :checked="pattern === 'yes'"
          @change="pattern = pattern === 'yes' ? '' : 'yes'"
        />
        They are patterns: leave slots alone
      </label>
    </div>
  </form>
  <ProblemNote :error="check.error.value ?? failed" />
  <template v-if="found.length">
    <p class="sums" role="status">
      {{ count(found.length) }} addresses:
      <button
        v-for="(number, level) in counts"
        :key="level"
        type="button"
        class="plain link"
        :aria-pressed="only === level"
        @click="only = only === level ? '' : String(level)"
      >
        {{ count(number) }} {{ wordOf(String(level), number) }}
      </button>
      <button type="button" class="plain link" @click="copyAll">Copy the mended addresses</button>
      <ExportControl :tables="[{ path: '/mark/check-up', rows: rows.length, make: takeAway }]" />
    </p>
    <article v-for="(c, i) in rows.slice(0, SHOWN)" :key="i" class="checked">
      <p class="url">{{ c.url }}</p>
      <ul v-if="c.findings.length">
        <li v-for="f in c.findings" :key="f.code + f.message" :class="f.level">
          <b>{{ wordOf(f.level, 1) }}</b> {{ f.message }}
        </li>
      </ul>
      <p v-else class="well">Nothing wrong with it.</p>
      <p v-if="c.mended !== c.url" class="url"><b>Mended:</b> {{ c.mended }}</p>
      <details>
        <summary>Base, parameters, without tags</summary>
        <table>
          <tbody>
            <tr>
              <th scope="row">base</th>
              <td>{{ c.base }}</td>
            </tr>
            <tr v-for="({ name, value }, p) in c.parameters" :key="p">
              <th scope="row">{{ name }}</th>
              <td>{{ value }}</td>
            </tr>
            <tr>
              <th scope="row">without tags</th>
              <td>{{ c.stripped }}</td>
            </tr>
          </tbody>
        </table>
      </details>
    </article>
    <p v-if="rows.length > SHOWN" class="quiet">
      The first {{ SHOWN }} of {{ count(rows.length) }} are shown.
    </p>
  </template>
</template>

<style scoped>
.paste {
  display: grid;
  gap: 6px;
  justify-items: start;
  margin: 8px 0;
}

textarea {
  width: 100%;
  height: auto;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
}

.sums {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

.sums button[aria-pressed='true'] {
  font-weight: 700;
}

.checked {
  border-top: 1px solid var(--line);
  padding: 4px 0;
}

p,
ul {
  margin: 0 0 2px;
}

ul {
  padding-left: 16px;
}

li.error b {
  color: var(--loses);
}

.url {
  word-break: break-all;
}

table {
  width: auto;
}

td {
  word-break: break-all;
}

summary {
  cursor: pointer;
  color: var(--unsure);
}
</style>
