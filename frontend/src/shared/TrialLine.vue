<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { onTrial, quiet } from './trial'
import { keptWords, trialWords } from './trialWords'

// Loaded when somebody wants to see rows.
const TrialRows = defineAsyncComponent(() => import('./TrialRows.vue'))

/** The foot line while an edit of the plan is on trial: what it moves, Keep and Leave. */
const line = ref<HTMLElement>()
const seen = ref(false)
const asking = computed(() => (onTrial.value?.stage === 'asking' ? onTrial.value : null))
const words = computed(() => {
  const now = onTrial.value
  if (!now) return ''
  if (now.stage === 'trying') return 'Trying what this would move; Esc leaves it'
  if (now.stage === 'keeping') return 'Keeping it'
  return now.stage === 'kept' ? keptWords(now.trial) : trialWords(now.trial)
})

/** Where the focus was when the edit was made: there it goes back. */
let opener: Element | null = null
watch(
  asking,
  async (now, before) => {
    if (now && !before) {
      opener = document.activeElement
      seen.value = false
      await nextTick()
      line.value?.querySelector('button')?.focus()
    } else if (!now && before && line.value?.contains(document.activeElement)) {
      await nextTick()
      if (opener instanceof HTMLElement && opener.isConnected) opener.focus()
    }
  },
  { immediate: true },
)

const leave = () => {
  if (onTrial.value && 'leave' in onTrial.value) onTrial.value.leave()
}

/** Esc leaves what is on trial, and nothing behind it. */
useEventListener(
  'keydown',
  (event: KeyboardEvent) => {
    if (event.key !== 'Escape' || !onTrial.value || !('leave' in onTrial.value)) return
    event.stopImmediatePropagation()
    event.preventDefault()
    leave()
  },
  { capture: true },
)
/** Who goes away in the midst of it is asked first. */
useEventListener('beforeunload', (event) => {
  if (onTrial.value && onTrial.value.stage !== 'kept') event.preventDefault()
})
/** What was kept is said until the next thing is done. */
useEventListener('pointerdown', quiet)
useEventListener('keydown', quiet)
</script>

<template>
  <div ref="line" class="trial no-print" :class="{ asking, said: words }">
    <p class="words" aria-live="polite">{{ words }}</p>
    <section v-if="asking" aria-label="On trial">
      <TrialRows v-if="seen" class="rows" :trial="asking.trial" />
      <button type="button" class="tool keep" @click="asking.keep()">Keep</button>
      <button type="button" class="tool" @click="leave">Leave</button>
      <button type="button" class="plain link" :aria-expanded="seen" @click="seen = !seen">
        {{ seen ? 'hide' : 'see' }}
      </button>
    </section>
  </div>
</template>

<style scoped>
.trial {
  position: fixed;
  inset: auto 0 0 84px;
  z-index: 7;
  background: var(--paper);
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 10px;
  padding: 0 16px;
}

.said {
  min-height: 32px;
}

.asking {
  border-top: 2px solid var(--accent);
}

section {
  display: contents;
}

.rows {
  order: -1;
  flex-basis: 100%;
  max-height: 60vh;
}

.words {
  margin: 0;
}

.asking .words {
  font-weight: 600;
}

.keep {
  background: var(--ink);
  color: var(--paper);
}

@media (max-width: 700px) {
  .trial {
    inset: auto 0 48px;
    padding: 0 12px;
  }
}
</style>
