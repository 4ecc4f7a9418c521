<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { combinations } from './grid'

const props = defineProps<{ columns: Schemas['Column'][]; rows: number }>()
const emit = defineEmits<{ multiply: [lists: Record<string, string[]>]; close: [] }>()

const axes = ref([
  { name: 'placement', text: '' },
  { name: 'page', text: '' },
  { name: 'content', text: '' },
])
const lists = computed(() =>
  Object.fromEntries(
    axes.value.map(({ name, text }) => [
      name,
      text
        .split('\n')
        .map((t) => t.trim())
        .filter(Boolean),
    ]),
  ),
)
const made = computed(() => combinations(lists.value).length * props.rows)
const form = ref<HTMLElement>()
onMounted(() => form.value?.querySelector('textarea')?.focus())
</script>

<template>
  <form
    ref="form"
    class="multiply"
    aria-label="Multiply"
    @submit.prevent="emit('multiply', lists)"
    @keydown.esc.stop="emit('close')"
  >
    <p>One value a line. Each chosen row becomes one row for every combination.</p>
    <div class="axes">
      <label v-for="axis in axes" :key="axis.name">
        <select v-model="axis.name" class="tool" aria-label="Column">
          <option v-for="c in columns" :key="c.name" :value="c.name">{{ c.name.replace('_', ' ') }}</option>
        </select>
        <textarea v-model="axis.text" class="tool" rows="4" :aria-label="`Values of ${axis.name}`" />
      </label>
    </div>
    <div class="choice">
      <v-btn type="submit" variant="flat" color="primary" :disabled="made <= rows || made > 2000">
        Make {{ made }} rows
      </v-btn>
      <v-btn @click="emit('close')">Leave as it is</v-btn>
    </div>
  </form>
</template>

<style scoped>
.multiply {
  border: 1px solid var(--ink);
  background: var(--sheet);
  padding: 8px 12px;
  margin-bottom: 8px;
}

p {
  margin: 0 0 6px;
}

.axes {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

label {
  display: flex;
  flex-direction: column;
  gap: 4px;
  width: 240px;
}

textarea {
  height: auto;
}

.choice {
  display: flex;
  gap: 10px;
  margin-top: 8px;
}
</style>
