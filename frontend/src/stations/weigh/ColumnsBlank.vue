<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Board } from '../../api/client'
import BlankWord from '../../shared/BlankWord.vue'
import type { useQuestion } from './question'

/** Which figures stand beside the rulers: a set, or one's own. */
const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion> }>()
const picked = props.question.columns

const list = ref<HTMLElement>()
const set = computed(() => {
  const [only, ...more] = picked.value.length ? picked.value : ['money']
  return !more.length && only! in props.board.column_sets ? only! : 'own'
})
const sets = computed(() => Object.keys(props.board.column_sets).map((name) => ({ value: name, word: name })))
/** Those asked for: the board that stands here may be older. */
const asked = computed(() => {
  const named = picked.value.length ? picked.value : ['money']
  return [...new Set(named.flatMap((name) => props.board.column_sets[name] ?? [name]))]
})
/** Those shown first, in their order, then all others. */
const every = computed(() => {
  const shown = asked.value
  const named = (name: string) => props.board.columns.filter((c) => c.name === name)
  return [...shown.flatMap(named), ...props.board.columns.filter((c) => !shown.includes(c.name))]
})
const isShown = (name: string) => asked.value.includes(name)

/** The column that has the focus keeps it while the list is put in its new order. */
let held = ''
watch(
  () => asked.value.join(),
  () => held && list.value?.querySelector<HTMLElement>(`[data-column="${held}"]`)?.focus(),
  { flush: 'post' },
)
function keep(names: string[], focused: string) {
  held = focused
  picked.value = names
}
function toggle(name: string) {
  const shown = asked.value
  keep(isShown(name) ? shown.filter((n) => n !== name) : [...shown, name], name)
}
/** Arrows go along the list, with Alt they move the column. */
function keys(event: KeyboardEvent, name: string) {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (!step) return
  event.preventDefault()
  const shown = [...asked.value]
  const at = shown.indexOf(name)
  if (event.altKey && at >= 0 && shown[at + step]) {
    ;[shown[at], shown[at + step]] = [shown[at + step]!, shown[at]!]
    keep(shown, name)
  } else if (!event.altKey) {
    const buttons = [...list.value!.querySelectorAll<HTMLElement>('[data-column]')]
    const now = buttons.findIndex((b) => b.dataset.column === name)
    buttons[now + step]?.focus()
  }
}
</script>

<template>
  <BlankWord
    label="Columns"
    :word="set"
    :options="sets"
    :chosen="set"
    says="Figures beside the rulers. Enter: money, traffic, quality or your own"
    @pick="picked = $event === 'money' ? [] : [$event]"
  >
    <p class="quiet own">Own: space shows or hides, Alt and arrows order</p>
    <ul ref="list" aria-label="Own columns">
      <li v-for="column in every" :key="column.name">
        <button
          type="button"
          class="plain"
          :data-column="column.name"
          :aria-pressed="isShown(column.name)"
          :disabled="isShown(column.name) && asked.length === 1"
          @click="toggle(column.name)"
          @keydown="keys($event, column.name)"
        >
          <span class="mark" aria-hidden="true">{{ isShown(column.name) ? '|' : '' }}</span>
          {{ column.title }}
        </button>
      </li>
    </ul>
  </BlankWord>
</template>

<style scoped>
.own {
  margin: 4px 0 0;
  padding: 4px 12px 0;
  border-top: 1px solid var(--line);
  font-size: 13px;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0 12px;
}

ul button {
  min-height: 24px;
}

.mark {
  display: inline-block;
  width: 12px;
  font-weight: 700;
  color: var(--accent-text);
}

[aria-pressed='true'] {
  font-weight: 650;
}
</style>
