<script setup lang="ts">
/** How an ad looks where people meet it: the frame of its picture, its words, where it leads. */
defineProps<{
  number: string
  name: string
  text: string
  picture: string
  leadsTo?: string
  wide?: boolean
}>()
</script>

<template>
  <figure class="ad" :class="{ wide }" :aria-label="`Preview of ad ${number || name}`">
    <div v-if="picture" class="picture" role="img" :aria-label="`Picture ${picture}`">
      <svg viewBox="0 0 160 70" preserveAspectRatio="none" aria-hidden="true">
        <path d="M0 0 160 70M160 0 0 70" />
      </svg>
      <span>{{ picture }}</span>
    </div>
    <p class="text">{{ text || 'No text yet.' }}</p>
    <p v-if="leadsTo" class="quiet host">{{ leadsTo }}</p>
    <figcaption class="quiet">
      <b>{{ number || 'no number' }}</b> {{ number === name ? '' : name }}
    </figcaption>
  </figure>
</template>

<style scoped>
.ad {
  width: 220px;
  margin: 0;
  border: 1px solid var(--line);
  background: var(--sheet);
}

.wide {
  display: grid;
  grid: auto 1fr auto / 110px 1fr;
  width: 340px;
}

.wide .picture {
  grid-row: 1 / 4;
  height: auto;
  border-bottom: 0;
  border-right: 1px solid var(--line);
}

.picture {
  position: relative;
  height: 70px;
  display: grid;
  place-items: center;
  border-bottom: 1px solid var(--line);
}

svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  stroke: var(--line);
  fill: none;
}

.picture span {
  position: relative;
  background: var(--sheet);
  padding: 0 5px;
  font-size: 13px;
  overflow-wrap: anywhere;
}

p {
  margin: 4px 8px;
}

.text {
  font-weight: 600;
}

.host {
  font-size: 13px;
  overflow-wrap: anywhere;
}

figcaption {
  border-top: 1px solid var(--line);
  padding: 2px 8px;
  font-size: 13px;
}
</style>
