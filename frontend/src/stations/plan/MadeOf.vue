<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useAddressState } from '../../shared/addressState'
import ProblemNote from '../../shared/ProblemNote.vue'
import { usePlan, useUndoPlan } from './queries'
import RecordFiles from './RecordFiles.vue'
import RecordForm from './RecordForm.vue'
import RecordTable from './RecordTable.vue'
import type { Section } from './sections'
import { draftOf, useRecords } from './useRecords'

/** Lists of the plan edited beside what they change: closed a line of names, opened a table with its form. */
const props = defineProps<{ sections: Section[] }>()
const emit = defineEmits<{ changed: [] }>()

const plan = usePlan()
const undo = useUndoPlan()
/** What was wrong with the last file that was taken in. */
const notTaken = ref<unknown>(null)
const chosen = useAddressState('made')
const section = computed(() => props.sections.find((s) => s.name === chosen.value))
const { change, open, records, numbers, edit, close, keep, remove, move } = useRecords(
  plan.data,
  computed(() => section.value ?? props.sections[0]!),
)
const last = computed(() => plan.data.value?.steps.find((step) => !step.undone))
const many = (s: Section) => plan.data.value?.sections[s.name]?.length ?? 0

watch(
  () => plan.data.value?.basis,
  (now, before) => {
    if (before !== undefined && now !== before) emit('changed')
  },
)

function choose(s: Section) {
  close()
  chosen.value = chosen.value === s.name ? '' : s.name
}

/** Focus returns to the button that opened the form. */
async function leave() {
  close()
  await nextTick()
  document.querySelector<HTMLElement>(`[data-made="${section.value?.name}"]`)?.focus()
}
</script>

<template>
  <section class="made no-print" aria-label="What links are built from">
    <header>
      <span class="quiet">Built from</span>
      <button
        v-for="s in sections"
        :key="s.name"
        type="button"
        class="plain link"
        :data-made="s.name"
        :aria-expanded="section?.name === s.name"
        @click="choose(s)"
      >
        {{ s.title }} {{ many(s) || '' }}
      </button>
      <slot />
    </header>
    <div v-if="section && plan.data.value" class="list">
      <p>
        <span class="quiet">{{ section.purpose }}</span>
        <button type="button" class="plain link" @click="edit(records.length, {})">
          Add a {{ section.one }}
        </button>
        <span class="files">
          <button
            v-if="last"
            type="button"
            class="plain link"
            :disabled="undo.isPending.value"
            @click="undo.mutate()"
          >
            Undo: {{ last.what }}
          </button>
          <RecordFiles :section="section.name" @failed="notTaken = $event" />
        </span>
      </p>
      <ProblemNote
        v-if="!open"
        :error="change.error.value ?? notTaken ?? undo.error.value ?? plan.error.value"
      />
      <RecordTable
        :section="section"
        :records="records"
        find=""
        :selected="open?.at ?? null"
        :numbers="numbers"
        @edit="edit($event)"
        @remove="remove"
        @move="move"
      />
    </div>
    <RecordForm
      v-if="open && section && plan.data.value"
      :title="open.isNew ? `New ${section.one}` : `Change this ${section.one}`"
      :fields="plan.data.value.fields[section.name]!"
      :record="open.record"
      :section="open.isNew ? '' : section.name"
      :typed-as="draftOf(section.name, open)"
      :error="change.error.value"
      :busy="change.isPending.value"
      @keep="keep"
      @close="leave"
    />
  </section>
</template>

<style scoped>
.made {
  margin: 6px 0;
}

header,
.list > p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  margin: 0;
}

header [aria-expanded='true'] {
  font-weight: 650;
}

.list {
  border-left: 3px solid var(--accent);
  padding: 4px 0 6px 12px;
  margin: 4px 0 10px;
}

.files {
  display: flex;
  gap: 12px;
  margin-left: auto;
}
</style>
