<script setup lang="ts">
import { address } from '../../api/client'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useAddressState, useTypedState } from '../../shared/addressState'
import AdPreview from '../../shared/AdPreview.vue'
import ProblemNote from '../../shared/ProblemNote.vue'
import FindField from '../../shared/FindField.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import { today } from '../../shared/days'
import { useKeys } from '../../shared/keys'
import CampaignCame from './CampaignCame.vue'
import ChannelPanel from './ChannelPanel.vue'
import GeneralForm from './GeneralForm.vue'
import LegendPreview from './LegendPreview.vue'
import LevelTree from './LevelTree.vue'
import { useCame, usePlan, useUndoPlan, type Rec } from './queries'
import RecordFiles from './RecordFiles.vue'
import RecordForm from './RecordForm.vue'
import { shown } from './records'
import RecordTable from './RecordTable.vue'
import SharedRules from './SharedRules.vue'
import { MARK_SECTIONS, SECTIONS, type SectionName } from './sections'
import { draftOf, useRecords } from './useRecords'

const plan = usePlan()
const came = useCame()
const undo = useUndoPlan()
/** What was wrong with the last file that was taken in. */
const notTaken = ref<unknown>(null)

const chosen = useAddressState('section', 'campaign')
const router = useRouter()
const elsewhere = MARK_SECTIONS.find((s) => s.name === chosen.value)
const PART: Partial<Record<SectionName, string>> = { dialect: 'pattern', own_slot: 'pattern', sender: 'mail' }
// What links are built from is edited in Mark.
if (elsewhere)
  void router.replace({ path: '/mark', query: { part: PART[elsewhere.name], made: elsewhere.name } })
const find = useTypedState('find')
const section = computed(() => SECTIONS.find((s) => s.name === chosen.value) ?? SECTIONS[0]!)
const { change, open, records, numbers, edit, close, put, keep, remove, move, withDraft } = useRecords(
  plan.data,
  section,
)
/** A new record of the list that is shown. */
const add = () => edit(records.value.length, {})
useKeys({
  n: () => (section.value.name && !open.value ? add() : false),
  u: () => (last.value && !open.value && !undo.isPending.value ? undo.mutate() : false),
})
const rules = computed(() =>
  section.value.name === 'channel' || section.value.name === 'shared_channel' ? section.value.name : null,
)
const currency = computed(() => (plan.data.value?.general.home_currency as string | undefined) ?? 'EUR')
const zone = computed(() => (plan.data.value?.general.time_zone as string | undefined) ?? 'UTC')
const last = computed(() => plan.data.value?.steps.find((step) => !step.undone))

function choose(name: SectionName) {
  close()
  chosen.value = name
}

/** From now on nobody can bend what was expected. */
function lock(record: Rec) {
  const list = records.value.map((r) => (r === record ? { ...r, locked_on: today(zone.value) } : r))
  void put(list, `expectation of ${shown(record.name)} locked`).catch(() => {})
}
</script>

<template>
  <header class="top">
    <h1>Plan <small class="quiet">what are we running, and what counts?</small></h1>
    <span class="aside no-print">
      <button
        v-if="last"
        type="button"
        class="plain link"
        :title="`Take back: ${last.what} (u)`"
        :disabled="undo.isPending.value"
        @click="undo.mutate()"
      >
        Undo: {{ last.what }}
      </button>
      <a class="link" :href="address('/plan/settings.toml')" download>Export settings.toml</a>
    </span>
  </header>
  <ProblemNote :error="plan.error.value ?? undo.error.value ?? notTaken" />
  <WorkingNote v-if="plan.isLoading.value" what="Reading the plan: everything that somebody decided." />
  <div v-if="plan.data.value" class="desk">
    <nav class="no-print" aria-label="Sections of the plan">
      <button
        v-for="s in SECTIONS"
        :key="s.name"
        type="button"
        class="plain"
        :aria-current="s.name === section.name"
        @click="choose(s.name)"
      >
        <span>{{ s.title }}</span>
        <span class="quiet">{{ s.name ? plan.data.value.sections[s.name]?.length || '' : '' }}</span>
      </button>
    </nav>
    <section :aria-label="section.title" class="work">
      <h2>{{ section.title }}</h2>
      <p class="purpose quiet">{{ section.purpose }}</p>
      <GeneralForm v-if="!section.name" :plan="plan.data.value" />
      <template v-else>
        <div class="tools no-print">
          <v-btn variant="flat" color="primary" title="n" @click="add">Add a {{ section.one }}</v-btn>
          <FindField v-model="find" />
          <span class="files">
            <RecordFiles :section="section.name" @failed="notTaken = $event" />
          </span>
        </div>
        <SharedRules
          v-if="section.name === 'shared_channel'"
          :basis="plan.data.value.basis"
          :zone="zone"
          :rules="records.length"
        />
        <ProblemNote v-if="!open" :error="change.error.value" />
        <RecordTable
          :section="section"
          :records="records"
          :find="find"
          :selected="open?.at ?? null"
          :numbers="numbers"
          @edit="edit($event)"
          @remove="remove"
          @move="move"
        >
          <template v-if="section.name === 'campaign'" #head>
            <th class="number">Budget ({{ currency }})</th>
            <th class="number">Spend</th>
            <th class="number">Expected value</th>
            <th class="number">Actual value</th>
          </template>
          <template v-if="section.name === 'campaign'" #default="{ record }">
            <CampaignCame :record="record" :came="came.data.value ?? []" @lock="lock(record)" />
          </template>
        </RecordTable>
        <ChannelPanel v-if="rules" :key="rules" :rules="records" :section="rules" />
        <LevelTree
          v-if="section.name === 'level'"
          :named="records"
          :find="find"
          @name="edit(records.length, $event)"
        />
      </template>
    </section>
    <RecordForm
      v-if="open"
      :title="open.isNew ? `New ${section.one}` : `Change this ${section.one}`"
      :fields="plan.data.value.fields[section.name]!"
      :record="open.record"
      :section="open.isNew ? '' : section.name"
      :typed-as="draftOf(section.name, open)"
      :error="change.error.value"
      :busy="change.isPending.value"
      @keep="keep"
      @close="close"
    >
      <template #default="{ draft }">
        <LegendPreview v-if="section.name === 'legend'" :draft="draft" />
        <AdPreview
          v-if="section.name === 'level' && draft.level === 'ad'"
          :number="shown(draft.id)"
          :name="shown(draft.name)"
          :text="shown(draft.text)"
          :picture="shown(draft.picture)"
        />
        <ChannelPanel v-if="rules" :rules="withDraft(draft)" :section="rules" draft />
      </template>
    </RecordForm>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

small {
  font-weight: 400;
  font-size: 14px;
}

.aside {
  display: flex;
  gap: 14px;
  align-items: baseline;
}

.desk {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 20px;
  margin-top: 10px;
}

nav {
  display: flex;
  flex-direction: column;
  gap: 2px;
}

nav button {
  display: flex;
  justify-content: space-between;
  text-align: left;
  padding: 3px 6px;
}

nav button[aria-current='true'] {
  font-weight: 650;
  border-left: 3px solid var(--accent);
  background: var(--sheet);
}

.purpose {
  margin: 2px 0 8px;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-bottom: 8px;
}

.files {
  margin-left: auto;
  display: flex;
  gap: 12px;
}

.work {
  min-width: 0;
  overflow-x: auto;
}

@media (max-width: 700px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
    gap: 10px;
  }

  nav {
    flex-flow: row wrap;
  }

  nav button {
    gap: 4px;
  }

  .top {
    flex-wrap: wrap;
  }
}

@media print {
  .desk {
    display: block;
  }
}
</style>
