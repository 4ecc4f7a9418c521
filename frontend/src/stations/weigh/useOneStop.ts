import { useEventListener } from '@vueuse/core'
import { onMounted, onUpdated, ref, type Ref } from 'vue'

/** A cell of a table by its row and its name. */
export interface Stop {
  row: string
  cell: string
}

/**
 * The one cell of a table that Tab stops at; arrows lead to the others. It is the one that had the focus last, and where
 * that is not drawn any more the first that is.
 *
 * @param frame around the table, whose rows carry `data-row` and whose cells carry `data-cell`
 */
export function useOneStop(frame: Ref<HTMLElement | undefined>): Ref<Stop | undefined> {
  const stop = ref<Stop>()
  const of = (element: Element | null | undefined): Stop | undefined => {
    const cell = element?.closest<HTMLElement>('[data-cell]')?.dataset.cell
    const row = element?.closest<HTMLElement>('tr[data-row]')?.dataset.row
    return cell && row !== undefined ? { row, cell } : undefined
  }
  const isDrawn = ({ row, cell }: Stop) =>
    [...(frame.value?.querySelectorAll<HTMLElement>('tr[data-row]') ?? [])].some(
      (tr) => tr.dataset.row === row && tr.querySelector(`[data-cell="${cell}"]`),
    )
  function keep() {
    if (stop.value && isDrawn(stop.value)) return
    const first = of(frame.value?.querySelector('[data-cell]'))
    if (first?.row !== stop.value?.row || first?.cell !== stop.value?.cell) stop.value = first
  }
  onMounted(keep)
  onUpdated(keep)
  useEventListener(frame, 'focusin', (event: FocusEvent) => {
    stop.value = of(event.target as Element) ?? stop.value
  })
  return stop
}
