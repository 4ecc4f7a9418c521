<script setup lang="ts">
import { nextTick, onMounted, ref, watch } from 'vue'
import { answer, api } from '../../api/client'
import { inside, type Range } from './grid'
import type { SheetRow } from './useSheet'

const props = defineProps<{
  row: SheetRow
  number: number
  columns: string[]
  words: Record<string, readonly string[]>
  widths: number[]
  range: Range | null
  at: number
  /** Column being edited, and what it begins with. */
  editing: { column: number; text: string } | null
}>()
const emit = defineEmits<{
  pick: [column: number, extend: boolean]
  edit: [column: number]
  keep: [text: string, then: 'down' | 'right' | 'left' | 'stay']
  cancel: []
}>()

const draft = ref('')
const input = ref<HTMLInputElement[]>()
const live = ref<string | null>(null)
let timer = 0
let asked = 0

async function open() {
  if (!props.editing) {
    live.value = null
    return
  }
  draft.value = props.editing.text
  await nextTick()
  const field = input.value?.[0]
  field?.focus()
  field?.setSelectionRange(draft.value.length, draft.value.length)
}
watch(() => props.editing, open)
onMounted(open)

/**
 * The address appears as you type, and again when the cell before it is kept only now: its answer may come later than
 * the first letters of this one. Of several answers on their way the latest question's counts.
 */
watch([draft, () => props.row.cells], () => {
  if (!props.editing) return
  clearTimeout(timer)
  timer = window.setTimeout(async () => {
    if (!props.editing) return
    const mine = ++asked
    const name = props.columns[props.editing.column]!
    const made = await answer(
      api.POST('/mark/preview', {
        body: { ...props.row.cells, [name]: draft.value } as Record<string, string>,
      }),
    ).catch(() => null)
    if (props.editing && mine === asked) live.value = made?.url ?? null
  }, 90)
})

function key(event: KeyboardEvent) {
  const then =
    event.key === 'Enter' ? 'down' : event.key === 'Tab' ? (event.shiftKey ? 'left' : 'right') : null
  if (event.key === 'Escape') emit('cancel')
  else if (then) emit('keep', draft.value, then)
  else {
    event.stopPropagation()
    return
  }
  event.preventDefault()
  event.stopPropagation()
}
const problem = (name: string) =>
  props.row.findings.find((f) => f.field === name || f.field === `utm_${name}`)
const worst = () => props.row.findings[0]?.level
</script>

<template>
  <div class="line" role="row" :aria-rowindex="number + 1">
    <div
      class="head"
      role="rowheader"
      aria-colindex="1"
      :class="worst()"
      @mousedown="emit('pick', -1, $event.shiftKey)"
    >
      {{ number
      }}<span v-if="row.findings.length" :title="row.findings.map((f) => f.message).join('\n')">{{
        worst() === 'error' ? ' ✕' : worst() === 'warning' ? ' !' : ' ·'
      }}</span>
    </div>
    <div
      v-for="(name, c) in columns"
      :id="`cell-${at}-${c}`"
      :key="name"
      class="cell"
      role="gridcell"
      :aria-label="`${name.replace('_', ' ')}: ${row.cells[name] || 'empty'}`"
      :aria-colindex="c + 2"
      :aria-invalid="problem(name)?.level === 'error' || undefined"
      :data-column="name"
      :aria-selected="!!range && inside(range, at, c)"
      :class="[{ chosen: range && inside(range, at, c) }, problem(name)?.level]"
      :style="{ width: `${widths[c]}px` }"
      :title="problem(name)?.message ?? row.cells[name]"
      @mousedown="emit('pick', c, $event.shiftKey)"
      @dblclick="emit('edit', c)"
    >
      <input
        v-if="editing?.column === c"
        ref="input"
        v-model="draft"
        :aria-label="name"
        :list="words[name]?.length ? `words-${name}` : undefined"
        @keydown="key"
        @mousedown.stop
        @blur="editing && emit('keep', draft, 'stay')"
      />
      <template v-else>{{ row.cells[name] }}</template>
    </div>
    <div
      class="cell address"
      role="gridcell"
      :aria-label="`address: ${live ?? row.url}`"
      :aria-colindex="columns.length + 2"
      data-column="address"
      :title="live ?? row.url"
    >
      <span :class="{ live: live !== null }">{{ live ?? row.url }}</span>
    </div>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  height: 26px;
  width: max-content;
}

.head,
.cell {
  flex: none;
  height: 26px;
  line-height: 25px;
  padding: 0 5px;
  border-right: 1px solid var(--line);
  border-bottom: 1px solid var(--line);
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  cursor: cell;
}

.head {
  width: 56px;
  position: sticky;
  left: 0;
  z-index: 1;
  background: var(--paper);
  text-align: right;
  color: var(--unsure);
  font-variant-numeric: tabular-nums;
}

.head.error,
.cell.error {
  color: var(--loses);
}

.cell.error {
  box-shadow: inset 0 -2px var(--loses);
}

.cell.warning {
  box-shadow: inset 0 -2px var(--accent);
}

.chosen {
  background: color-mix(in srgb, var(--accent) 18%, transparent);
}

.address {
  width: 400px;
  position: sticky;
  right: 0;
  background: var(--sheet);
  border-left: 2px solid var(--line);
  font-size: 13px;
  direction: rtl;
  text-align: left;
  user-select: text;
  cursor: text;
}

/* The end of an address tells it from the next one, so its beginning is what gives way. */
.address span {
  direction: ltr;
  unicode-bidi: embed;
}

.live {
  color: var(--accent-text);
}

@media (max-width: 700px), print {
  .address {
    position: static;
    width: 560px;
  }

  .head {
    width: 40px;
  }
}

/* On paper nothing is cut: what is long goes on in the next line. */
@media print {
  .line {
    height: auto;
    break-inside: avoid;
  }

  .head,
  .cell {
    height: auto;
    white-space: normal;
    overflow: visible;
    overflow-wrap: anywhere;
    text-overflow: clip;
  }

  .address {
    direction: ltr;
  }
}

input {
  width: 100%;
  height: 24px;
  margin: 0 -4px;
  padding: 0 4px;
  font: inherit;
  color: inherit;
  background: var(--sheet);
  border: 0;
  outline: 2px solid var(--accent);
}
</style>
