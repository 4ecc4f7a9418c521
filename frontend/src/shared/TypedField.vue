<script setup lang="ts">
import { ref, watch } from 'vue'

/** A field whose text is given on when it is done with; what is being typed is never taken away by an answer that comes. */
const props = defineProps<{ value: string }>()
const emit = defineEmits<{ done: [text: string] }>()

const text = ref(props.value)
const typing = ref(false)
watch(
  () => props.value,
  (value) => {
    if (!typing.value) text.value = value
  },
)
function done() {
  if (!typing.value) return
  typing.value = false
  emit('done', text.value)
}
</script>

<template>
  <input v-model="text" @input="typing = true" @change="done" @keydown.enter="done" />
</template>
