import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { useQuestion, useTraced } from './question'

async function open(address: string) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/weigh', component: { template: '<i />' } }],
  })
  await router.push(address)
  let made!: { question: ReturnType<typeof useQuestion>; traced: ReturnType<typeof useTraced> }
  mount(
    {
      template: '<i />',
      setup() {
        made = { question: useQuestion(), traced: useTraced() }
        return {}
      },
    },
    { global: { plugins: [router] } },
  )
  return { router, ...made }
}

describe('the question of the board', () => {
  it('is read from the address', async () => {
    const { question } = await open('/weigh?by=channel&from=2026-03-01&where=source+is+a&where=medium+is+b')
    expect(question.asked.value).toEqual({
      by: 'channel',
      from: '2026-03-01',
      to: undefined,
      click_days: undefined,
      yardstick: undefined,
      where: ['source is a', 'medium is b'],
    })
  })

  it('is written to the address, the usual left out', async () => {
    const { question, router } = await open('/weigh?by=channel')
    question.by.value = 'campaign'
    await flushPromises()
    expect(router.currentRoute.value.query).toEqual({})
    question.where.value = ['source is a']
    await flushPromises()
    expect(router.currentRoute.value.fullPath).toBe('/weigh?where=source+is+a')
    question.where.value = []
    await flushPromises()
    expect(router.currentRoute.value.fullPath).toBe('/weigh')
  })

  it('goes back in one step, though several values changed', async () => {
    const { question, router } = await open('/weigh')
    await question.change({ from: '2026-03-01', to: '2026-03-31' })
    router.back()
    await flushPromises()
    expect(question.asked.value.from).toBeUndefined()
    expect(question.asked.value.to).toBeUndefined()
  })
})

describe('the traced figure', () => {
  it('stands in the address, names with odd letters too', async () => {
    const { traced, router } = await open('/weigh')
    await traced.open('named', 'value', ['Boats & piers, "east" ~?', '100 % ~'])
    expect(traced.cell.value).toMatchObject({ bucket: 'named', figure: 'value' })
    await router.push(router.currentRoute.value.fullPath)
    expect(traced.cell.value).toMatchObject({ name: ['Boats & piers, "east" ~?', '100 % ~'] })
    await traced.close()
    expect(traced.cell.value).toBeNull()
  })

  it('is escaped once, and a lone % typed by hand is one', async () => {
    const { traced, router } = await open('/weigh')
    await traced.open('named', 'value', ['Midnight Boat'])
    expect(router.currentRoute.value.fullPath).toBe('/weigh?trace=row~named~value~Midnight+Boat')
    await router.push('/weigh?trace=row~named~value~100%25%20off')
    expect(traced.cell.value).toMatchObject({ name: ['100% off'] })
    // As they were written before.
    await router.push('/weigh?trace=row~named~value~Midnight%2520Boat')
    expect(traced.cell.value).toMatchObject({ name: ['Midnight Boat'] })
  })

  it('may be a part of the tie line', async () => {
    const { traced } = await open('/weigh?trace=part~untagged')
    expect(traced.cell.value).toEqual({ part: 'untagged' })
  })
})
