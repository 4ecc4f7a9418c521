<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import { nextTick, ref } from 'vue'

/** A word of a question's sentence that can be another one: underlined, its list under it. */
const props = defineProps<{
  /** What the word says, for whoever does not see the sentence. */
  label: string
  word: string
  options?: { value: string; word: string }[]
  chosen?: string
  /** What the foot line reads out of it. */
  says?: string
}>()
const emit = defineEmits<{ pick: [value: string]; remove: [] }>()

const open = ref(false)
const sticksOut = ref(false)
const root = ref<HTMLElement>()
const button = ref<HTMLButtonElement>()
const panel = ref<HTMLElement>()

async function begin() {
  open.value = true
  await nextTick()
  // A list that would stick out hangs from the word's right end.
  sticksOut.value = (panel.value?.getBoundingClientRect().right ?? 0) > document.documentElement.clientWidth
  const first =
    panel.value?.querySelector<HTMLElement>('[aria-selected="true"], [aria-pressed="true"]') ??
    panel.value?.querySelector<HTMLElement>('[role="option"], input, select, button')
  first?.focus()
}
function close(back = true) {
  if (!open.value) return
  open.value = sticksOut.value = false
  if (back) void nextTick(() => button.value?.focus())
}
defineExpose({ begin, close })
onClickOutside(root, () => close(false))

function pick(value: string) {
  emit('pick', value)
  close()
}

/** Letters that come within so many milliseconds are of one word. */
const TOGETHER = 700
let spelt = ''
let spelledAt = 0

/** The list closes when the focus goes elsewhere; from field to field inside it, it stays. */
function left(event: FocusEvent) {
  if (event.relatedTarget instanceof Node && !root.value?.contains(event.relatedTarget)) close(false)
}

/** Keys inside the list are its own; only Tab goes on. */
function keys(event: KeyboardEvent) {
  if (event.key === 'Tab') return
  event.stopPropagation()
  if (event.key === 'Escape') return close()
  const target = event.target as HTMLElement
  if (target.getAttribute('role') !== 'option') return
  const every = [...panel.value!.querySelectorAll<HTMLElement>('[role="option"]')]
  const at = every.indexOf(target)
  const steps: Record<string, number> = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: every.length - 1 }
  let next = steps[event.key]
  if (event.key === 'Enter' || event.key === ' ') target.click()
  else if (
    next === undefined &&
    event.key.length === 1 &&
    !event.ctrlKey &&
    !event.metaKey &&
    !event.altKey
  ) {
    // Letters in one go spell the beginning of a word; one alone goes to the next that begins with it.
    spelt = event.timeStamp - spelledAt < TOGETHER ? spelt + event.key.toLowerCase() : event.key.toLowerCase()
    spelledAt = event.timeStamp
    const first = spelt.length === 1 ? at + 1 : at
    const begins = (i: number) => every[i]!.innerText.toLowerCase().startsWith(spelt)
    next = every.map((_, i) => (first + i) % every.length).find(begins)
  } else if (next === undefined) return
  event.preventDefault()
  if (next !== undefined) every[(next + every.length) % every.length]?.focus()
}
</script>

<template>
  <span ref="root" class="blank-of">
    <button
      ref="button"
      type="button"
      class="plain blank"
      aria-haspopup="true"
      :aria-expanded="open"
      :aria-label="`${label}: ${word}`"
      :data-says="says ?? `${label}: ${word}. Enter: others`"
      @click="open ? close() : begin()"
      @keydown.down.prevent="begin()"
      @keydown.delete="emit('remove')"
    >
      {{ word }}
    </button>
    <div v-if="open" ref="panel" class="list" :class="{ right: sticksOut }" @keydown="keys" @focusout="left">
      <ul v-if="options" role="listbox" :aria-label="label">
        <li
          v-for="option in props.options"
          :key="option.value"
          role="option"
          tabindex="-1"
          :aria-selected="option.value === chosen"
          @click="pick(option.value)"
        >
          {{ option.word }}
        </li>
      </ul>
      <slot :close="close" />
    </div>
  </span>
</template>

<style scoped>
.blank-of {
  position: relative;
  white-space: nowrap;
}

.blank {
  border-bottom: 1px solid var(--accent);
  line-height: 1.2;
  min-height: 24px;
}

.blank:hover {
  text-decoration: none;
  background: var(--sheet);
}

.list {
  position: absolute;
  top: calc(100% + 4px);
  left: 0;
  z-index: 8;
  min-width: 160px;
  max-height: 420px;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 4px 0;
}

.list.right {
  left: auto;
  right: 0;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  padding: 2px 12px;
  cursor: pointer;
}

li:hover {
  background: var(--line);
}

li[aria-selected='true'] {
  font-weight: 650;
}

li[aria-selected='true']::before {
  content: '';
  display: inline-block;
  width: 7px;
  height: 7px;
  margin: 0 6px 1px -8px;
  background: var(--accent);
  transform: rotate(45deg);
}

@media (max-width: 700px) {
  .list {
    position: fixed;
    top: auto;
    bottom: 48px;
    left: 8px;
    right: 8px;
  }
}
</style>
