import { useMediaQuery } from '@vueuse/core'

/** Under a finger nothing can be pointed at: the first tap reads out, the second opens. */
export function useReadFirst() {
  const isTouched = useMediaQuery('(max-width: 700px) and (hover: none)')
  let said: Element | null = null
  function readFirst(event: MouseEvent) {
    const at = event.target instanceof Element ? event.target.closest('tr [data-says]') : null
    // A click by a key has no number.
    if (!isTouched.value || !event.detail || !at || at === said) return
    said = at
    event.preventDefault()
    event.stopPropagation()
    if (at instanceof HTMLElement) at.focus()
  }
  return readFirst
}
