import { onBeforeUnmount, onMounted } from 'vue'

/** Keys rest while a field has the focus, and while a modifier is held. */
function rests(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null
  const typing = target?.closest('input, textarea, select, [contenteditable]')
  return event.ctrlKey || event.metaKey || event.altKey || (!!typing && event.key !== 'Escape')
}

/** Listen to keys as long as the component lives. */
export function useKeys(actions: Record<string, (event: KeyboardEvent) => void>): void {
  function listen(event: KeyboardEvent) {
    const action = actions[event.key]
    if (action && !rests(event)) {
      event.preventDefault()
      action(event)
    }
  }
  onMounted(() => window.addEventListener('keydown', listen))
  onBeforeUnmount(() => window.removeEventListener('keydown', listen))
}
