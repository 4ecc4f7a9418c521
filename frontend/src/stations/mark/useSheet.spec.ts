import { beforeEach, describe, expect, it, vi } from 'vitest'
import { mount, flushPromises } from '@vue/test-utils'
import { Problem } from '../../api/client'
import { useSheet, type Sheet } from './useSheet'

const asked: { how: string; body: unknown }[] = []
let answers: (Partial<Sheet> | Problem)[] = []

vi.mock('../../api/client', async (load) => {
  const real = await load<typeof import('../../api/client')>()
  const ask = (how: string) => (_: string, given?: { body: unknown }) => {
    asked.push({ how, body: given?.body })
    const next = answers.shift()
    return next instanceof Problem ? Promise.reject(next) : Promise.resolve({ data: next })
  }
  return {
    ...real,
    api: { GET: ask('GET'), PATCH: ask('PATCH'), POST: ask('POST') },
    answer: async (p: Promise<{ data?: unknown }>) => (await p).data,
  }
})

const row = (key: string, cells: Record<string, string>, url = `https://x.example/?k=${key}`) => ({
  key,
  cells,
  url,
  findings: [],
  made: '',
})
const state = (basis: number, rows: ReturnType<typeof row>[], order = rows.map((r) => r.key)): Sheet => ({
  basis,
  columns: [],
  rows,
  order,
  steps: [],
  presets: [],
  ads: [],
  groups: [],
})

function sheet() {
  let made!: ReturnType<typeof useSheet>
  mount({
    template: '<i />',
    setup() {
      made = useSheet()
      return {}
    },
  })
  return made
}

beforeEach(() => {
  asked.length = 0
  answers = [state(1, [row('a', { source: 'quorrin' }), row('b', { source: 'ostrel' })])]
})

describe('the sheet', () => {
  it('shows a change at once, without an address until the server made one', async () => {
    const s = sheet()
    await flushPromises()
    answers = [state(2, [row('a', { source: 'harnock' }, 'https://made.example/')], ['a', 'b'])]
    const kept = s.change([{ key: 'a', cells: { source: 'harnock' } }], 'source changed')
    expect(s.rows.get('a')).toMatchObject({ cells: { source: 'harnock' }, url: '' })
    expect(s.waiting.value).toBe(1)
    await kept
    expect(s.rows.get('a')!.url).toBe('https://made.example/')
    expect(s.rows.get('b')!.cells.source).toBe('ostrel')
    expect(s.waiting.value).toBe(0)
  })

  it('keeps the address of a row that a change leaves as it is', async () => {
    const s = sheet()
    await flushPromises()
    answers = [state(2, [row('b', { source: 'quorrin' })], ['a', 'b'])]
    const filled = ['a', 'b'].map((key) => ({ key, cells: { source: 'quorrin' } }))
    await s.change(filled, 'filled down')
    expect(s.rows.get('a')!.url).toBe('https://x.example/?k=a')
  })

  it('sends edits one after the other, each on what the one before it left', async () => {
    const s = sheet()
    await flushPromises()
    answers = [state(2, [], ['a', 'b']), state(3, [], ['a', 'b'])]
    void s.change([{ key: 'a', cells: { term: '1' } }], 'one')
    await s.change([{ key: 'b', cells: { term: '2' } }], 'two')
    expect(asked.slice(1).map((a) => (a.body as { basis: number }).basis)).toEqual([1, 2])
  })

  it('puts a new row after the one it was made for, and takes rows out', async () => {
    const s = sheet()
    await flushPromises()
    answers = [state(2, [], ['a', 'n', 'b']), state(3, [], ['n', 'b'])]
    void s.change([{ key: 'n', cells: {}, after: 'a' }], 'added')
    expect(s.order.value).toEqual(['a', 'n', 'b'])
    await s.change([{ key: 'a', cells: null }], 'removed')
    expect(s.order.value).toEqual(['n', 'b'])
    expect(s.rows.has('a')).toBe(false)
  })

  it('takes in what others changed meanwhile with the answer to its own edit', async () => {
    const s = sheet()
    await flushPromises()
    answers = [state(6, [row('a', { source: 'mine' }), row('b', { source: 'theirs' })], ['a', 'b'])]
    await s.change([{ key: 'a', cells: { source: 'mine' } }], 'source changed')
    expect(asked.map((a) => a.how)).toEqual(['GET', 'PATCH'])
    expect(s.rows.get('a')!.cells.source).toBe('mine')
    expect(s.rows.get('b')!.cells.source).toBe('theirs')
  })

  it('shows what stands when somebody else changed the very row, and says why', async () => {
    const s = sheet()
    await flushPromises()
    const now = () => state(7, [row('a', { source: 'theirs' })])
    answers = [new Problem('overtaken', 'changed in another window'), now()]
    await s.change([{ key: 'a', cells: { source: 'mine' } }], 'source changed')
    expect((s.error.value as Problem).message).toBe('changed in another window')
    expect(s.rows.get('a')!.cells.source).toBe('theirs')
    expect(s.order.value).toEqual(['a'])
    answers = [state(8, [row('a', { source: 'mine' })])]
    await s.change([{ key: 'a', cells: { source: 'mine' } }], 'again')
    expect((asked.at(-1)!.body as { basis: number }).basis).toBe(7)
    expect(s.error.value).toBeNull()
  })

  it('does not try again what is wrong', async () => {
    const s = sheet()
    await flushPromises()
    answers = [
      new Problem('wrong', 'longer than 4000 characters'),
      state(1, [row('a', { source: 'quorrin' })]),
    ]
    await s.change([{ key: 'a', cells: { note: 'x' } }], 'note changed')
    expect(asked.map((a) => a.how)).toEqual(['GET', 'PATCH', 'GET'])
    expect((s.error.value as Problem).message).toContain('4000')
  })

  it('names the latest step that stands as the one an undo takes back', async () => {
    const s = sheet()
    await flushPromises()
    const step = (id: number, what: string, undone: boolean) => ({
      id,
      what,
      undone,
      made_at: '',
      made_by: '',
    })
    answers = [
      { ...state(2, [], ['a', 'b']), steps: [step(3, 'c', true), step(2, 'b', false), step(1, 'a', false)] },
    ]
    await s.undo()
    expect(s.last.value!.what).toBe('b')
  })
})
