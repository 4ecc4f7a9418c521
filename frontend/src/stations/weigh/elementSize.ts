import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

/** The width of an element, kept up to date. */
export function useElementSize(element: Ref<HTMLElement | undefined>, usual: number): { width: Ref<number> } {
  const width = ref(usual)
  let watcher: ResizeObserver | undefined
  onMounted(() => {
    watcher = new ResizeObserver(([entry]) => entry && (width.value = Math.floor(entry.target.clientWidth)))
    if (element.value) watcher.observe(element.value)
  })
  onBeforeUnmount(() => watcher?.disconnect())
  return { width }
}
