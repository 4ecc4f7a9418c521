<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import { count } from '../../shared/format'
import ExportControl from '../../shared/ExportControl.vue'
import type { Format } from '../../shared/exports'
import AddressText from '../../shared/AddressText.vue'
import FootLine from '../../shared/FootLine.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import { cutAt, grouped } from './faults'

/** Lines of one fault that are shown. */
const SHOWN = 100
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
const opened = ref<Schemas['Checked'] | null>(null)
/** Addresses by their worst fault: those that break first, then by how many have it. */
const groups = computed(() => grouped(rows.value, SHOWN))
const says = (c: Schemas['Checked'], code: string) => {
  const why = c.findings.find((f) => f.code === code)?.message ?? 'Nothing wrong with it'
  return c.mended === c.url ? `${why}. It is left as it is` : `Mended: ${c.mended}`
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
    <section v-for="group in groups" :key="group.code" class="group" :aria-label="group.title">
      <h3>
        {{ count(group.all) }} {{ group.all === 1 ? 'address' : 'addresses' }}: {{ group.title }}
        <span v-if="group.level" :class="group.level" class="level">{{
          wordOf(group.level, group.all)
        }}</span>
      </h3>
      <ul class="lines">
        <li v-for="(c, i) in group.found" :key="i">
          <button
            type="button"
            class="plain line"
            :aria-expanded="opened === c"
            :data-says="says(c, group.code)"
            @click="opened = opened === c ? null : c"
          >
            <span class="cut">{{ cutAt(c, group.code).before }}</span><u v-if="cutAt(c, group.code).fault">{{
              cutAt(c, group.code).fault
            }}</u
            >{{ cutAt(c, group.code).after }}
          </button>
          <div v-if="opened === c" class="opened">
            <p><AddressText :url="c.url" /></p>
            <ul v-if="c.findings.length">
              <li v-for="f in c.findings" :key="f.code + f.message" :class="f.level">
                <b>{{ wordOf(f.level, 1) }}</b> {{ f.message }}
              </li>
            </ul>
            <p v-if="c.mended !== c.url"><b>Mended:</b> <AddressText :url="c.mended" /></p>
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
          </div>
        </li>
      </ul>
      <p v-if="group.all > group.found.length" class="quiet">
        The first {{ count(group.found.length) }} of {{ count(group.all) }} are shown.
      </p>
    </section>
    <FootLine otherwise="The mended address of the line that has the focus is read out here." />
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

.group h3 {
  font-size: 14px;
  margin: 10px 0 0;
  border-bottom: 1px solid var(--ink);
}

.level {
  font-weight: 400;
  margin-left: 8px;
}

.level.error {
  color: var(--loses);
}

.lines {
  list-style: none;
  padding: 0;
}

.line {
  display: block;
  width: 100%;
  height: 24px;
  line-height: 24px;
  text-align: left;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

.line u {
  font-weight: 600;
  text-decoration-thickness: 2px;
}

.opened {
  border-left: 3px solid var(--accent);
  padding: 4px 0 6px 12px;
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

table {
  width: auto;
}

td {
  word-break: break-all;
}
</style>
