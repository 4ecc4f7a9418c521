/** What is done to rows and cells that were picked in the link sheet: each is one request and one undo. */
import { computed, type ComputedRef, type Ref } from 'vue'
import { fromClipboard, toClipboard } from '../../shared/clipboard'
import { combinations, type Axis } from './grid'
import type { useSelection } from './useSelection'
import { newKey, type useSheet, type RowChange } from './useSheet'

export const say = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`

export function useSheetEdits(
  sheet: ReturnType<typeof useSheet>,
  selection: ReturnType<typeof useSelection>,
  /** Keys of the rows shown, and names of the columns. */
  keys: ComputedRef<string[]>,
  names: ComputedRef<string[]>,
  find: Ref<string>,
) {
  const { focus, range, pick } = selection
  const rowsChosen = computed(() => {
    const r = range.value
    return r ? keys.value.slice(r.top, r.bottom + 1) : []
  })
  const textAt = (row: number, column: number) =>
    sheet.rows.get(keys.value[row] ?? '')?.cells[names.value[column]!] ?? ''
  const ofSheet = (cells: Record<string, string>) =>
    Object.fromEntries(Object.entries(cells).filter(([name]) => names.value.includes(name)))

  /** A new row would not be among those found: all rows are shown then. */
  function addRows(number = 1, column = 0) {
    const after = keys.value[focus.value.row] ?? ''
    const made = Array.from({ length: number }, () => newKey())
    const changes = made.map((key, i) => ({ key, cells: {}, after: i ? made[i - 1]! : after }))
    find.value = ''
    void sheet.change(changes, `${say(number, 'row')} added`)
    pick({ row: Math.max(0, keys.value.indexOf(made[0]!)), column })
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

  function fillDown() {
    const r = range.value
    if (r) fill((_, c) => textAt(r.top, c), `filled down over ${say(r.bottom - r.top + 1, 'row')}`)
  }

  function copy(event: ClipboardEvent) {
    const r = range.value
    if (!r) return
    const lines = []
    for (let row = r.top; row <= r.bottom; row++) {
      const line = names.value.slice(r.left, r.right + 1).map((_, i) => textAt(row, r.left + i))
      // Whole rows go with their address.
      if (r.left === 0 && r.right === names.value.length - 1)
        line.push(sheet.rows.get(keys.value[row]!)?.url ?? '')
      lines.push(line)
    }
    event.clipboardData?.setData('text/plain', toClipboard(lines))
    event.preventDefault()
  }

  /** One paste, whatever its size; rows that are missing are added. */
  function paste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain')
    if (!text) return
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
        .slice(0, names.value.length - left)
        .map((value, c) => [names.value[left + c]!, value] as const)
      const change = { key, cells: Object.fromEntries(pasted), after: there ? '' : after }
      if (!there) after = key
      return change
    })
    void sheet.change(changes, `${say(cells.length, 'row')} pasted`)
  }

  function multiply(axes: Axis[]) {
    const made = combinations(axes)
    const changes: RowChange[] = []
    for (const key of rowsChosen.value) {
      const old = sheet.rows.get(key)!.cells
      let after = key
      made.forEach((cells, i) => {
        const fresh = i ? newKey() : key
        const fits = ofSheet(cells)
        // A copy has no short link yet, and is placed nowhere.
        changes.push({ key: fresh, cells: i ? { ...old, ...fits, short: '', placed_on: '' } : fits, after })
        after = fresh
      })
    }
    void sheet.change(changes, `multiplied to ${say(changes.length, 'row')}`)
  }

  function usePreset(name: string) {
    const preset = sheet.presets.value.find((p) => p.name === name)
    if (!preset) return
    const cells = ofSheet(preset as Record<string, string>)
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

  return { rowsChosen, addRows, fill, fillDown, copy, paste, multiply, usePreset, removeRows }
}
