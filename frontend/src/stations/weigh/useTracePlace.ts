import { nextTick, watch, type Ref } from 'vue'

const figureOf = (row: string, figure: string) =>
  [...document.querySelectorAll<HTMLElement>('tr[data-row]')]
    .find((tr) => tr.dataset.row === row)
    ?.querySelector<HTMLElement>(`[data-figure="${figure}"]`)

/**
 * A trace takes the lines below its row, and gives them back: the board stands where it stood, the focus too.
 *
 * @param cell the figure that is traced, if any
 */
export function useTracePlace(cell: Ref<unknown>) {
  let scrolled = 0
  let opener: { element: HTMLElement; row?: string; figure?: string } | undefined
  function focusOpener() {
    if (!opener) return
    const { element, row, figure } = opener
    const again = element.isConnected ? element : row && figure ? figureOf(row, figure) : null
    again?.focus({ preventScroll: true })
  }
  watch(cell, async (now, before) => {
    if (now && !before) {
      scrolled = window.scrollY
      const element = document.activeElement
      if (element instanceof HTMLElement && element !== document.body) {
        opener = {
          element,
          row: element.closest<HTMLElement>('tr[data-row]')?.dataset.row,
          figure: element.dataset.figure,
        }
      }
      await nextTick()
      window.scrollTo(0, 0)
      focusOpener()
    } else if (!now && before) {
      await nextTick()
      window.scrollTo(0, scrolled)
      await nextTick()
      focusOpener()
      opener = undefined
    }
  })
}
