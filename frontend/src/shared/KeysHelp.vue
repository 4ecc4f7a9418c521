<script setup lang="ts">
import { stations } from '../router'

const open = defineModel<boolean>({ required: true })

const keys = [
  ...stations.map((s) => [String(s.number), `go to ${s.title}`]),
  [
    '/',
    'find a row by name, a record or person by id, order number, e-mail, phone, code or name; ↓ goes to those found',
  ],
  ['q', 'the question of the board: arrows go along it, Enter opens a word'],
  ['f', 'only where ...; at Gather: choose files'],
  ['n', 'at Plan and Mark: a new record of the list, a new row of the link sheet'],
  ['k', 'at Gather: keep what was rehearsed'],
  ['u', 'at Plan, on a record or person: undo the latest change of the plan'],
  ['p, o', 'on a record: its person, the rule it goes by'],
  ['j', 'at Join what is open of the row that has the focus, or of the record shown; Esc leads back'],
  ['x, w, Space', 'at Join: accept, say whose, pick more of the same kind'],
  ['Delete', 'on a record: take it out or put it back; on a knot of a person: separate'],
  ['Enter, Esc', 'on an edit that is on trial: keep it, leave it'],
  [', and .', 'previous and next period'],
  ['r', 'choose a range'],
  ['y', 'next yardstick'],
  ['c', 'copy the cells of the board, for a spreadsheet'],
  [
    'c, s, l',
    'in patterns: copy the whole address, what goes after any address, what goes around its own parameters',
  ],
  ['↑ ↓ ← →', 'move between figures, once one has the focus'],
  ['Enter', 'open the trace of the figure that has the focus; on a name a field deeper'],
  ['z', 'a row closer, on a scale of its own'],
  ['e, e e', 'export; as last time'],
  ['Esc', 'close'],
  ['Enter, Tab', 'in the link sheet: write a cell, go on down or to the right'],
  ['Shift and ↑ ↓ ← →', 'in the link sheet: choose several cells'],
  ['Ctrl C, V, D, Z', 'in the link sheet: copy, paste, same below, undo'],
  ['?', 'show or hide these keys'],
]
</script>

<template>
  <v-dialog v-model="open" width="420" aria-label="Keys">
    <section class="sheet">
      <h2>Keys</h2>
      <table>
        <tbody>
          <tr v-for="[key, meaning] in keys" :key="key">
            <td>
              <kbd>{{ key }}</kbd>
            </td>
            <td>{{ meaning }}</td>
          </tr>
        </tbody>
      </table>
      <p class="quiet">Keys rest while a field has the focus.</p>
    </section>
  </v-dialog>
</template>

<style scoped>
.sheet {
  background: var(--sheet);
  padding: 16px 20px;
  border: 1px solid var(--ink);
}

kbd {
  font: inherit;
  font-weight: 650;
}

td {
  padding: 3px 6px;
}

p {
  margin: 8px 0 0;
}
</style>
