<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import type { Board } from '../../api/client'
import BlankWord from '../../shared/BlankWord.vue'
import type { useQuestion } from './question'

/** A clause "only where ..." of the question, or the place of the next one. */
const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion>; clause?: string }>()
// Loaded when somebody filters.
const FilterForm = defineAsyncComponent(() => import('./FilterForm.vue'))
const where = props.question.where

const blank = ref<InstanceType<typeof BlankWord>>()
defineExpose({ begin: () => blank.value?.begin() })

function keep(text: string) {
  where.value = props.clause
    ? where.value.map((w) => (w === props.clause ? text : w))
    : [...where.value.filter((w) => w !== text), text]
  blank.value?.close()
}
const remove = () => {
  if (props.clause) where.value = where.value.filter((w) => w !== props.clause)
}
const words = (text: string) => text.replaceAll('_', ' ')
</script>

<template>
  <BlankWord
    ref="blank"
    :label="clause ? 'Only where' : 'Add a filter'"
    :word="clause ? words(clause) : 'only where …'"
    :says="
      clause ? `Only where ${words(clause)}. Enter: change it; Delete: remove it` : 'Show only what fits (f)'
    "
    @remove="remove"
  >
    <FilterForm :board="board" :question="question" :clause="clause" @done="keep" @remove="remove" />
  </BlankWord>
</template>
