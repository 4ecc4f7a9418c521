<script setup lang="ts">
import { computed, ref } from 'vue'
import { useMutation } from '@tanstack/vue-query'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useRouter } from 'vue-router'
import { setAddress, useAddressState } from '../../shared/addressState'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import MadeOf from '../plan/MadeOf.vue'
import { usePlan } from '../plan/queries'
import { ofMark } from '../plan/sections'
import PatternCell from './PatternCell.vue'
import PatternOverrides from './PatternOverrides.vue'
import PatternSheet from './PatternSheet.vue'
import { LEVELS, TAGS, usePattern, type Level } from './usePattern'
import VisitReport from './VisitReport.vue'

const router = useRouter()
const plan = usePlan()
const pattern = usePattern(plan.data)
const { there, platform, kind, landing, whose, resolved, set, cellAt, others } = pattern
const names = { campaign: pattern.campaign, group: pattern.group, ad: pattern.ad }
const value = (event: Event) => (event.target as HTMLInputElement).value

const typed = ref<string[]>([])
const fresh = ref('')
const fields = computed(() => [...new Set([...TAGS, ...others.value, ...typed.value, 'referrer'])])
function addParameter() {
  const name = fresh.value.trim()
  if (name) typed.value = [...typed.value, name]
  fresh.value = ''
}
const partOf = (field: string) => resolved.data.value?.parts.find((p) => p.field === field)
const parameter = (field: string) => (TAGS.includes(field) ? `utm_${field}` : field)

/** The ways out, each with the key that copies it. */
const ways = computed(() => {
  const found = resolved.data.value
  return [
    { key: 'c', title: 'Whole address', text: found?.address ?? '' },
    { key: 's', title: 'After any address', text: found?.suffix ?? '' },
    { key: 'l', title: 'Around their own address', text: found?.with_landing ?? '' },
  ]
})
const copied = ref('')
async function copy(key: string) {
  const way = ways.value.find((w) => w.key === key)
  if (!way?.text) return
  await navigator.clipboard.writeText(way.text)
  copied.value = `${way.title} copied.`
}
useKeys({ c: () => void copy('c'), s: () => void copy('s'), l: () => void copy('l') })

const keep = (level: Level, field: string, text: string) => set.mutate({ level, field, text })
const click = useAddressState('click')
const visit = useMutation<Schemas['Visit'], Problem>({
  mutationFn: () =>
    answer(api.POST('/mark/patterns/visit', { body: { whose: whose.value, click: click.value.trim() } })),
})
const MADE = ofMark('dialect', 'own_slot')
const home = computed(() => String(plan.data.value?.general.home_currency ?? 'EUR'))
/** Bring the board to the level where something else is said. */
function openOverride(one: Schemas['Override']) {
  const at = { campaign: undefined, group: undefined, ad: undefined, [one.level]: one.name || undefined }
  void setAddress(router, { ...at, kind: one.kind || undefined })
}
</script>

<template>
  <ProblemNote :error="there.error.value ?? resolved.error.value ?? plan.error.value" />
  <MadeOf :sections="MADE" />
  <WorkingNote v-if="there.isLoading.value" what="Reading the patterns of the plan." />
  <p v-if="there.data.value && !there.data.value.platforms.length" class="quiet">
    No platform yet. Enter how one writes its slots under Dialects; its board opens here.
  </p>
  <template v-else-if="there.data.value">
    <div class="tools no-print">
      <label
        >Platform
        <select class="tool" :value="whose.platform" @change="platform = value($event)">
          <option v-for="p in there.data.value.platforms" :key="p">{{ p }}</option>
        </select>
      </label>
      <label
        >Kind of campaign
        <input
          class="tool kind"
          list="pattern-kinds"
          :value="kind"
          placeholder="any"
          @change="kind = value($event)"
        />
      </label>
      <label
        >Landing page
        <input
          class="tool landing"
          :value="landing"
          placeholder="the first of the plan"
          @change="landing = value($event)"
        />
      </label>
      <span v-if="kind" class="quiet">Underlined: said for {{ kind }} alone.</span>
      <datalist id="pattern-kinds">
        <option v-for="k in there.data.value.kinds" :key="k" :value="k" />
      </datalist>
      <datalist
        v-for="level in ['campaigns', 'groups', 'ads'] as const"
        :id="`pattern-${level}`"
        :key="level"
      >
        <option v-for="n in there.data.value[level]" :key="n" :value="n" />
      </datalist>
    </div>
    <ProblemNote :error="set.error.value" />
    <div class="wide">
      <table class="board" aria-label="Pattern board" :aria-busy="resolved.isFetching.value">
        <thead>
          <tr>
            <th>Part</th>
            <th>account</th>
            <th v-for="level in ['campaign', 'group', 'ad'] as const" :key="level">
              {{ level }}
              <input
                class="tool name"
                :list="`pattern-${level}s`"
                :value="names[level].value"
                placeholder="any"
                :aria-label="`Which ${level}`"
                @change="names[level].value = value($event)"
              />
            </th>
            <th>what arrives</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="field in fields" :key="field">
            <th scope="row">{{ parameter(field) }}</th>
            <td v-for="level in LEVELS" :key="level" :data-level="level">
              <PatternCell
                :cell="cellAt(level, field)"
                :field="field"
                :level="level"
                :label="`${parameter(field)} at ${level}`"
                :through="
                  !!partOf(field) && LEVELS.indexOf(level) > LEVELS.indexOf(partOf(field)!.level as Level)
                "
                :kind="kind"
                @keep="keep(level, field, $event)"
              />
            </td>
            <td class="result" data-level="what arrives">
              {{ partOf(field)?.text ?? '' }}
              <span v-if="partOf(field)" class="quiet">
                {{ partOf(field)!.level }}
              </span>
            </td>
          </tr>
          <tr v-for="part in resolved.data.value?.own ?? []" :key="`own ${part.field}`" class="quiet">
            <th scope="row">(:{{ part.field }}:)</th>
            <td colspan="4">your own slot</td>
            <td>{{ part.text }} {{ part.level }} {{ part.name }}</td>
          </tr>
          <tr class="no-print">
            <td colspan="6">
              <input
                v-model="fresh"
                class="tool"
                placeholder="another parameter"
                aria-label="Another parameter"
                @keydown.enter.prevent="addParameter"
              />
              <button type="button" class="plain link" :disabled="!fresh.trim()" @click="addParameter">
                Add a part
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <PatternOverrides :platform="whose.platform" :home="home" @open="openOverride" />
    <template v-if="resolved.data.value">
      <ul v-if="resolved.data.value.findings.length">
        <li v-for="f in resolved.data.value.findings" :key="f.code + f.field + f.value" :class="f.level">
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
        <dd>{{ resolved.data.value.preview }}</dd>
        <dt>One ? only</dt>
        <dd :class="resolved.data.value.one_question_mark ? 'pays' : 'loses'">
          {{
            resolved.data.value.one_question_mark
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
      <PatternSheet :whose="whose" :resolved="resolved.data.value" />
    </template>
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

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}

.kind {
  width: 110px;
}

.landing {
  width: 340px;
  max-width: 100%;
  min-width: 0;
}

.wide {
  overflow-x: auto;
}

.board {
  table-layout: fixed;
  min-width: 940px;
}

.board th:first-child {
  width: 112px;
}

.board td,
.board th {
  padding: 0;
  height: 27px;
  border-right: 1px solid var(--line);
}

.board thead th {
  padding: 2px 5px;
  border-bottom: 1px solid var(--ink);
}

.board tbody th {
  padding: 0 5px;
  font-weight: 400;
  border-bottom: 1px solid var(--line);
}

.board td[colspan] button {
  margin-left: 8px;
}

.board td.result {
  padding: 0 6px;
  word-break: break-all;
  border-right: 0;
}

.board td[colspan] {
  padding: 2px 5px;
}

.name {
  width: calc(100% - 70px);
  height: 22px;
  font-weight: 400;
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

  .board {
    min-width: 0;
  }

  .board,
  .board thead,
  .board tbody,
  .board tr,
  .board th,
  .board td {
    display: block;
    width: auto;
    height: auto;
    border-right: 0;
  }

  .board thead th:first-child,
  .board thead th:nth-child(2),
  .board thead th:last-child {
    display: none;
  }

  .board tbody th {
    font-weight: 600;
    padding-top: 6px;
  }

  .board td[data-level] {
    display: grid;
    grid-template-columns: 92px minmax(0, 1fr);
    align-items: center;
  }

  .board td.result {
    display: block;
    padding: 2px 0;
  }

  .board td.result::before {
    display: inline-block;
    width: 92px;
  }

  .board td[data-level]::before {
    content: attr(data-level);
    color: var(--unsure);
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
