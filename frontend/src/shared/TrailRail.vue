<script setup lang="ts">
import { stations } from '../router'
import { computed } from 'vue'
import { useNow } from './now'
import { theme } from './theme'
import WorkspacePicker from './WorkspacePicker.vue'

defineEmits<{ keys: [] }>()
const now = useNow()
/** A load at work, whichever window began it. */
const atWork = computed(() => now.data.value?.running[0])
const share = computed(() =>
  Math.floor((100 * (atWork.value?.rows_done ?? 0)) / (atWork.value?.rows_total || 1)),
)
</script>

<template>
  <nav class="rail no-print" aria-label="Stations">
    <p class="name">Yardstick<br />Trail</p>
    <WorkspacePicker />
    <ol>
      <li v-for="station in stations" :key="station.name">
        <router-link
          :to="{ name: station.name }"
          :title="`${station.title}: ${station.question} (key ${station.number})`"
        >
          <span class="stake" aria-hidden="true" />
          <span>{{ station.title }}</span>
        </router-link>
      </li>
    </ol>
    <router-link v-if="atWork" :to="{ name: 'gather' }" class="at-work" :title="`${atWork.doing}: ${share} %`"
      >Loading {{ Math.min(100, share) }} %</router-link
    >
    <router-link
      :to="{ name: 'selfcheck' }"
      class="keys plain"
      title="Published and worked examples, computed by this program"
      >Self-check</router-link
    >
    <button
      type="button"
      class="plain keys"
      :aria-pressed="theme === 'night'"
      title="Light ink on a dark ground, or the other way round"
      @click="theme = theme === 'night' ? 'paper' : 'night'"
    >
      {{ theme === 'night' ? 'Paper' : 'Night' }}
    </button>
    <button type="button" class="plain keys" title="Show the keys (?)" @click="$emit('keys')">Keys ?</button>
  </nav>
</template>

<style scoped>
.rail {
  position: fixed;
  inset: 0 auto 0 0;
  width: 84px;
  padding: 10px 0 10px 12px;
  border-right: 1px solid var(--line);
  background: var(--paper);
  display: flex;
  flex-direction: column;
  z-index: 5;
}

.name {
  font-weight: 700;
  line-height: 1.1;
  margin: 0 0 8px;
}

ol {
  list-style: none;
  padding: 0;
  margin: 0;
  flex: 1;
  background: linear-gradient(var(--line), var(--line)) 5px 0 / 2px 100% no-repeat;
}

li {
  margin-bottom: 22px;
}

a {
  display: flex;
  align-items: center;
  gap: 7px;
  color: inherit;
  text-decoration: none;
}

.stake {
  width: 12px;
  height: 12px;
  border: 2px solid var(--ink);
  background: var(--paper);
  flex: none;
}

a.router-link-active {
  font-weight: 700;
}

a.router-link-active .stake {
  background: var(--accent);
  border-color: var(--accent);
  transform: rotate(45deg);
}

.at-work {
  min-height: 24px;
  margin-bottom: 6px;
  font-size: 12px;
  color: var(--accent-text);
}

.keys {
  display: flex;
  align-items: center;
  min-height: 24px;
  text-align: left;
  font-size: 13px;
}

@media (max-width: 700px) {
  .rail {
    inset: auto 0 0 0;
    width: auto;
    height: 48px;
    padding: 0 12px;
    flex-direction: row;
    align-items: center;
    gap: 10px;
    border-right: 0;
    border-top: 1px solid var(--line);
  }

  .name {
    display: none;
  }

  ol {
    display: flex;
    gap: 12px;
    justify-content: space-between;
    background: linear-gradient(var(--line), var(--line)) 0 50% / 100% 2px no-repeat;
  }

  a {
    gap: 4px;
    min-height: 32px;
    padding-right: 3px;
    background: var(--paper);
  }

  li {
    margin: 0;
  }

  .keys {
    font-size: 12px;
  }

  .keys:last-child,
  a.keys {
    display: none;
  }
}
</style>
