<script setup lang="ts">
import { ref, watch } from 'vue'

/** A day, written one way everywhere: 2026-03-31. What is no day is said and not taken. */
const props = defineProps<{ modelValue: string; label: string; optional?: boolean }>()
const emit = defineEmits<{ 'update:modelValue': [day: string] }>()

const text = ref(props.modelValue)
const wrong = ref(false)
watch(
  () => props.modelValue,
  (day) => {
    text.value = day
    wrong.value = false
  },
)
function isDay(day: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day)) return false
  const at = new Date(`${day}T00:00:00Z`)
  return !Number.isNaN(+at) && at.toISOString().slice(0, 10) === day
}
function keep() {
  const day = text.value.trim()
  wrong.value = !(isDay(day) || (day === '' && props.optional))
  if (!wrong.value && day !== props.modelValue) emit('update:modelValue', day)
}
</script>

<template>
  <input
    v-model="text"
    class="tool day"
    inputmode="numeric"
    maxlength="10"
    placeholder="2026-03-31"
    :aria-label="label"
    :aria-invalid="wrong"
    :title="wrong ? `${text} is not a day: write it as 2026-03-31` : 'As 2026-03-31'"
    @change="keep"
    @keydown.enter.prevent="keep"
  />
</template>

<style scoped>
.day {
  width: 98px;
}

.day[aria-invalid='true'] {
  outline: 2px solid var(--loses);
}
</style>
