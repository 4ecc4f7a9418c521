<script setup lang="ts">
import { useKeys } from '../../shared/keys'
import type { useByHand } from './useByHand'

/** Takes back the latest thing that was decided by hand, also by its key. */
const props = defineProps<{ byHand: ReturnType<typeof useByHand> }>()
const { last, busy, takeBack } = props.byHand
useKeys({ u: takeBack })
</script>

<template>
  <button
    v-if="last"
    type="button"
    class="plain link"
    :disabled="busy"
    :title="`Take back: ${last.what} (u)`"
    @click="takeBack()"
  >
    Undo: {{ last.what }}
  </button>
</template>
