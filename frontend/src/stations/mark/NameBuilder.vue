<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { onMounted, reactive, ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import ProblemNote from '../../shared/ProblemNote.vue'

/** A value put together from the parts of its naming pattern; # counts on. */
const props = defineProps<{ column: Schemas['SheetColumn'] }>()
const emit = defineEmits<{ built: [name: string]; close: [] }>()

const parts = reactive<Record<string, string>>({})
const build = useMutation<string, Problem>({
  mutationFn: () => answer(api.POST('/mark/names', { body: { field: props.column.name, parts } })),
  onSuccess: (name) => emit('built', name),
})
const form = ref<HTMLElement>()
onMounted(() => form.value?.querySelector<HTMLElement>('select, input')?.focus())
</script>

<template>
  <form
    ref="form"
    class="builder"
    :aria-label="`Build a ${column.name}`"
    @submit.prevent="build.mutate()"
    @keydown.esc.stop="emit('close')"
  >
    <label v-for="part in column.parts" :key="part.name">
      {{ part.name }}
      <select v-if="part.words.length" v-model="parts[part.name]" class="tool">
        <option v-for="word in part.words" :key="word">{{ word }}</option>
      </select>
      <input v-else v-model="parts[part.name]" class="tool" placeholder="text, or # for the next number" />
    </label>
    <v-btn type="submit" variant="flat" color="primary" :disabled="build.isPending.value">Build</v-btn>
    <v-btn @click="emit('close')">Leave as it is</v-btn>
    <ProblemNote :error="build.error.value" />
  </form>
</template>

<style scoped>
.builder {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  border: 1px solid var(--ink);
  background: var(--sheet);
  padding: 8px 12px;
  margin-bottom: 8px;
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
</style>
