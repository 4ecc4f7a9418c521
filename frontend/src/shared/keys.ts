import { onBeforeUnmount, onMounted } from 'vue'

/** Keys rest while a field has the focus, while a modifier is held, and behind a dialog that covers the page. */
function rests(event: KeyboardEvent): boolean {
  if (document.querySelector('dialog:modal')) return true
  const target = event.target as HTMLElement | null
  const typing = target?.closest('input, textarea, select, [contenteditable]')
  return event.ctrlKey || event.metaKey || event.altKey || (!!typing && event.key !== 'Escape')
}

/** Listen to keys as long as the component lives. An action that gives false leaves the key to the browser. */
export function useKeys(actions: Record<string, (event: KeyboardEvent) => unknown>): void {
  function listen(event: KeyboardEvent) {
    const action = actions[event.key]
    if (action && !rests(event) && action(event) !== false) event.preventDefault()
  }
  onMounted(() => window.addEventListener('keydown', listen))
  onBeforeUnmount(() => window.removeEventListener('keydown', listen))
}
