<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import type { Board } from '../../api/client'
import { useValues } from './queries'
import type { useQuestion } from './question'

/** A clause "only where ..." as three blanks: field, how, value. */
const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion>; clause?: string }>()
const emit = defineEmits<{ done: [clause: string]; remove: [] }>()

const OPERATORS = [...props.board.operators].sort((a, b) => b.length - a.length)
const [name, ...rest] = (props.clause ?? 'source is').split(' ')
const words = rest.join(' ')
const how = OPERATORS.find((one) => words === one || words.startsWith(`${one} `)) ?? 'is'
const field = ref(name!)
const op = ref(how)
const value = ref(words.slice(how.length).trim())
const isPlain = computed(() => /(empty|there)$/.test(op.value))
const values = useValues(props.question.asked, field, ref(true))
const form = ref<HTMLFormElement>()
onMounted(() => form.value?.querySelector<HTMLElement>('select')?.focus())

function keep() {
  const typed = value.value.trim()
  if (!isPlain.value && !typed) return
  emit('done', isPlain.value ? `${field.value} ${op.value}` : `${field.value} ${op.value} ${typed}`)
}
async function toValue() {
  await nextTick()
  form.value?.querySelector<HTMLElement>('input')?.focus()
}
</script>

<template>
  <form ref="form" class="form" @submit.prevent="keep">
    <select v-model="field" class="tool" aria-label="Field">
      <option v-for="one in board.breakdowns" :key="one" :value="one">{{ one.replaceAll('_', ' ') }}</option>
    </select>
    <select v-model="op" class="tool" aria-label="How" @change="toValue">
      <option v-for="word in board.operators" :key="word">{{ word }}</option>
    </select>
    <input
      v-if="!isPlain"
      v-model="value"
      class="tool"
      list="filter-values"
      aria-label="Value"
      :placeholder="op.endsWith(' of') || op.includes('list') ? 'one | another' : 'for example quorrin'"
    />
    <datalist id="filter-values">
      <option v-for="v in values.data.value ?? []" :key="v" :value="v" />
    </datalist>
    <v-btn type="submit">{{ clause ? 'Change' : 'Add' }}</v-btn>
    <button v-if="clause" type="button" class="plain link" @click="emit('remove')">Remove</button>
  </form>
</template>

<style scoped>
.form {
  display: flex;
  gap: 6px;
  align-items: center;
  padding: 6px 12px;
}
</style>
