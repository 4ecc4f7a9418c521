<script setup lang="ts">
import { defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { stations } from './router'
import { useKeys } from './shared/keys'
import TrailRail from './shared/TrailRail.vue'
import { onTrial } from './shared/trial'

const router = useRouter()
const showKeys = ref(false)
// Loaded when somebody asks for it: the first view does without dialogs.
const KeysHelp = defineAsyncComponent(() => import('./shared/KeysHelp.vue'))
// So is what an edit on trial needs.
const TrialLine = defineAsyncComponent(() => import('./shared/TrialLine.vue'))
const asked = ref(false)
const station = ref<HTMLElement>()
let came: Element | null = null
watch(showKeys, async (shown) => {
  asked.value = true
  if (shown) came = document.activeElement
  // The list gives the focus back to where it was when it closes.
  else {
    await nextTick()
    if (came instanceof HTMLElement && came.isConnected) came.focus()
  }
})
/** Says to whoever does not see it that the station is another one. */
const announced = ref('')
router.afterEach((to, from) => {
  if (from.name && to.name !== from.name) announced.value = document.title
})
/** By its key one goes into a station: the next Tab is at its first control. */
async function go(name: string) {
  await router.push({ name })
  await nextTick()
  station.value?.focus()
}

/** What is open of the row that has the focus, or of the record that is shown. */
function join() {
  const row = document.activeElement?.closest('tr')?.querySelector('[data-cell=name]')?.textContent?.trim()
  const of = row || router.currentRoute.value.query.id
  void router.push({ name: 'join', query: of ? { of, days: 'all' } : {} })
}

useKeys({
  j: join,
  ...Object.fromEntries(stations.map((s) => [String(s.number), () => void go(s.name)])),
  '?': () => (showKeys.value = !showKeys.value),
})
</script>

<template>
  <v-app>
    <a class="skip" href="#station">Skip to the station</a>
    <TrailRail @keys="showKeys = true" />
    <p class="unseen no-print" aria-live="polite">{{ announced }}</p>
    <main id="station" ref="station" tabindex="-1">
      <router-view />
    </main>
    <TrialLine v-if="onTrial" />
    <KeysHelp v-if="asked" v-model="showKeys" />
  </v-app>
</template>

<style scoped>
main {
  margin-left: 84px;
  padding: 10px 16px 16px;
  min-height: 100vh;
  outline: none;
  position: relative;
}

.skip {
  position: absolute;
  left: -999px;
}

.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 10;
  background: var(--paper);
  padding: 4px 8px;
}

@media (max-width: 700px) {
  main {
    margin-left: 0;
    padding: 8px 12px 56px;
  }
}

@media print {
  main {
    margin-left: 0;
  }
}
</style>
