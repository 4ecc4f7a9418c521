<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useTypedState } from '../../shared/addressState'
import { fromClipboard, toClipboard } from '../../shared/clipboard'
import LoadFile from '../../shared/LoadFile.vue'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import FindField from '../../shared/FindField.vue'
import MadeOf from '../plan/MadeOf.vue'
import { ofMark } from '../plan/sections'
import { combinations, type Axis } from './grid'
import MultiplyForm from './MultiplyForm.vue'
import NameBuilder from './NameBuilder.vue'
import RowDetail from './RowDetail.vue'
import SheetLine from './SheetLine.vue'
import { useSelection } from './useSelection'
import { newKey, useSheet, type RowChange } from './useSheet'

const MADE = ofMark('landing_page', 'place', 'preset', 'store')
const HEIGHT = 26
const OVERSCAN = 8
const WIDTHS: Record<string, number> = { page: 170, campaign: 170, placement: 130, note: 160, content: 110 }

const sheet = useSheet()
/** On paper every row stands, not only those in sight. */
const onPaper = useMediaQuery('print')
const find = useTypedState('find')
/** Paper is narrow: only columns that say anything stand on it. */
const columns = computed(() =>
  sheet.columns.value.filter(
    ({ name }) => !onPaper.value || [...sheet.rows.values()].some((row) => row.cells[name]),
  ),
)
const names = computed(() => columns.value.map((c) => c.name))
const widths = computed(() => names.value.map((n) => WIDTHS[n] ?? 92))
const words = computed(() => Object.fromEntries(sheet.columns.value.map((c) => [c.name, c.words])))

const keys = computed(() => {
  const text = find.value.toLowerCase()
  if (!text) return sheet.order.value
  return sheet.order.value.filter((key) => {
    const row = sheet.rows.get(key)
    const all = row && [...Object.values(row.cells), row.url, ...row.findings.map((f) => f.code)]
    return all?.some((v) => v.toLowerCase().includes(text))
  })
})
const count = computed(() => keys.value.length)
const width = computed(() => names.value.length)
const { focus, range, pick, pickRow, move, all } = useSelection(count, width)
/** The cell being edited, by the key of its row: rows may come above it meanwhile. */
const editing = ref<{ key: string; column: number; text: string } | null>(null)
const multiplying = ref(false)

const box = ref<HTMLElement>()
const lines = useVirtualizer(
  computed(() => ({
    count: count.value,
    getScrollElement: () => box.value ?? null,
    estimateSize: () => HEIGHT,
    overscan: OVERSCAN,
    // The titles stay above, and a line more is seen below the one that has the focus.
    scrollPaddingEnd: 2 * HEIGHT,
    initialRect: { width: 0, height: 480 },
  })),
)
const inSight = computed(() => lines.value.getVirtualItems())
const first = computed(() => (onPaper.value ? 0 : (inSight.value[0]?.index ?? 0)))
const shown = computed(() =>
  onPaper.value ? keys.value : keys.value.slice(first.value, (inSight.value.at(-1)?.index ?? -1) + 1),
)
const active = computed(() => sheet.rows.get(keys.value[focus.value.row] ?? ''))

/** Keep the focused row in sight. */
watch(focus, ({ row }) => lines.value.scrollToIndex(row))

const rowsChosen = computed(() => {
  const r = range.value
  return r ? keys.value.slice(r.top, r.bottom + 1) : []
})
const say = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`

function addRows(number = 1, column = 0) {
  const after = keys.value[focus.value.row] ?? ''
  const made = Array.from({ length: number }, () => newKey())
  const changes = made.map((key, i) => ({ key, cells: {}, after: i ? made[i - 1]! : after }))
  void sheet.change(changes, `${say(number, 'row')} added`)
  pick({ row: Math.min(focus.value.row + 1, keys.value.length - 1), column })
  void nextTick(() => box.value?.focus())
}

function startEdit(column = focus.value.column, text?: string) {
  const name = names.value[column]
  if (!name || !active.value) return
  editing.value = { key: active.value.key, column, text: text ?? active.value.cells[name] ?? '' }
}

function keep(text: string, then: string) {
  const at = editing.value
  if (!at) return
  editing.value = null
  const row = keys.value.indexOf(at.key)
  const name = names.value[at.column]!
  if ((sheet.rows.get(at.key)?.cells[name] ?? '') !== text) {
    void sheet.change([{ key: at.key, cells: { [name]: text } }], `${name} of row ${row + 1} changed`)
  }
  // A new row would not be among those found.
  if (then === 'down' && row === count.value - 1 && !find.value) addRows(1, at.column)
  else if (then === 'down') move(1, 0)
  else if (then === 'right') move(0, 1)
  else if (then === 'left') move(0, -1)
  if (then !== 'stay') box.value?.focus()
}

function fill(make: (row: number, column: number) => string, what: string) {
  const r = range.value
  if (!r) return
  const changes: RowChange[] = []
  for (let row = r.top; row <= r.bottom; row++) {
    const cells: Record<string, string> = {}
    for (let c = r.left; c <= r.right; c++) cells[names.value[c]!] = make(row, c)
    changes.push({ key: keys.value[row]!, cells })
  }
  void sheet.change(changes, what)
}

const textAt = (row: number, column: number) =>
  sheet.rows.get(keys.value[row] ?? '')?.cells[names.value[column]!] ?? ''

function fillDown() {
  const r = range.value
  if (r) fill((_, c) => textAt(r.top, c), `filled down over ${say(r.bottom - r.top + 1, 'row')}`)
}

function copy(event: ClipboardEvent) {
  const r = range.value
  if (!r || editing.value) return
  const lines = []
  for (let row = r.top; row <= r.bottom; row++) {
    const line = names.value.slice(r.left, r.right + 1).map((_, i) => textAt(row, r.left + i))
    // Whole rows go with their address.
    if (r.left === 0 && r.right === width.value - 1) line.push(sheet.rows.get(keys.value[row]!)?.url ?? '')
    lines.push(line)
  }
  event.clipboardData?.setData('text/plain', toClipboard(lines))
  event.preventDefault()
}

/** One paste, whatever its size, is one request and one undo; rows that are missing are added. */
function paste(event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text/plain')
  if (!text || editing.value) return
  event.preventDefault()
  const cells = fromClipboard(text)
  const { top, left } = range.value ?? { top: 0, left: 0 }
  const r = range.value
  const one = cells.length === 1 && cells[0]!.length === 1 && r && (r.bottom > r.top || r.right > r.left)
  if (one) {
    fill(() => cells[0]![0]!, 'one value pasted')
    return
  }
  let after = keys.value.at(-1) ?? ''
  const changes = cells.map((line, i) => {
    const there = keys.value[top + i]
    const key = there ?? newKey()
    const pasted = line
      .slice(0, width.value - left)
      .map((value, c) => [names.value[left + c]!, value] as const)
    const change = { key, cells: Object.fromEntries(pasted), after: there ? '' : after }
    if (!there) after = key
    return change
  })
  void sheet.change(changes, `${say(cells.length, 'row')} pasted`)
}

function multiply(axes: Axis[]) {
  multiplying.value = false
  const made = combinations(axes)
  const changes: RowChange[] = []
  for (const key of rowsChosen.value) {
    const old = sheet.rows.get(key)!.cells
    let after = key
    made.forEach((cells, i) => {
      const fresh = i ? newKey() : key
      const fits = Object.fromEntries(Object.entries(cells).filter(([name]) => names.value.includes(name)))
      // A copy has no short link yet, and is placed nowhere.
      changes.push({ key: fresh, cells: i ? { ...old, ...fits, short: '', placed_on: '' } : fits, after })
      after = fresh
    })
  }
  void sheet.change(changes, `multiplied to ${say(changes.length, 'row')}`)
  box.value?.focus()
}

/** The column in focus, if it has a naming pattern. */
const named = computed(() => {
  const column = columns.value[focus.value.column]
  return column?.parts.length ? column : null
})
const building = ref(false)
function built(name: string) {
  building.value = false
  fill(() => name, `${named.value?.name} built`)
  box.value?.focus()
}
function leave() {
  multiplying.value = false
  building.value = false
  box.value?.focus()
}

function usePreset(event: Event) {
  const select = event.target as HTMLSelectElement
  const preset = sheet.presets.value.find((p) => p.name === select.value)
  select.value = ''
  if (!preset) return
  const cells = Object.fromEntries(Object.entries(preset).filter(([name]) => names.value.includes(name)))
  void sheet.change(
    rowsChosen.value.map((key) => ({ key, cells })),
    `preset ${preset.name} used`,
  )
}

function removeRows() {
  const gone = rowsChosen.value
  void sheet.change(
    gone.map((key) => ({ key, cells: null })),
    `${say(gone.length, 'row')} removed`,
  )
}

function key(event: KeyboardEvent) {
  if (editing.value || multiplying.value || building.value) return
  const held = event.ctrlKey || event.metaKey
  const page = Math.floor((box.value?.clientHeight ?? 0) / HEIGHT) - 1
  const steps: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
    PageDown: [page, 0],
    PageUp: [-page, 0],
    Home: [held ? -count.value : 0, -width.value],
    End: [held ? count.value : 0, width.value],
  }
  const go = steps[event.key]
  if (go) move(go[0], go[1], event.shiftKey)
  // One Tab in, one Tab out: inside the arrows go from cell to cell.
  else if (event.key === 'Escape') box.value?.blur()
  else if (event.key === 'Enter' || event.key === 'F2') startEdit()
  else if (event.key === 'Delete' || event.key === 'Backspace') fill(() => '', 'cells emptied')
  else if (held && event.key === 'd') fillDown()
  else if (held && event.key === 'a') all()
  else if (held && event.key === 'z') void sheet.undo()
  else if (!held && !event.altKey && event.key.length === 1) startEdit(focus.value.column, event.key)
  else return
  event.preventDefault()
  event.stopPropagation()
}

useKeys({ n: () => (sheet.loaded.value && !multiplying.value && !building.value ? addRows() : false) })

/** Links that went out with another address than their rows give now. */
const otherwise = computed(() => sheet.order.value.filter((k) => sheet.rows.get(k)?.made))
</script>

<template>
  <div class="tools no-print">
    <v-btn variant="flat" color="primary" :disabled="!sheet.loaded.value" title="n" @click="addRows()"
      >Add a row</v-btn
    >
    <v-btn :disabled="!rowsChosen.length" @click="multiplying = true">One for each …</v-btn>
    <v-btn :disabled="!rowsChosen.length" title="Ctrl D" @click="fillDown">Same below</v-btn>
    <v-btn v-if="named" :disabled="!rowsChosen.length" @click="building = true">Build a name …</v-btn>
    <v-btn :disabled="!rowsChosen.length" @click="removeRows">Remove</v-btn>
    <select v-if="sheet.presets.value.length" class="tool" aria-label="Preset" @change="usePreset">
      <option value="">Preset …</option>
      <option v-for="p in sheet.presets.value" :key="p.name" :value="p.name">{{ p.name }}</option>
    </select>
    <FindField v-model="find" />
    <span class="quiet">{{ count }} of {{ sheet.order.value.length }} links</span>
  </div>
  <MadeOf :sections="MADE" @changed="sheet.reload()">
    <span class="aside">
      <button v-if="sheet.last.value" type="button" class="plain link" title="Ctrl Z" @click="sheet.undo()">
        Undo: {{ sheet.last.value.what }}
      </button>
      <ExportControl :tables="[{ path: '/mark/links' }]" />
      <LoadFile label="File of links" @file="sheet.takeIn($event)" />
    </span>
  </MadeOf>
  <p v-if="otherwise.length" class="otherwise no-print">
    {{ say(otherwise.length, 'link') }} {{ otherwise.length === 1 ? 'was' : 'were' }} placed with a different
    address from the one {{ otherwise.length === 1 ? 'its row gives' : 'their rows give' }} now. What was
    placed stays as it is.
    <button
      type="button"
      class="plain link"
      @click="find = find === 'made_otherwise' ? '' : 'made_otherwise'"
    >
      {{ find === 'made_otherwise' ? 'See all' : 'See them' }}
    </button>
    <button type="button" class="plain link" @click="sheet.placeAnew(otherwise)">
      I placed the new {{ otherwise.length === 1 ? 'address' : 'addresses' }}
    </button>
  </p>
  <ProblemNote :error="sheet.error.value" />
  <WorkingNote
    v-if="!sheet.loaded.value && !sheet.error.value"
    what="Reading the link sheet: every address is made and checked."
  />
  <MultiplyForm
    v-if="multiplying"
    :columns="sheet.columns.value"
    :presets="sheet.presets.value"
    :groups="sheet.groups.value"
    :rows="rowsChosen.length"
    @multiply="multiply"
    @close="leave"
  />
  <NameBuilder v-if="building && named" :key="named.name" :column="named" @built="built" @close="leave" />
  <p v-if="sheet.loaded.value && !sheet.order.value.length" class="quiet">
    No links yet. Add a row, or paste rows from a spreadsheet: its columns are those below.
  </p>
  <div
    ref="box"
    class="box"
    role="grid"
    tabindex="0"
    aria-label="Link sheet"
    :aria-rowcount="count + 1"
    :aria-colcount="names.length + 2"
    :aria-activedescendant="count ? `cell-${focus.row}-${focus.column}` : undefined"
    :aria-busy="sheet.waiting.value > 0"
    @keydown="key"
    @copy="copy"
    @paste="paste"
  >
    <div class="titles" role="row" aria-rowindex="1">
      <div class="corner" role="columnheader" aria-colindex="1"><span class="unseen">Row</span></div>
      <div
        v-for="(column, c) in columns"
        :key="column.name"
        class="title"
        role="columnheader"
        :aria-colindex="c + 2"
        :style="{ width: `${widths[c]}px` }"
        :title="`${column.text} ${column.example ? `For example ${column.example}` : ''}`"
      >
        {{ column.name.replace('_', ' ') }}{{ column.required ? ' *' : '' }}
      </div>
      <div class="title address" role="columnheader" :aria-colindex="names.length + 2">address</div>
    </div>
    <div :style="{ height: `${first * HEIGHT}px` }" class="no-print" />
    <SheetLine
      v-for="(k, i) in shown"
      :key="k"
      :row="sheet.rows.get(k)!"
      :number="first + i + 1"
      :at="first + i"
      :columns="names"
      :words="words"
      :widths="widths"
      :range="range && first + i >= range.top && first + i <= range.bottom ? range : null"
      :editing="editing?.key === k ? editing : null"
      @pick="
        (c, extend) => (c < 0 ? pickRow(first + i, extend) : pick({ row: first + i, column: c }, extend))
      "
      @edit="startEdit"
      @keep="keep"
      @cancel="((editing = null), box?.focus())"
    />
    <div class="no-print" :style="{ height: `${Math.max(0, count - first - shown.length) * HEIGHT}px` }" />
  </div>
  <datalist
    v-for="column in sheet.columns.value.filter((c) => c.words.length)"
    :id="`words-${column.name}`"
    :key="column.name"
  >
    <option v-for="word in column.words" :key="word" :value="word">{{ column.called[word] }}</option>
  </datalist>
  <RowDetail
    v-if="active"
    :row="active"
    :number="focus.row + 1"
    :column="columns[focus.column]"
    :ads="sheet.ads.value"
    @changed="sheet.reload()"
    @anew="sheet.placeAnew([active.key])"
  />
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}

.otherwise {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  margin: 4px 0;
}

.aside {
  margin-left: auto;
  display: flex;
  gap: 12px;
}

.aside label {
  cursor: pointer;
}

.box {
  height: calc(100vh - 238px);
  min-height: 260px;
  overflow: auto;
  border: 1px solid var(--line);
  background: var(--sheet);
  user-select: none;
}

.titles {
  display: flex;
  position: sticky;
  top: 0;
  z-index: 2;
  width: max-content;
  background: var(--paper);
}

.corner {
  width: 56px;
  flex: none;
  position: sticky;
  left: 0;
  background: var(--paper);
  border-right: 1px solid var(--line);
  border-bottom: 1px solid var(--ink);
}

.title {
  flex: none;
  padding: 2px 5px;
  font-weight: 600;
  font-size: 13px;
  border-right: 1px solid var(--line);
  border-bottom: 1px solid var(--ink);
  white-space: nowrap;
  overflow: hidden;
}

.title.address {
  width: 400px;
  position: sticky;
  right: 0;
  background: var(--paper);
  border-left: 2px solid var(--line);
}

@media (max-width: 700px), print {
  .title.address {
    position: static;
    width: 560px;
  }

  .corner {
    width: 40px;
  }
}

@media print {
  .box {
    height: auto;
    min-height: 0;
    overflow: visible;
    zoom: 0.55;
  }
}
</style>
