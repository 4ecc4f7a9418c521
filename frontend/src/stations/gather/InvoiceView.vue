<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { setAddress, useAddressState } from '../../shared/addressState'
import ProblemNote from '../../shared/ProblemNote.vue'
import ExportControl from '../../shared/ExportControl.vue'
import WorkingNote from '../../shared/WorkingNote.vue'
import InvoiceDays from './InvoiceDays.vue'
import { useAccounts, useInvoice, useTypeInvoice } from './invoices'
import { moneyOf } from './reading'
import MovingTable from '../../shared/MovingTable.vue'

const router = useRouter()
const accounts = useAccounts()
const platform = useAddressState('platform')
const account = useAddressState('account')
const month = useAddressState('month')
const typing = useTypeInvoice()

/** The month that is shown: the one in the address, else the latest. */
const chosen = computed(() => {
  const months = accounts.data.value ?? []
  return (
    months.find(
      (m) => m.platform === platform.value && m.account === account.value && m.month === month.value,
    ) ?? months[0]
  )
})
const invoice = useInvoice(chosen)
const typed = ref('')
watch(
  () => invoice.data.value,
  (found) => (typed.value = found?.invoice ?? ''),
)

function show(m: NonNullable<typeof chosen.value>) {
  void setAddress(router, { platform: m.platform, account: m.account || undefined, month: m.month })
}
const money = (amount: string, currency: string) =>
  amount === '' ? '–' : moneyOf([{ currency, amount }], currency)
const isZero = (amount: string) => Number(amount) === 0
const LINES: [string, 'reported' | 'rest' | 'estimated' | 'credits'][] = [
  ['stated by rows', 'reported'],
  ['not itemised by finer rows', 'rest'],
  ['estimated, clicks at a price', 'estimated'],
  ['credit notes', 'credits'],
]

function keep() {
  const found = invoice.data.value!
  typing.mutate({ ...found, amount: typed.value.trim() })
}
</script>

<template>
  <header class="titled">
    <h1>Invoices <small class="quiet">does the month’s cost tie?</small></h1>
    <span><ExportControl v-if="accounts.data.value?.length" :tables="[{ path: '/gather/accounts' }]" /></span>
  </header>
  <ProblemNote :error="accounts.error.value ?? invoice.error.value ?? typing.error.value" />
  <WorkingNote
    v-if="accounts.isLoading.value"
    what="Adding up what the rows of each account say of each month."
  />
  <p v-if="accounts.data.value && !accounts.data.value.length" class="quiet">
    No spend has arrived yet. Load it at <router-link class="link" to="/gather">Gather</router-link>.
  </p>
  <div v-if="chosen" class="desk">
    <section aria-label="Months of accounts" class="months">
      <MovingTable>
        <thead>
          <tr>
            <th>Month</th>
            <th>Account</th>
            <th class="number">Rows say</th>
            <th class="number">Difference</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="m in accounts.data.value"
            :key="`${m.month} ${m.platform} ${m.account}`"
            :class="{ chosen: m === chosen }"
          >
            <td>
              <button type="button" class="plain link" :aria-current="m === chosen" @click="show(m)">
                {{ m.month }}
              </button>
            </td>
            <td>{{ [m.platform, m.account].filter(Boolean).join(', ') }}</td>
            <td class="number">{{ money(m.rows, m.currency) }}</td>
            <td class="number" :class="{ bad: m.difference && !isZero(m.difference) }">
              {{
                m.difference === ''
                  ? 'no invoice'
                  : isZero(m.difference)
                    ? 'ties'
                    : money(m.difference, m.currency)
              }}
            </td>
          </tr>
        </tbody>
      </MovingTable>
    </section>
    <section
      v-if="invoice.data.value"
      :key="chosen.month + chosen.platform"
      aria-label="Invoice"
      class="invoice"
    >
      <h2>
        {{ [invoice.data.value.platform, invoice.data.value.account].filter(Boolean).join(', ') }},
        {{ chosen.month }}
      </h2>
      <form class="typed" @submit.prevent="keep">
        <label>
          The invoice says
          <input
            v-model="typed"
            class="tool number"
            inputmode="decimal"
            placeholder="1234.56"
            aria-label="Amount of the invoice"
          />
          {{ invoice.data.value.currency }}
        </label>
        <v-btn
          type="submit"
          :disabled="typing.isPending.value || !typed.trim() || typed === invoice.data.value.invoice"
          >Keep</v-btn
        >
        <span
          v-if="invoice.data.value.invoice"
          :class="isZero(invoice.data.value.difference) ? 'good' : 'bad'"
        >
          <template v-if="isZero(invoice.data.value.difference)">It ties to the cent.</template>
          <template v-else
            >{{ money(invoice.data.value.difference, invoice.data.value.currency) }} between the invoice and
            the rows.</template
          >
        </span>
      </form>
      <ul v-if="invoice.data.value.patterns.length" class="patterns">
        <li v-for="said in invoice.data.value.patterns" :key="said">{{ said }}.</li>
      </ul>
      <InvoiceDays :days="invoice.data.value.days" :currency="invoice.data.value.currency" />
      <ExportControl
        :tables="[
          {
            what: 'Days',
            path: `/gather/invoices/${chosen.month}`,
            query: { platform: chosen.platform, account: chosen.account },
          },
        ]"
      />
      <p v-if="invoice.data.value.missing" class="bad">
        Missing:
        {{
          invoice.data.value.days
            .filter((d) => d.missing)
            .map((d) => d.day)
            .join(', ')
        }}. A day without rows is not zero.
      </p>
      <p v-for="lost in invoice.data.value.without_rate" :key="lost.currency" class="bad">
        {{ lost.amount }} {{ lost.currency }} in {{ lost.rows }} {{ lost.rows === 1 ? 'row' : 'rows' }} have
        no exchange rate and are in no figure of the board.
        <router-link class="link" to="/gather">Load rates</router-link>
      </p>
      <p v-if="invoice.data.value.other_currency" class="bad">
        {{ invoice.data.value.other_currency }} rows of this account are in another currency and in none of
        these figures.
      </p>
      <div class="sums">
        <MovingTable aria-label="What the rows say">
          <tbody>
            <tr v-for="[words, name] in LINES" :key="name">
              <td>{{ words }}</td>
              <td class="number">{{ money(invoice.data.value[name], invoice.data.value.currency) }}</td>
            </tr>
            <tr class="sum">
              <td>rows of the month</td>
              <td class="number">{{ money(invoice.data.value.rows, invoice.data.value.currency) }}</td>
            </tr>
            <tr>
              <td class="quiet">other costs of the month, on no platform’s invoice</td>
              <td class="number quiet">
                {{ money(invoice.data.value.other_costs, invoice.data.value.home_currency) }}
              </td>
            </tr>
          </tbody>
        </MovingTable>
        <MovingTable aria-label="What the rows met">
          <tbody>
            <tr>
              <td>met touches of its campaign</td>
              <td></td>
              <td class="number">{{ money(invoice.data.value.met, invoice.data.value.currency) }}</td>
            </tr>
            <tr v-for="u in invoice.data.value.unmet" :key="u.reason + u.campaign">
              <td>
                <span class="bad">{{ u.reason }}</span>: {{ u.campaign }}
              </td>
              <td class="number quiet">{{ u.days }} {{ u.days === 1 ? 'day' : 'days' }}</td>
              <td class="number">{{ money(u.amount, invoice.data.value.currency) }}</td>
            </tr>
            <tr class="sum">
              <td>rows of the month</td>
              <td></td>
              <td class="number">{{ money(invoice.data.value.rows, invoice.data.value.currency) }}</td>
            </tr>
          </tbody>
        </MovingTable>
      </div>
    </section>
  </div>
</template>

<style scoped>
small {
  font-weight: 400;
  font-size: 14px;
}

.desk {
  display: grid;
  grid-template-columns: minmax(380px, 440px) minmax(0, 1fr);
  gap: 24px;
  margin-top: 10px;
}

.months {
  max-height: calc(100vh - 90px);
  overflow: auto;
}

.chosen td {
  background: color-mix(in srgb, var(--accent) 14%, transparent);
}

td {
  padding-block: 3px;
}

.typed {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 6px 0;
}

.typed .tool {
  width: 120px;
}

.sums {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
  align-items: start;
  margin-top: 8px;
}

.sum td {
  border-top: 1px solid var(--ink);
  font-weight: 600;
}

.patterns {
  margin: 4px 0;
  padding-left: 18px;
}

.bad {
  color: var(--loses);
}

.good {
  color: var(--pays);
}

@media (max-width: 1000px) {
  .desk,
  .sums {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
