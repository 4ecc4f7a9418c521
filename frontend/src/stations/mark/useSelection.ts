import { computed, ref, type Ref } from 'vue'
import { rangeOf, step, type Cell } from './grid'

/** The cell that has the focus and the rectangle that is chosen. */
export function useSelection(rows: Ref<number>, columns: Ref<number>) {
  const focus = ref<Cell>({ row: 0, column: 0 })
  const anchor = ref<Cell>({ row: 0, column: 0 })
  const range = computed(() => (rows.value ? rangeOf(anchor.value, focus.value) : null))

  function pick(cell: Cell, extend = false) {
    focus.value = step(cell, rows.value, columns.value, 0, 0)
    if (!extend) anchor.value = focus.value
  }

  /** A whole row. */
  function pickRow(row: number, extend: boolean) {
    focus.value = { row, column: columns.value - 1 }
    anchor.value = { row: extend ? anchor.value.row : row, column: 0 }
  }

  const move = (down: number, right: number, extend = false) =>
    pick(step(focus.value, rows.value, columns.value, down, right), extend)

  function all() {
    anchor.value = { row: 0, column: 0 }
    focus.value = { row: rows.value - 1, column: columns.value - 1 }
  }
  return { focus, range, pick, pickRow, move, all }
}
