/** The five shares of coverage in words, and what each can be split by besides weeks. */
export const COVERAGE: Record<string, { name: string; what: string; by: readonly string[] }> = {
  visits_tagged: {
    name: 'Visits tagged',
    what: 'touches by click that carry a tag',
    by: ['landing_page', 'referrer_host', 'week'],
  },
  leads_with_source: {
    name: 'Leads with a source',
    what: 'counted leads whose source a visit, a form or a code says',
    by: ['form', 'week'],
  },
  conversions_with_trail: {
    name: 'Conversions with a trail',
    what: 'counted conversions with a touch before them',
    by: ['goal', 'week'],
  },
  value_credited: {
    name: 'Value credited',
    what: 'value that named campaigns earned, under linear',
    by: ['goal', 'week'],
  },
  spend_matched: {
    name: 'Spend matched',
    what: 'spend whose campaign somebody arrived by',
    by: ['platform', 'week'],
  },
}

/** A field of coverage in words. */
export const byWords = (by: string): string => by.replaceAll('_', ' ')
