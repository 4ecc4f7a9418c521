<script setup lang="ts">
import { onClickOutside, useClipboard } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, ref } from 'vue'
import { address } from '../api/client'
import {
  FORMAT_NAMES,
  FORMATS,
  isMeant,
  lastTaken,
  type Letter,
  pathOf,
  register,
  type Table,
} from './exports'
import { useKeys } from './keys'

/** One word that takes tables away: as files in any of the formats, as cells for a spreadsheet, as an address. */
const props = defineProps<{
  tables: Table[]
  /** Copies the cells as shown. */
  copy?: () => void
  stamp?: string
}>()

const open = ref(false)
const root = ref<HTMLElement>()
const button = ref<HTMLButtonElement>()
const letters = Object.keys(FORMATS) as Letter[]
const clipboard = useClipboard({ legacy: true })

const items = () => [...(root.value?.querySelectorAll<HTMLElement>('.list a, .list button') ?? [])]
async function toggle() {
  if (open.value) return take(lastTaken.value)
  open.value = true
  await nextTick()
  items()[0]?.focus()
}
function close() {
  open.value = false
  void nextTick(() => button.value?.focus())
}
const control = { root: () => root.value, toggle: () => void toggle() }
onBeforeUnmount(register(control))
onClickOutside(root, () => (open.value = false))
useKeys({
  e: () => {
    if (isMeant(control)) void toggle()
  },
})

/** What a letter picks: the first table in a format, its cells, or the address of what is shown. */
function take(letter: string) {
  const item = items().find((one) => one.dataset.letter === letter)
  // Not every place has what was taken last.
  ;(item ?? items()[0])?.click()
}
function done(letter: string) {
  lastTaken.value = letter
  close()
}
function make(table: Table, letter: Letter) {
  table.make?.(FORMATS[letter])
  done(letter)
}
function copyCells() {
  props.copy?.()
  done('o')
}
function copyAddress() {
  void clipboard.copy(window.location.href)
  done('a')
}

/** The list closes when the focus goes elsewhere. */
function left(event: FocusEvent) {
  if (event.relatedTarget instanceof Node && !root.value?.contains(event.relatedTarget)) open.value = false
}
function keys(event: KeyboardEvent) {
  if (event.key === 'Tab') return
  event.stopPropagation()
  if (event.key === 'Escape') return close()
  const every = items()
  const at = every.indexOf(event.target as HTMLElement)
  const step = { ArrowDown: 1, ArrowUp: -1, ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (step) every[(at + step + every.length) % every.length]?.focus()
  else if (event.key === 'e') take(lastTaken.value)
  else if (!event.ctrlKey && !event.metaKey && every.some((one) => one.dataset.letter === event.key)) {
    take(event.key)
  } else return
  event.preventDefault()
}

const about = computed(() => {
  const { rows, columns } = props.tables[0] ?? {}
  if (rows === 0) return 'No rows'
  const counts = [
    ...(rows === undefined ? [] : [`${rows} ${rows === 1 ? 'row' : 'rows'}`]),
    ...(columns === undefined ? [] : [`${columns} columns`]),
    ...(props.stamp ? [props.stamp] : []),
  ]
  return counts.join(', ')
})
const nameOf = (table: Table, letter: Letter) => {
  const format = FORMAT_NAMES[FORMATS[letter]]
  return table.what ? `${table.what} as ${format}` : format
}
</script>

<template>
  <span ref="root" class="export no-print">
    <button
      ref="button"
      type="button"
      class="plain link"
      aria-haspopup="true"
      :aria-expanded="open"
      data-says="Export: take this away as a file, as cells or as an address. e; e e: as last time"
      title="Take it away (e; e e: as last time)"
      @click="open ? close() : toggle()"
    >
      Export
    </button>
    <div v-if="open" class="list" role="group" aria-label="Export as" @keydown="keys" @focusout="left">
      <div v-for="(table, i) in tables" :key="table.what ?? table.path" class="table">
        <b v-if="table.what">{{ table.what }}</b>
        <template v-for="letter in letters" :key="letter">
          <button
            v-if="table.make"
            type="button"
            class="plain"
            :data-letter="i === 0 ? letter : undefined"
            :aria-label="nameOf(table, letter)"
            @click="make(table, letter)"
          >
            {{ FORMAT_NAMES[FORMATS[letter]] }}
          </button>
          <a
            v-else
            :href="address(pathOf(table, letter))"
            :data-letter="i === 0 ? letter : undefined"
            :aria-label="nameOf(table, letter)"
            download
            @click="done(letter)"
            >{{ FORMAT_NAMES[FORMATS[letter]] }}</a
          >
        </template>
      </div>
      <button
        v-if="copy"
        type="button"
        class="plain"
        data-letter="o"
        aria-label="Copy the cells"
        @click="copyCells"
      >
        Copy the cells
      </button>
      <button type="button" class="plain" data-letter="a" aria-label="Address" @click="copyAddress">
        Address
      </button>
      <p v-if="about" class="quiet about">{{ about }}</p>
    </div>
  </span>
</template>

<style scoped>
.export {
  position: relative;
  display: inline-block;
}

.list {
  position: absolute;
  right: 0;
  top: calc(100% + 4px);
  z-index: 8;
  width: 220px;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 4px 0;
  font-weight: 400;
  text-align: left;
}

.list a,
.list button {
  display: block;
  width: 100%;
  min-height: 24px;
  padding: 2px 12px;
  color: inherit;
  text-decoration: none;
}

.list a:hover,
.list button:hover {
  background: var(--line);
}

.table + .table {
  border-top: 1px solid var(--line);
}

.table b {
  display: block;
  padding: 3px 12px 0;
  font-weight: 650;
}

[data-letter]::before {
  content: attr(data-letter);
  display: inline-block;
  width: 16px;
  color: var(--accent-text);
  font-weight: 650;
}

.about {
  margin: 4px 0 0;
  padding: 3px 12px 0;
  border-top: 1px solid var(--line);
  font-size: 13px;
  overflow-wrap: anywhere;
}

.titled .list {
  right: auto;
  left: 0;
}
</style>
