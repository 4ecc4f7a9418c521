<script setup lang="ts">
import { computed } from 'vue'
import { instant, money, yardstickName } from '../../shared/format'
import MovingTable from '../../shared/MovingTable.vue'
import FileLine from './FileLine.vue'
import { daysOf, touchWords, withoutWords, type RecordOut, type RecordTouch } from './recordWords'

/** Every touch of a record's people: what it gets under each yardstick, or why it is not in the trail. */
const props = defineProps<{ record: RecordOut }>()
const names = computed(() => (props.record.panel.length ? props.record.panel : props.record.yardsticks))
const amount = (minor: number) => money(minor, props.record.minor_digits)
const credit = (touch: RecordTouch, name: string) => touch.credits.find((one) => one.yardstick === name)!
const shown = (touch: RecordTouch, name: string) => {
  const { share, value } = credit(touch, name)
  if (!share) return '–'
  return props.record.value ? amount(value) : share.toFixed(2)
}
const sum = (name: string) => {
  const inTrail = props.record.touches.filter((touch) => !touch.without)
  const of = inTrail.map((touch) => credit(touch, name))
  return props.record.value
    ? amount(of.reduce((all, one) => all + one.value, 0))
    : of.reduce((all, one) => all + one.share, 0).toFixed(2)
}
/** Whether any touch is not in the trail. */
const apart = computed(() => props.record.touches.some((touch) => touch.without))
const trail = computed(() => props.record.touches.some((touch) => !touch.without))
const nearest = computed(() =>
  [...props.record.touches].sort((a, b) => Math.abs(a.days_before) - Math.abs(b.days_before)).at(0),
)
</script>

<template>
  <section aria-label="Touches">
    <h2>
      Touches
      <span class="quiet"
        >times in {{ record.time_zone }};
        {{ record.value ? `value in ${record.currency}` : 'shares of one conversion' }}</span
      >
    </h2>
    <p v-if="!trail" class="quiet">
      No touch in {{ daysOf(record.look_back[0]!)
      }}<template v-if="nearest"
        >; nearest {{ daysOf(Math.round(Math.abs(nearest.days_before))) }}
        {{ nearest.days_before < 0 ? 'after' : 'before' }}</template
      >.
    </p>
    <MovingTable v-if="record.touches.length">
      <thead>
        <tr>
          <th>When</th>
          <th>As read</th>
          <th v-for="name in names" :key="name" class="number">{{ yardstickName(name) }}</th>
          <th v-if="apart">Why not</th>
          <th>File, line</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(touch, i) in record.touches" :key="i" :class="{ apart: touch.without }">
          <td class="when">{{ instant(touch.at, record.time_zone) }}</td>
          <td :title="touch.why">{{ touchWords(touch) }}</td>
          <td v-for="name in names" :key="name" class="number">{{ shown(touch, name) }}</td>
          <td v-if="apart">{{ withoutWords(touch, record) }}</td>
          <td><FileLine :file="touch.file" :line="touch.line" /></td>
        </tr>
      </tbody>
      <tfoot v-if="trail">
        <tr>
          <th colspan="2" scope="row">Together</th>
          <td v-for="name in names" :key="name" class="number">{{ sum(name) }}</td>
          <td :colspan="apart ? 2 : 1"></td>
        </tr>
      </tfoot>
    </MovingTable>
    <p v-if="record.outside" class="quiet">{{ record.outside }} more touches, farther away.</p>
  </section>
</template>

<style scoped>
.when {
  white-space: nowrap;
}

.apart td {
  color: var(--unsure);
}

tfoot td,
tfoot th {
  font-weight: 600;
  border-top: 2px solid var(--ink);
  border-bottom: none;
}

h2 .quiet {
  font-weight: 400;
  font-size: 13px;
}
</style>
