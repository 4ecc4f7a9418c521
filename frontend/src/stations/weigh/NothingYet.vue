<template>
  <section class="empty">
    <p>Nothing is loaded yet. Load your visits first; leads, conversions, spend and rates join them.</p>
    <v-btn variant="flat" color="primary" :to="{ name: 'gather' }">Go to Gather</v-btn>
  </section>
</template>

<style scoped>
.empty {
  margin-top: 24px;
}
</style>
