<script setup lang="ts">
import { computed } from 'vue'
import type { Board } from '../../api/client'
import { VERDICT_WORDS } from '../../api/declared'
import type { useQuestion } from './question'

/** Why a board is empty, and the way out. */
const props = defineProps<{ board: Board; question: ReturnType<typeof useQuestion> }>()
const q = props.question

const outside = computed(() => {
  const { report_from: from, report_to: to, first_day: first, last_day: last } = props.board
  return !!first && ((!!from && from > last) || (!!to && to < first))
})
const isEmpty = computed(() => !props.board.rows.some((row) => row.bucket === 'named'))
const filters = computed(() => (isEmpty.value && !outside.value ? props.board.where : []))
/** The filter with another value. */
function replaced(filter: string, name: string): string[] {
  const [field, ...rest] = filter.split(' ')
  const words = rest.join(' ')
  const op =
    /^(in list|not in list|is not|is|contains|does not contain|begins with|ends with)/.exec(words)?.[0] ??
    'is'
  return q.where.value.map((f) => (f === filter ? `${field} ${op === 'is not' ? op : 'is'} ${name}` : f))
}
const notFound = computed(() => !isEmpty.value && !props.board.rows.some((row) => row.found))
</script>

<template>
  <section v-if="outside" class="dead" role="status">
    <p>
      There are no rows between {{ board.report_from ?? board.first_day }} and
      {{ board.report_to ?? board.last_day }}: the data run from {{ board.first_day }} to
      {{ board.last_day }}.
    </p>
    <v-btn @click="question.change({ from: undefined, to: undefined })">
      Show {{ board.first_day }} to {{ board.last_day }}
    </v-btn>
  </section>
  <section v-else-if="filters.length" class="dead" role="status">
    <p v-for="filter in filters" :key="filter">
      No {{ board.by.split(',')[0] }} fits <b>{{ filter }}</b>.
      <template v-if="board.nearest[filter]?.length">
        Near to it:
        <button
          v-for="name in board.nearest[filter]"
          :key="name"
          type="button"
          class="plain link"
          @click="q.where.value = replaced(filter, name)"
        >
          {{ name }}
        </button>
      </template>
      <button
        type="button"
        class="plain link"
        @click="q.where.value = q.where.value.filter((f) => f !== filter)"
      >
        Remove the filter
      </button>
    </p>
  </section>
  <section v-else-if="notFound" class="dead" role="status">
    <p>
      None of {{ board.rows.length }} rows is found<template v-if="question.find.value">
        by “{{ question.find.value }}”</template
      ><template v-if="question.verdict.value">
        with the verdict {{ VERDICT_WORDS[question.verdict.value] }}</template
      >.
      <button
        type="button"
        class="plain link"
        @click="question.change({ find: undefined, verdict: undefined })"
      >
        show all rows
      </button>
    </p>
  </section>
</template>

<style scoped>
.dead {
  border-left: 3px solid var(--accent);
  padding: 4px 12px;
  margin: 10px 0;
}

.dead p {
  margin: 0 0 6px;
}

.dead p button {
  margin-left: 8px;
}
</style>
