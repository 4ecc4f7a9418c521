<script setup lang="ts">
import { computed } from 'vue'
import { count } from '../../shared/format'
import ProblemNote from '../../shared/ProblemNote.vue'
import DropZone from './DropZone.vue'
import LoadList from './LoadList.vue'
import { useKeeping, useLoads, useRehearsal } from './queries'
import RehearsalFile from './RehearsalFile.vue'

const loads = useLoads()
const rehearsal = useRehearsal()
const { job, keeping, stop } = useKeeping()

const files = computed(() => rehearsal.data.value?.files ?? [])
const usable = computed(() => files.value.filter((f) => !f.problem))
const changes = computed(() => usable.value.reduce((sum, f) => sum + f.new + f.replaced, 0))

async function keep() {
  await keeping.mutateAsync(rehearsal.data.value!.token)
  rehearsal.reset()
}

function choose(chosen: File[]) {
  keeping.reset()
  job.value = undefined
  rehearsal.mutate(chosen)
}
</script>

<template>
  <h1>Gather <small class="quiet">is everything arriving?</small></h1>
  <DropZone :busy="rehearsal.isPending.value" @files="choose" />
  <ProblemNote :error="rehearsal.error.value ?? keeping.error.value" />

  <section v-if="files.length" aria-label="Rehearsal" class="rehearsal">
    <h2>Rehearsal: nothing is kept yet</h2>
    <RehearsalFile v-for="file in files" :key="file.file" :file="file" />
    <div v-if="!keeping.isPending.value" class="choice">
      <v-btn v-if="usable.length" variant="flat" color="primary" @click="keep">
        Keep {{ count(changes) }} {{ changes === 1 ? 'change' : 'changes' }}
      </v-btn>
      <v-btn @click="rehearsal.reset()">Leave everything as it is</v-btn>
    </div>
  </section>

  <section v-if="job" aria-label="Progress" class="progress" role="status">
    <template v-if="job.state === 'running'">
      <progress :value="job.rows_done" :max="job.rows_total || 1" />
      {{ job.doing }}: {{ count(job.rows_done) }} of about {{ count(job.rows_total) }} rows<template
        v-if="job.rate"
        >, {{ count(job.rate) }} a second</template
      ><template v-if="job.seconds_left !== null">, {{ Math.ceil(job.seconds_left) }} s left</template>
      <v-btn @click="stop">Stop</v-btn>
    </template>
    <template v-else>{{ job.state === 'done' ? 'Loaded' : 'Not finished' }}: {{ job.message }}</template>
  </section>

  <ProblemNote :error="loads.error.value" />
  <LoadList v-if="loads.data.value" :loads="loads.data.value" />
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

.rehearsal {
  border: 1px solid var(--ink);
  background: var(--sheet);
  padding: 10px 12px;
  margin-bottom: 14px;
}

.choice {
  display: flex;
  gap: 10px;
  margin-top: 10px;
}

.progress {
  margin: 0 0 14px;
  display: flex;
  gap: 10px;
  align-items: center;
}

progress {
  width: 260px;
  accent-color: var(--accent);
}
</style>
