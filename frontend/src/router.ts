import { createRouter, createWebHistory } from 'vue-router'
import { workspace } from './shared/workspace'

/** The stations that work, in the order of the trail. Numbers are those of the whole trail, and its keys. */
export const stations = [
  { name: 'plan', number: 1, title: 'Plan', question: 'what are we running, and what counts?' },
  { name: 'mark', number: 2, title: 'Mark', question: 'is every link told apart?' },
  { name: 'gather', number: 3, title: 'Gather', question: 'is everything arriving?' },
  { name: 'join', number: 4, title: 'Join', question: 'do the pieces fit?' },
  { name: 'weigh', number: 5, title: 'Weigh', question: 'who earned it?' },
] as const

export const router = createRouter({
  history: createWebHistory(`/w/${workspace}/`),
  routes: [
    { path: '/', redirect: '/weigh' },
    { path: '/plan', name: 'plan', component: () => import('./stations/plan/PlanView.vue') },
    { path: '/mark', name: 'mark', component: () => import('./stations/mark/MarkView.vue') },
    { path: '/gather', name: 'gather', component: () => import('./stations/gather/GatherView.vue') },
    { path: '/invoices', name: 'invoices', component: () => import('./stations/gather/InvoiceView.vue') },
    { path: '/ads', name: 'ads', component: () => import('./stations/gather/AuditView.vue') },
    { path: '/records', name: 'records', component: () => import('./stations/gather/RecordsView.vue') },
    { path: '/join', name: 'join', component: () => import('./stations/join/JoinView.vue') },
    { path: '/matters', redirect: '/join' },
    { path: '/weigh', name: 'weigh', component: () => import('./stations/weigh/WeighView.vue') },
    { path: '/findings', name: 'findings', component: () => import('./stations/weigh/FindingsView.vue') },
    { path: '/record', name: 'record', component: () => import('./stations/weigh/RecordView.vue') },
    { path: '/person', name: 'person', component: () => import('./stations/weigh/PersonView.vue') },
    {
      path: '/selfcheck',
      name: 'selfcheck',
      component: () => import('./stations/selfcheck/SelfcheckView.vue'),
    },
    { path: '/:rest(.*)*', redirect: '/weigh' },
  ],
})

/** Titles of pages that are no station of their own. */
const PAGES: Record<string, string> = {
  selfcheck: 'Self-check',
  invoices: 'Invoices',
  ads: 'Ads',
  findings: 'Findings',
  record: 'Record',
  records: 'Records',
  person: 'Person',
}

/** What the parts of a station are called in titles. */
const PARTS: Record<string, string> = {
  check: 'Check-up',
  placing: 'Placing',
  hand: 'Hand over',
  pattern: 'Patterns',
  mail: 'Mails',
  message: 'Text messages',
}

/** The part of a station that an address shows, or by what its board is broken down. */
function partOf(query: Record<string, unknown>): string | undefined {
  return typeof query.by === 'string' ? `by ${query.by.replaceAll('_', ' ')}` : PARTS[String(query.part)]
}

router.afterEach((to) => {
  const station = stations.find((s) => s.name === to.name)
  const title = PAGES[String(to.name)] ?? station?.title
  document.title = [partOf(to.query), title, workspace, 'Yardstick Trail'].filter(Boolean).join(' - ')
})
