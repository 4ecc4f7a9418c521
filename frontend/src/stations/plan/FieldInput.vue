<script setup lang="ts">
import { computed, useId } from 'vue'
import type { PlanField, Rec } from './queries'
import { headOf, labelOf } from './sections'

const props = defineProps<{ field: PlanField }>()
const model = defineModel<unknown>({ required: true })
const id = useId()
const about = `${id}-about`

const text = computed({
  get: () => (model.value === undefined || model.value === null ? '' : String(model.value)),
  set: (value: string) => (model.value = value),
})
/** One word a line. */
const lines = computed({
  get: () => (Array.isArray(model.value) ? model.value.join('\n') : text.value),
  set: (value: string) => (model.value = value.split('\n')),
})
/** Records inside a record; a table of a file, name to value, is records of two fields. */
const items = computed<Rec[]>(() => {
  if (Array.isArray(model.value)) return model.value as Rec[]
  const [name, value] = props.field.fields.map((f) => f.name)
  return Object.entries(model.value ?? {}).map(([key, one]) => ({ [name!]: key, [value!]: one }))
})
const group = computed(() => (model.value ?? {}) as Rec)

const change = (at: number, name: string, value: unknown) =>
  (model.value = items.value.map((item, i) => (i === at ? { ...item, [name]: value } : item)))
/** What holds where nothing is said. */
const usual = computed(() => (props.field.usual ? `as usual: ${props.field.usual}` : 'as usual'))
const example = computed(() => (props.field.example ? `For example ${props.field.example}` : ''))
</script>

<template>
  <fieldset v-if="field.kind === 'records'" class="inner" :data-field="field.name">
    <legend>{{ headOf(field.name) }}{{ field.required ? ' *' : '' }}</legend>
    <p class="quiet">
      {{ field.text }} <span class="changes">{{ field.changes }}</span>
    </p>
    <div v-for="(item, at) in items" :key="at" class="item">
      <FieldInput
        v-for="inner in field.fields"
        :key="inner.name"
        :field="inner"
        :model-value="item[inner.name]"
        @update:model-value="change(at, inner.name, $event)"
      />
      <button type="button" class="plain link" @click="model = items.filter((_, i) => i !== at)">
        Remove
      </button>
    </div>
    <button type="button" class="tool" @click="model = [...items, {}]">
      Add to {{ labelOf(field.name) }}
    </button>
  </fieldset>
  <fieldset v-else-if="field.kind === 'group'" class="inner" :data-field="field.name">
    <legend>{{ headOf(field.name) }}</legend>
    <p class="quiet">
      {{ field.text }} <span class="changes">{{ field.changes }}</span>
    </p>
    <FieldInput
      v-for="inner in field.fields"
      :key="inner.name"
      :field="inner"
      :model-value="group[inner.name]"
      @update:model-value="model = { ...group, [inner.name]: $event }"
    />
  </fieldset>
  <div v-else class="field" :data-field="field.name">
    <label :for="id">{{ headOf(field.name) }}{{ field.required ? ' *' : '' }}</label>
    <select v-if="field.kind === 'choice'" :id="id" v-model="text" class="tool" :aria-describedby="about">
      <option v-if="!field.required" value="">{{ usual }}</option>
      <option v-for="option in field.options" :key="option" :value="option">{{ option }}</option>
    </select>
    <select
      v-else-if="field.kind === 'yes or no'"
      :id="id"
      class="tool"
      :aria-describedby="about"
      :value="text"
      @change="
        model =
          ($event.target as HTMLSelectElement).value === ''
            ? null
            : ($event.target as HTMLSelectElement).value === 'true'
      "
    >
      <option value="">{{ usual }}</option>
      <option value="true">yes</option>
      <option value="false">no</option>
    </select>
    <textarea
      v-else-if="field.kind === 'words'"
      :id="id"
      v-model="lines"
      class="tool words"
      :rows="Math.max(1, lines.split('\n').length)"
      :placeholder="field.usual || undefined"
      :aria-describedby="about"
    />
    <input
      v-else
      :id="id"
      v-model="text"
      class="tool"
      :placeholder="field.usual || (field.kind === 'day' ? '2026-03-31' : undefined)"
      :inputmode="field.kind === 'number' ? 'decimal' : undefined"
      :list="field.options.length ? `${id}-often` : undefined"
      :aria-describedby="about"
    />
    <datalist v-if="field.kind === 'text' && field.options.length" :id="`${id}-often`">
      <option v-for="option in field.options" :key="option" :value="option" />
    </datalist>
    <span :id="about" class="quiet about"
      >{{ field.text }} {{ example
      }}<span v-if="field.changes" class="changes">{{ field.changes }}</span></span
    >
  </div>
</template>

<style scoped>
.field {
  display: grid;
  grid-template-columns: 128px 1fr;
  gap: 2px 8px;
  align-items: center;
  margin-bottom: 7px;
}

.about {
  grid-column: 2;
  font-size: 13px;
  line-height: 1.25;
}

.changes {
  margin-left: 0.3em;
  font-style: italic;
}

.inner {
  border: 1px solid var(--line);
  padding: 4px 10px 8px;
  margin-bottom: 8px;
}

.inner legend {
  padding: 0 4px;
  font-weight: 600;
}

.inner p {
  margin: 0 0 6px;
  font-size: 13px;
}

.item {
  border-left: 3px solid var(--line);
  padding-left: 8px;
  margin-bottom: 8px;
}

.words {
  height: auto;
  resize: vertical;
}
</style>
