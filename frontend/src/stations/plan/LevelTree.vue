<script setup lang="ts">
import { computed } from 'vue'
import { useTree, type Rec } from './queries'
import { matches } from './records'
import MovingTable from '../../shared/MovingTable.vue'

const props = defineProps<{ named: Rec[]; find: string }>()
defineEmits<{ name: [record: Rec] }>()
const tree = useTree()

const INDENT: Record<string, number> = { campaign: 0, group: 1, ad: 2, keyword: 2, placement: 2 }
const names = computed(
  () => new Map(props.named.map((r) => [`${String(r.level)} ${String(r.id).toLowerCase()}`, String(r.name)])),
)
const rows = computed(() => (tree.data.value ?? []).filter((b) => matches(b as unknown as Rec, props.find)))
</script>

<template>
  <section v-if="tree.data.value?.length" class="tree" aria-label="Tree from spend files">
    <h2>As spend files show it</h2>
    <MovingTable>
      <thead>
        <tr>
          <th>Platform</th>
          <th>Account</th>
          <th>Level</th>
          <th>In the file</th>
          <th>Id</th>
          <th>Shown as</th>
          <th class="number">Days</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in rows" :key="[b.platform, b.account, b.campaign, b.level, b.id].join()">
          <td>{{ b.platform }}</td>
          <td>{{ b.account }}</td>
          <td :style="{ paddingLeft: `${6 + 14 * (INDENT[b.level] ?? 0)}px` }">{{ b.level }}</td>
          <td>{{ b.name }}</td>
          <td>{{ b.id === b.name ? '' : b.id }}</td>
          <td>
            <template v-if="b.level === 'campaign'">{{ b.name }}</template>
            <template v-else-if="names.get(`${b.level} ${b.id.toLowerCase()}`)">{{
              names.get(`${b.level} ${b.id.toLowerCase()}`)
            }}</template>
            <button
              v-else
              type="button"
              class="plain link"
              @click="
                $emit('name', {
                  campaign: b.campaign,
                  level: b.level,
                  id: b.id,
                  platform: b.platform,
                  account: b.account,
                })
              "
            >
              name it
            </button>
          </td>
          <td class="number">{{ b.days }}</td>
        </tr>
      </tbody>
    </MovingTable>
  </section>
</template>

<style scoped>
.tree {
  margin-top: 14px;
}
</style>
