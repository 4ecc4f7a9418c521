<script setup lang="ts">
import { ref } from 'vue'
import type { Board } from '../../api/client'
import RulerAxis from '../../ruler/RulerAxis.vue'
import type { Scale } from '../../ruler/scale'
import { count, ratio } from '../../shared/format'
import { unitOf, widthOf, type columnsOf } from './figures'
import type { useQuestion } from './question'
import type { Measure } from './rows'

/** The head of the board: what its columns are called and sorted by, and the axis of the rulers. */
const props = defineProps<{
  board: Board
  columns: ReturnType<typeof columnsOf>
  main?: string
  scale: Scale
  notch: number | null
  measure: Measure
  perSpend: boolean
  /** What stands above the column of what moved, where there is one. */
  moved?: string
  question: ReturnType<typeof useQuestion>
}>()
const q = props.question
const ruler = ref<HTMLElement>()
defineExpose({ ruler })

function sortBy(name: string) {
  const same = q.sort.value === name
  const down = same ? q.order.value !== 'down' : name !== 'name'
  void q.change({ sort: name, order: down ? undefined : 'up' })
}

const sorted = (name: string) =>
  q.sort.value !== name ? 'none' : q.order.value === 'down' ? 'descending' : 'ascending'
const arrow = (name: string) => ({ none: '', descending: ' ▾', ascending: ' ▴' })[sorted(name)]
const axisShow = (value: number) => {
  if (props.perSpend) return ratio(value)
  return count(props.measure === 'value' ? value / 10 ** props.board.minor_digits : value)
}
</script>

<template>
  <thead>
    <tr>
      <th class="name" :class="{ two: board.by.includes(',') }" :aria-sort="sorted('name')">
        <button type="button" class="plain no-print" @click="sortBy('name')">
          {{ board.by.replace(',', ' / ') }}{{ arrow('name') }}
        </button>
        <!-- Of a head that stands again on every page browsers draw text, no buttons. -->
        <span class="print-only">{{ board.by.replace(',', ' / ') }}</span>
      </th>
      <th ref="ruler" class="ruler">
        <span class="unseen">Ruler</span>
        <RulerAxis :scale="scale" :notch="notch" notch-label="break-even" :show="axisShow" />
      </th>
      <th
        v-for="c in columns"
        :key="c.name"
        class="number"
        :class="{ main: c.name === main }"
        :style="{ width: `${widthOf(c)}px` }"
        :aria-sort="sorted(c.name)"
      >
        <button
          type="button"
          class="plain no-print"
          :data-says="`${c.title}. Enter: sort by it`"
          @click="sortBy(c.name)"
        >
          {{ c.title }}{{ arrow(c.name)
          }}<span v-if="unitOf(c, board)" class="unit">{{ unitOf(c, board) }}</span>
        </button>
        <span class="print-only"
          >{{ c.title }}<span v-if="unitOf(c, board)" class="unit">{{ unitOf(c, board) }}</span></span
        >
      </th>
      <th v-if="moved" class="number moved">
        Moved<span class="unit">{{ moved }}</span>
      </th>
      <th class="says" :aria-sort="board.judged ? sorted('verdict') : undefined">
        <span v-if="board.judged" class="print-only">Verdict</span>
        <button v-if="board.judged" type="button" class="plain no-print" @click="sortBy('verdict')">
          Verdict{{ arrow('verdict') }}<span v-if="board.by !== 'campaign'" class="unit">ads only</span>
        </button>
      </th>
    </tr>
  </thead>
</template>

<style scoped>
thead {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--paper);
}

thead th {
  height: 36px;
  padding-block: 0 1px;
  line-height: 1.2;
}

th {
  vertical-align: bottom;
  padding-block: 0 3px;
}

.name {
  width: 17%;
  text-transform: capitalize;
}

.ruler {
  width: auto;
  padding: 0 14px;
}

.two {
  width: 25%;
}

.moved {
  width: 72px;
}

.says {
  width: 172px;
}

@media (max-width: 1150px) {
  .says {
    width: 112px;
  }
}

th.number .plain {
  text-align: right;
}

@media screen and (max-width: 700px) {
  thead th {
    height: auto;
    width: auto !important;
    border-bottom: 0;
  }

  thead {
    border-bottom: 2px solid var(--ink);
  }

  thead .plain {
    min-height: 24px;
  }
}

.unit {
  display: block;
  font-weight: 400;
  font-size: 12px;
  color: var(--unsure);
}
</style>
