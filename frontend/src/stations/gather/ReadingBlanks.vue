<script setup lang="ts">
import { computed, ref } from 'vue'
import TypedField from '../../shared/TypedField.vue'
import { unfilled, type Reading, type TableColumn } from './reading'

const props = defineProps<{ reading: Reading; columns: TableColumn[] }>()
const emit = defineEmits<{ put: [next: Partial<Reading>] }>()

const more = ref(false)
const always = computed(() => unfilled(props.reading, props.columns).filter((c) => c.name !== ownId.value))
const ownId = computed(() => (/_id$/.test(props.columns[0]?.name ?? '') ? props.columns[0]!.name : ''))
const hasId = computed(() => ownId.value in (props.reading.columns ?? {}))

const text = (event: Event) => (event.target as HTMLInputElement).value
const words = (typed: string) =>
  typed
    .split(/[,\n]/)
    .map((word) => word.trim())
    .filter(Boolean)
const constant = (name: string, value: string) =>
  emit('put', { constant: { ...props.reading.constant, [name]: value.trim() } })

const DATES = ['year month day', 'day month year', 'month day year', 'unix seconds', 'unix milliseconds']
const SIGNS = [
  ['', 'none'],
  [',', ','],
  ['.', '.'],
  ['space', 'space'],
  ["'", "'"],
]
</script>

<template>
  <div class="blanks">
    <label v-for="c in always" :key="c.name">
      {{ c.name.replaceAll('_', ' ') }} is always
      <TypedField
        class="tool"
        :aria-label="`${c.name} is always`"
        :value="reading.constant?.[c.name] ?? ''"
        @done="constant(c.name, $event)"
      />
    </label>
    <label v-if="ownId && !hasId">
      Rows are told apart by
      <TypedField
        class="tool wide"
        aria-label="Columns that tell a row"
        :value="(reading.id ?? []).join(', ')"
        @done="emit('put', { id: words($event) })"
      />
    </label>
    <label>
      days are
      <select
        class="tool"
        aria-label="Order of days"
        :value="reading.date"
        @change="emit('put', { date: text($event) as Reading['date'] })"
      >
        <option v-for="order in DATES" :key="order">{{ order }}</option>
      </select>
    </label>
    <label>
      decimals after
      <select
        class="tool"
        aria-label="Sign before decimals"
        :value="reading.decimal"
        @change="emit('put', { decimal: text($event) })"
      >
        <option>.</option>
        <option>,</option>
      </select>
    </label>
    <label>
      thousands
      <select
        class="tool"
        aria-label="Sign between thousands"
        :value="reading.thousands ?? ''"
        @change="emit('put', { thousands: text($event) })"
      >
        <option v-for="[sign, name] in SIGNS" :key="sign" :value="sign">{{ name }}</option>
      </select>
    </label>
    <label>
      <input
        type="checkbox"
        :checked="reading.currency_signs"
        @change="emit('put', { currency_signs: ($event.target as HTMLInputElement).checked })"
      />
      amounts carry signs or codes
    </label>
    <label v-if="reading.table === 'spend'">
      a row is a
      <select
        class="tool"
        aria-label="How long a row is"
        :value="reading.period ?? ''"
        @change="emit('put', { period: text($event) as Reading['period'] })"
      >
        <option value="">day</option>
        <option>week</option>
        <option>month</option>
      </select>
    </label>
    <label>
      text that means empty
      <TypedField
        class="tool"
        aria-label="Text that means empty"
        :value="(reading.nothing ?? []).join(', ')"
        placeholder="--, n/a"
        @done="emit('put', { nothing: words($event) })"
      />
    </label>
    <label>
      lines above the header
      <TypedField
        class="tool short"
        inputmode="numeric"
        aria-label="Lines above the header"
        :value="String(reading.skip_top)"
        @done="emit('put', { skip_top: Number($event) || 0 })"
      />
    </label>
    <label>
      sums begin with
      <TypedField
        class="tool"
        aria-label="Rows that are sums begin with"
        :value="reading.total ?? ''"
        placeholder="Total"
        @done="emit('put', { total: $event.trim() })"
      />
    </label>
    <button type="button" class="plain link" :aria-expanded="more" @click="more = !more">
      {{ more ? 'Less' : 'Zone, encoding, host…' }}
    </button>
    <template v-if="more">
      <label v-for="[name, title, hint] in MORE" :key="name">
        {{ title }}
        <TypedField
          class="tool"
          :aria-label="title"
          :placeholder="hint"
          :value="reading[name] ?? ''"
          @done="emit('put', { [name]: $event.trim() })"
        />
      </label>
      <label>
        days late at most
        <TypedField
          class="tool short"
          inputmode="numeric"
          aria-label="Days late at most"
          :value="String(reading.expected_days)"
          @done="emit('put', { expected_days: Number($event) || 0 })"
        />
      </label>
    </template>
  </div>
</template>

<script lang="ts">
/** Blanks that most exports leave as they are. */
const MORE: [
  (
    | 'kind'
    | 'account'
    | 'time_zone'
    | 'currency'
    | 'encoding'
    | 'delimiter'
    | 'sheet'
    | 'url_host'
    | 'click_mark'
  ),
  string,
  string,
][] = [
  ['kind', 'kind', 'ads report'],
  ['account', 'account', 'q-main'],
  ['time_zone', 'time zone', 'the workspace’s'],
  ['currency', 'currency', 'home currency'],
  ['encoding', 'encoding', 'utf-8'],
  ['delimiter', 'between cells', 'found out'],
  ['sheet', 'sheet', 'the first'],
  ['url_host', 'host before paths', 'www.lunnick.example'],
  ['click_mark', 'click mark', 'qkid'],
]
</script>

<style scoped>
.blanks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}

.tool {
  width: 110px;
}

select.tool {
  width: auto;
}

.short {
  width: 44px;
}

.wide {
  width: 230px;
}
</style>
