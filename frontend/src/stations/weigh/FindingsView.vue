<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answer, api } from '../../api/client'
import { useAddressState, useTypedState } from '../../shared/addressState'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import { count, moneyWithUnit } from '../../shared/format'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import { useRouter } from 'vue-router'
import WorkingNote from '../../shared/WorkingNote.vue'
import { PAGE } from './queries'
import { useQuestion } from './question'

/** What is to be known of the rows behind a board: kind by kind, each with its rows and the place that mends it. */
const question = useQuestion()
const code = useAddressState('code')
const page = ref(0)
const find = useTypedState('having')
watch([code, find], () => (page.value = 0))
const found = useQuery({
  queryKey: ['findings', question.asked, code, find, page],
  placeholderData: keepPreviousData,
  queryFn: () =>
    answer(
      api.GET('/weigh/findings', {
        params: {
          query: {
            ...question.asked.value,
            code: code.value,
            find: find.value,
            first: page.value * PAGE,
            limit: PAGE,
          },
        },
      }),
    ),
})
const groups = computed(() => found.data.value?.groups ?? [])
const chosen = computed(() => groups.value.find((g) => g.code === found.data.value?.code))
const pages = computed(() => Math.ceil((found.data.value?.found ?? 0) / PAGE))
const money = (minor: number) =>
  moneyWithUnit(minor, found.data.value!.minor_digits, found.data.value!.currency)
const PLACES: Record<string, string> = { plan: 'Plan', mark: 'Mark', gather: 'Gather' }
const router = useRouter()
const board = computed(() => {
  const rest = { ...router.currentRoute.value.query }
  delete rest.code
  delete rest.having
  return { name: 'weigh', query: rest }
})
useKeys({ Escape: () => void router.push(board.value) })

const list = ref<HTMLElement>()
/** Arrows go from kind to kind. */
function along(event: KeyboardEvent) {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (!step) return
  const every = [...list.value!.querySelectorAll<HTMLElement>('button')]
  every[every.indexOf(event.target as HTMLElement) + step]?.focus()
  event.preventDefault()
}
</script>

<template>
  <header class="titled">
    <h1>Findings <small class="quiet">what should you know about the rows behind the board?</small></h1>
    <ExportControl
      v-if="groups.length"
      :tables="[
        {
          path: '/weigh/findings',
          query: question.asked.value,
          rows: groups.reduce((sum, g) => sum + g.count, 0),
        },
      ]"
    />
    <router-link class="link back" :to="board">Back to the board</router-link>
  </header>
  <ProblemNote :error="found.error.value" />
  <WorkingNote v-if="found.isLoading.value" what="Looking for findings." />
  <p v-else-if="found.data.value && !groups.length">No findings: every row reads as it should.</p>
  <div v-else-if="found.data.value" class="halves" :class="{ old: found.isPlaceholderData.value }">
    <section aria-label="Kinds">
      <table>
        <thead>
          <tr>
            <th>What</th>
            <th class="number">Rows</th>
            <th class="number">Amount</th>
            <th>Rule</th>
            <th>Mended in</th>
          </tr>
        </thead>
        <tbody ref="list" @keydown="along">
          <tr v-for="group in groups" :key="group.code" :class="{ chosen: group.code === chosen?.code }">
            <td>
              <button
                type="button"
                class="plain"
                :aria-pressed="group.code === chosen?.code"
                @click="code = group.code"
              >
                {{ group.words }}
              </button>
            </td>
            <td class="number">{{ count(group.count) }}</td>
            <td class="number">{{ group.amount ? money(group.amount) : '–' }}</td>
            <td>{{ group.rule }}</td>
            <td>{{ PLACES[group.place] }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section v-if="chosen" class="rows" :aria-label="`Rows: ${chosen.words}`">
      <header class="titled">
        <h2>{{ chosen.words }}</h2>
        <ExportControl
          :tables="[
            {
              path: '/weigh/findings',
              query: { ...question.asked.value, code: chosen.code },
              rows: chosen.count,
            },
          ]"
        />
        <FindField v-model="find" label="Find a row of this kind" placeholder="Find a row ( / )" />
      </header>
      <p v-if="find" role="status">
        {{ count(found.data.value.found) }} of {{ count(chosen.count) }} have “{{ find }}” in row, field,
        value or file.
      </p>
      <p>
        {{ chosen.about }}
        <router-link class="link" :to="{ name: chosen.place }">Go to {{ PLACES[chosen.place] }}</router-link>
      </p>
      <table>
        <thead>
          <tr>
            <th>Row</th>
            <th>Field</th>
            <th>Value</th>
            <th v-if="chosen.amount" class="number">Amount</th>
            <th>File, line</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in found.data.value.rows" :key="i">
            <td>{{ row.table.replaceAll('_', ' ') }} {{ row.id }}</td>
            <td>{{ row.field }}</td>
            <td class="value">{{ row.value }}</td>
            <td v-if="chosen.amount" class="number">{{ row.amount === null ? '–' : money(row.amount) }}</td>
            <td class="from">{{ row.file }} {{ row.line || '' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="pages > 1" class="pages">
        <v-btn :disabled="page === 0" @click="page--">Previous {{ PAGE }}</v-btn>
        {{ page * PAGE + 1 }} to {{ Math.min(found.data.value.found, (page + 1) * PAGE) }} of
        {{ count(found.data.value.found) }}
        <v-btn :disabled="page + 1 >= pages" @click="page++">Next {{ PAGE }}</v-btn>
      </p>
    </section>
  </div>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

.back {
  margin-left: auto;
}

.halves {
  display: grid;
  grid-template-columns: minmax(0, 600fr) minmax(0, 548fr);
  gap: 16px;
  align-items: start;
  margin-top: 8px;
}

.old {
  opacity: 0.45;
}

td {
  height: 26px;
}

.chosen td {
  background: color-mix(in srgb, var(--accent) 12%, transparent);
}

.chosen button {
  font-weight: 650;
}

.value {
  overflow-wrap: anywhere;
}

.from {
  font-size: 13px;
}

.pages {
  display: flex;
  gap: 10px;
  align-items: center;
}

@media (max-width: 900px) {
  .halves {
    display: block;
  }
}
</style>
