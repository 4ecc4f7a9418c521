<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, toRef, watch } from 'vue'
import { useRouter, type RouteLocationRaw } from 'vue-router'
import { answer, api, type Schemas } from '../api/client'
import { count } from './format'

/** Records and people that a text finds, beneath the field it is typed into. */
const props = defineProps<{ text: string; recently: boolean }>()
const emit = defineEmits<{ opened: [] }>()
const asked = refDebounced(toRef(props, 'text'), 250)
const LEAST = 2
const MINUTES = 10
/** Somebody who has just tried a form or a till looks for what came of it, whatever it is called. */
const recent = ref(false)
watch(asked, () => (recent.value = false))
const typed = computed(() => asked.value.trim().length >= LEAST && asked.value.length <= 200)
/** Offered where nothing stands below that it would lie on. */
const offers = computed(() => props.recently && !typed.value)
const found = useQuery({
  queryKey: ['find', asked, recent],
  queryFn: () => {
    const query = recent.value ? { minutes: MINUTES } : { text: asked.value.trim() }
    return answer(api.GET('/weigh/find', { params: { query } }))
  },
  enabled: () => recent.value || typed.value,
})
const records = computed(() => (recent.value || typed.value ? (found.data.value?.records ?? []) : []))
const more = computed(() => (found.data.value?.number ?? 0) - records.value.length)

const list = ref<HTMLElement>()
/** On which sides of the field the list has room. */
const sides = ref<string[]>([])
const WIDTH = 360
watch(list, (here) => {
  const field = here?.parentElement?.getBoundingClientRect()
  if (!field) return
  sides.value = [
    field.left + WIDTH > window.innerWidth ? 'leftwards' : '',
    field.bottom > window.innerHeight * 0.6 ? 'upwards' : '',
  ]
})

type Found = Schemas['FoundRecord']
const router = useRouter()
function placeOf({ table, id }: Found): RouteLocationRaw {
  return { name: table === 'visits' ? 'person' : 'record', query: { table, id } }
}
const FIELDS: Record<string, string> = {
  email: 'e-mail',
  visitor_id: 'visitor',
  click_id: 'click mark',
  lead_id: 'lead',
}
/** What it was found by, where that is not its id. */
const foundBy = (one: Found) =>
  one.shown === one.id ? '' : `${FIELDS[one.field] ?? one.field.replaceAll('_', ' ')} ${one.shown}`
function open(one: Found) {
  emit('opened')
  void router.push(placeOf(one))
}
</script>

<template>
  <section
    v-if="records.length || offers"
    ref="list"
    class="found no-print"
    :class="sides"
    aria-label="Records found"
  >
    <template v-if="offers">
      <button type="button" class="plain quiet" :aria-pressed="recent" @click="recent = true">
        What came in the last {{ MINUTES }} minutes, as of a test
      </button>
      <p v-if="recent && found.data.value && !records.length" role="status" class="quiet">
        Nothing came in the last {{ MINUTES }} minutes.
      </p>
    </template>
    <button
      v-for="one in records"
      :key="`${one.table} ${one.id}`"
      type="button"
      class="plain"
      @click="open(one)"
    >
      <b>{{ one.what || 'visit' }} {{ one.id }}</b> {{ foundBy(one) }}
      <span class="quiet">{{ one.at.slice(0, 10) }}</span>
    </button>
    <p v-if="more > 0" class="quiet">{{ count(more) }} more{{ recent ? '' : ': type more of it' }}.</p>
  </section>
</template>

<style scoped>
.found {
  position: absolute;
  z-index: 6;
  top: 100%;
  left: 0;
  min-width: 340px;
  max-width: 92vw;
  max-height: 50vh;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 4px;
}

.leftwards {
  left: auto;
  right: 0;
}

.upwards {
  top: auto;
  bottom: 100%;
}

button {
  display: block;
  width: 100%;
  padding: 3px 6px;
  text-align: left;
}

p {
  margin: 2px 6px;
}
</style>
