<script setup lang="ts">
import { computed, ref } from 'vue'
import PatternCell from './PatternCell.vue'
import { LEVELS, TAGS, parameterOf, type Level, type Pattern } from './usePattern'

/** What each level says of each part of the address, and what arrives. */
const props = defineProps<{ pattern: Pattern }>()
const { kind, resolved, set, cellAt, others } = props.pattern
const names = { campaign: props.pattern.campaign, group: props.pattern.group, ad: props.pattern.ad }
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
const keep = (level: Level, field: string, text: string) => set.mutate({ level, field, text })
</script>

<template>
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
          <th scope="row">{{ parameterOf(field) }}</th>
          <td v-for="level in LEVELS" :key="level" :data-level="level">
            <PatternCell
              :cell="cellAt(level, field)"
              :field="field"
              :level="level"
              :label="`${parameterOf(field)} at ${level}`"
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
</template>

<style scoped>
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

@media (max-width: 700px) {
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
</style>
