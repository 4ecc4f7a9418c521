<script setup lang="ts">
import { useAddressState } from '../../shared/addressState'
import CheckUp from './CheckUp.vue'
import HandOver from './HandOver.vue'
import LinkSheet from './LinkSheet.vue'
import MailSenders from './MailSenders.vue'
import MessageCount from './MessageCount.vue'
import PatternBoard from './PatternBoard.vue'
import PlacingList from './PlacingList.vue'

const part = useAddressState('part', 'sheet')
const PARTS = [
  ['sheet', 'Link sheet'],
  ['check', 'Check-up'],
  ['placing', 'Placing'],
  ['hand', 'Hand over'],
  ['pattern', 'Patterns'],
  ['mail', 'Mails'],
  ['message', 'Text messages'],
] as const
</script>

<template>
  <header class="top">
    <h1>Mark <small class="quiet">is every link told apart?</small></h1>
    <nav class="no-print" aria-label="Parts of Mark">
      <button
        v-for="[name, title] in PARTS"
        :key="name"
        type="button"
        class="plain"
        :aria-current="part === name"
        @click="part = name"
      >
        {{ title }}
      </button>
    </nav>
  </header>
  <LinkSheet v-if="part === 'sheet'" />
  <CheckUp v-else-if="part === 'check'" />
  <PlacingList v-else-if="part === 'placing'" />
  <HandOver v-else-if="part === 'hand'" />
  <PatternBoard v-else-if="part === 'pattern'" />
  <MailSenders v-else-if="part === 'mail'" />
  <MessageCount v-else-if="part === 'message'" />
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 24px;
  align-items: baseline;
}

small {
  font-weight: 400;
  font-size: 14px;
}

nav {
  display: flex;
  gap: 16px;
}

nav button {
  padding: 2px 0;
  white-space: nowrap;
}

@media (max-width: 700px) {
  .top {
    gap: 4px;
  }

  nav {
    flex-wrap: wrap;
    gap: 4px 14px;
  }
}

nav button[aria-current='true'] {
  font-weight: 650;
}

nav button[aria-current='true']::before {
  content: '';
  display: inline-block;
  width: 8px;
  height: 8px;
  margin-right: 7px;
  background: var(--accent);
  transform: rotate(45deg);
}
</style>
