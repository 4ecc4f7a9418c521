<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useRouter } from 'vue-router'
import { setAddress } from '../../shared/addressState'
import ProblemNote from '../../shared/ProblemNote.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import MadeOf from '../plan/MadeOf.vue'
import { usePlan } from '../plan/queries'
import { ofMark } from '../plan/sections'
import PatternOutcome from './PatternOutcome.vue'
import PatternOverrides from './PatternOverrides.vue'
import PatternTable from './PatternTable.vue'
import { usePattern } from './usePattern'

const router = useRouter()
const plan = usePlan()
const pattern = usePattern(plan.data)
const { there, platform, kind, landing, whose, resolved, set } = pattern
const value = (event: Event) => (event.target as HTMLInputElement).value
const MADE = ofMark('dialect', 'own_slot')
const home = computed(() => String(plan.data.value?.general.home_currency ?? 'EUR'))
/** Bring the board to the level where something else is said. */
function openOverride(one: Schemas['Override']) {
  const at = { campaign: undefined, group: undefined, ad: undefined, [one.level]: one.name || undefined }
  void setAddress(router, { ...at, kind: one.kind || undefined })
}
</script>

<template>
  <ProblemNote :error="there.error.value ?? resolved.error.value ?? plan.error.value" />
  <MadeOf :sections="MADE" />
  <WorkingNote v-if="there.isLoading.value" what="Reading the patterns of the plan." />
  <p v-if="there.data.value && !there.data.value.platforms.length" class="quiet">
    No platform yet. Enter how one writes its slots under Dialects; its board opens here.
  </p>
  <template v-else-if="there.data.value">
    <div class="tools no-print">
      <label
        >Platform
        <select class="tool" :value="whose.platform" @change="platform = value($event)">
          <option v-for="p in there.data.value.platforms" :key="p">{{ p }}</option>
        </select>
      </label>
      <label
        >Kind of campaign
        <input
          class="tool kind"
          list="pattern-kinds"
          :value="kind"
          placeholder="any"
          @change="kind = value($event)"
        />
      </label>
      <label
        >Landing page
        <input
          class="tool landing"
          :value="landing"
          placeholder="the first of the plan"
          @change="landing = value($event)"
        />
      </label>
      <span v-if="kind" class="quiet">Underlined: said for {{ kind }} alone.</span>
      <datalist id="pattern-kinds">
        <option v-for="k in there.data.value.kinds" :key="k" :value="k" />
      </datalist>
      <datalist
        v-for="level in ['campaigns', 'groups', 'ads'] as const"
        :id="`pattern-${level}`"
        :key="level"
      >
        <option v-for="n in there.data.value[level]" :key="n" :value="n" />
      </datalist>
    </div>
    <ProblemNote :error="set.error.value" />
    <PatternTable :pattern="pattern" />
    <PatternOverrides :platform="whose.platform" :home="home" @open="openOverride" />
    <PatternOutcome v-if="resolved.data.value" :whose="whose" :resolved="resolved.data.value" />
  </template>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 8px 0;
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}

.kind {
  width: 110px;
}

.landing {
  width: 340px;
  max-width: 100%;
  min-width: 0;
}

@media (max-width: 700px) {
  label {
    flex-wrap: wrap;
    max-width: 100%;
  }
}
</style>
