<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { combinations, type Axis } from './grid'

const props = defineProps<{
  columns: Schemas['SheetColumn'][]
  presets: readonly Record<string, string>[]
  groups: readonly Schemas['RegisteredGroup'][]
  rows: number
}>()
const emit = defineEmits<{ multiply: [axes: Axis[]]; close: [] }>()

const PRESETS = 'presets'
const axes = ref([
  { name: 'placement', text: '' },
  { name: 'page', text: '' },
  { name: 'content', text: '' },
])
/** What is registered for a column: words of the plan, for term and content the groups of ads too. */
function registered(name: string): string[] {
  if (name === PRESETS) return props.presets.map((p) => p.name!)
  const words = props.columns.find((c) => c.name === name)?.words ?? []
  const groups = ['term', 'content'].includes(name) ? props.groups.map((g) => g.number) : []
  return [...new Set([...words, ...groups])]
}
const linesOf = (text: string) =>
  text
    .split('\n')
    .map((t) => t.trim())
    .filter(Boolean)
function pick(axis: { text: string }, event: Event) {
  const select = event.target as HTMLSelectElement
  const picked = select.value === '*' ? [...select.options].slice(2).map((o) => o.value) : [select.value]
  axis.text = [...new Set([...linesOf(axis.text), ...picked])].join('\n')
  select.value = ''
}
const calledOf = (name: string, word: string) =>
  props.groups.find((g) => g.number === word && ['term', 'content'].includes(name))?.name ??
  props.columns.find((c) => c.name === name)?.called[word] ??
  ''

/** The cells that a preset fills. */
function cellsOf(preset: Record<string, string> | undefined): Record<string, string> {
  return Object.fromEntries(Object.entries(preset ?? {}).filter(([column]) => column !== 'name'))
}
const lists = computed<Axis[]>(() =>
  axes.value.map(({ name, text }) =>
    linesOf(text).map((word) =>
      name === PRESETS ? cellsOf(props.presets.find((p) => p.name === word)) : { [name]: word },
    ),
  ),
)
const made = computed(() => combinations(lists.value).length * props.rows)
const form = ref<HTMLElement>()
onMounted(() => form.value?.querySelector('textarea')?.focus())
</script>

<template>
  <form
    ref="form"
    class="multiply"
    aria-label="One for each"
    @submit.prevent="emit('multiply', lists)"
    @keydown.esc.stop="emit('close')"
  >
    <p>
      One value a line, typed or picked from what is registered. Each chosen row becomes one for every
      combination.
    </p>
    <div class="axes">
      <div v-for="(axis, i) in axes" :key="i" class="axis">
        <span>
          <select v-model="axis.name" class="tool" aria-label="Column">
            <option v-if="presets.length" :value="PRESETS">presets</option>
            <option v-for="c in columns" :key="c.name" :value="c.name">{{ c.name.replace('_', ' ') }}</option>
          </select>
          <select
            v-if="registered(axis.name).length"
            class="tool"
            :aria-label="`Pick ${axis.name}`"
            @change="pick(axis, $event)"
          >
            <option value="">pick …</option>
            <option value="*">all {{ registered(axis.name).length }}</option>
            <option v-for="word in registered(axis.name)" :key="word" :value="word">
              {{ [word, calledOf(axis.name, word)].filter(Boolean).join(' · ') }}
            </option>
          </select>
        </span>
        <textarea v-model="axis.text" class="tool" rows="4" :aria-label="`Values of ${axis.name}`" />
      </div>
    </div>
    <div class="choice">
      <v-btn type="submit" variant="flat" color="primary" :disabled="made <= rows || made > 2000">
        Make {{ made }} rows
      </v-btn>
      <v-btn @click="emit('close')">Leave as it is</v-btn>
    </div>
  </form>
</template>

<style scoped>
.multiply {
  border: 1px solid var(--ink);
  background: var(--sheet);
  padding: 8px 12px;
  margin-bottom: 8px;
}

p {
  margin: 0 0 6px;
}

.axes {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

.axis {
  display: flex;
  flex-direction: column;
  gap: 4px;
  width: 260px;
}

.axis span {
  display: flex;
  gap: 6px;
}

.axis select {
  width: 50%;
}

textarea {
  height: auto;
}

.choice {
  display: flex;
  gap: 10px;
  margin-top: 8px;
}
</style>
