<script setup lang="ts">
import type { Schemas } from '../../api/client'

/** Titles of the link sheet, one a column and one for the address that is made. */
defineProps<{ columns: Schemas['SheetColumn'][]; widths: number[] }>()
</script>

<template>
  <div class="titles" role="row" aria-rowindex="1">
    <div class="corner" role="columnheader" aria-colindex="1"><span class="unseen">Row</span></div>
    <div
      v-for="(column, c) in columns"
      :key="column.name"
      class="title"
      role="columnheader"
      :aria-colindex="c + 2"
      :style="{ width: `${widths[c]}px` }"
      :title="`${column.text} ${column.example ? `For example ${column.example}` : ''}`"
    >
      {{ column.name.replace('_', ' ') }}{{ column.required ? ' *' : '' }}
    </div>
    <div class="title address" role="columnheader" :aria-colindex="columns.length + 2">address</div>
  </div>
</template>

<style scoped>
.titles {
  display: flex;
  position: sticky;
  top: 0;
  z-index: 2;
  width: max-content;
  background: var(--paper);
}

.corner {
  width: 56px;
  flex: none;
  position: sticky;
  left: 0;
  background: var(--paper);
  border-right: 1px solid var(--line);
  border-bottom: 1px solid var(--ink);
}

.title {
  flex: none;
  padding: 2px 5px;
  font-weight: 600;
  font-size: 13px;
  border-right: 1px solid var(--line);
  border-bottom: 1px solid var(--ink);
  white-space: nowrap;
  overflow: hidden;
}

.title.address {
  width: 400px;
  position: sticky;
  right: 0;
  background: var(--paper);
  border-left: 2px solid var(--line);
}

@media (max-width: 700px), print {
  .title.address {
    position: static;
    width: 560px;
  }

  .corner {
    width: 40px;
  }
}
</style>
