<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { useTypedState } from '../../shared/addressState'
import LoadFile from '../../shared/LoadFile.vue'
import { useKeys } from '../../shared/keys'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import MadeOf from '../plan/MadeOf.vue'
import { ofMark } from '../plan/sections'
import type { Axis } from './grid'
import MultiplyForm from './MultiplyForm.vue'
import NameBuilder from './NameBuilder.vue'
import PlacedOtherwise from './PlacedOtherwise.vue'
import RowDetail from './RowDetail.vue'
import SheetLine from './SheetLine.vue'
import SheetTitles from './SheetTitles.vue'
import SheetTools from './SheetTools.vue'
import { doKey } from './sheetKeys'
import { useSelection } from './useSelection'
import { useSheet } from './useSheet'
import { useSheetEdits } from './useSheetEdits'
import { HEIGHT, useSheetWindow } from './useSheetWindow'

const MADE = ofMark('landing_page', 'place', 'preset', 'store')
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
const selection = useSelection(count, width)
const { focus, range, pick, pickRow, move } = selection
/** The cell being edited, by the key of its row: rows may come above it meanwhile. */
const editing = ref<{ key: string; column: number; text: string } | null>(null)
const multiplying = ref(false)

const { box, first, shown } = useSheetWindow(keys, focus, onPaper)
const active = computed(() => sheet.rows.get(keys.value[focus.value.row] ?? ''))

const edits = useSheetEdits(sheet, selection, keys, names, find)
const { rowsChosen, fill } = edits

function add(number = 1, column = 0) {
  edits.addRows(number, column)
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
  if (then === 'down' && row === count.value - 1 && !find.value) add(1, at.column)
  else if (then === 'down') move(1, 0)
  else if (then === 'right') move(0, 1)
  else if (then === 'left') move(0, -1)
  if (then !== 'stay') box.value?.focus()
}

/** The column in focus, if it has a naming pattern. */
const named = computed(() => {
  const column = columns.value[focus.value.column]
  return column?.parts.length ? column : null
})
const building = ref(false)
function leave() {
  multiplying.value = false
  building.value = false
  box.value?.focus()
}
function built(name: string) {
  fill(() => name, `${named.value?.name} built`)
  leave()
}
function multiply(axes: Axis[]) {
  edits.multiply(axes)
  leave()
}

function key(event: KeyboardEvent) {
  if (editing.value || multiplying.value || building.value) return
  const done = doKey(event, selection, {
    page: Math.floor((box.value?.clientHeight ?? 0) / HEIGHT) - 1,
    rows: count.value,
    columns: width.value,
    leave: () => box.value?.blur(),
    edit: (text) => startEdit(focus.value.column, text),
    empty: () => fill(() => '', 'cells emptied'),
    sameBelow: edits.fillDown,
    undo: () => void sheet.undo(),
  })
  if (!done) return
  event.preventDefault()
  event.stopPropagation()
}

useKeys({ n: () => (sheet.loaded.value && !multiplying.value && !building.value ? add() : false) })
</script>

<template>
  <SheetTools
    v-model:find="find"
    :sheet="sheet"
    :chosen="rowsChosen.length"
    :count="count"
    :named="!!named"
    @add="add()"
    @multiply="multiplying = true"
    @same-below="edits.fillDown()"
    @build="building = true"
    @remove="edits.removeRows()"
    @preset="edits.usePreset($event)"
  />
  <MadeOf :sections="MADE" @changed="sheet.reload()">
    <span class="aside">
      <button v-if="sheet.last.value" type="button" class="plain link" title="Ctrl Z" @click="sheet.undo()">
        Undo: {{ sheet.last.value.what }}
      </button>
      <ExportControl :tables="[{ path: '/mark/links' }]" />
      <LoadFile label="File of links" @file="sheet.takeIn($event)" />
    </span>
  </MadeOf>
  <PlacedOtherwise v-model="find" :sheet="sheet" />
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
    @copy="editing || edits.copy($event)"
    @paste="editing || edits.paste($event)"
  >
    <SheetTitles :columns="columns" :widths="widths" />
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

@media print {
  .box {
    height: auto;
    min-height: 0;
    overflow: visible;
    zoom: 0.55;
  }
}
</style>
