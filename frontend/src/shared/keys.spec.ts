import { mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { useKeys } from './keys'

const done = vi.fn()
let view: ReturnType<typeof mount>

function open() {
  view = mount(
    {
      template: '<main><input /><select /><button>b</button></main>',
      setup() {
        useKeys({ y: () => done('y'), Escape: () => done('esc') })
        return {}
      },
    },
    { attachTo: document.body },
  )
  return view
}

function press(key: string, on: Element = document.body, more = {}) {
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, ...more }))
}

afterEach(() => {
  view.unmount()
  done.mockClear()
})

describe('keys', () => {
  it('act, whatever has the focus that is no field', () => {
    const { element } = open()
    press('y')
    press('y', element.querySelector('button')!)
    expect(done).toHaveBeenCalledTimes(2)
  })

  it('rest while a field has the focus, but for the one that closes', () => {
    const { element } = open()
    for (const field of element.querySelectorAll('input, select')) press('y', field)
    expect(done).not.toHaveBeenCalled()
    press('Escape', element.querySelector('input')!)
    expect(done).toHaveBeenCalledWith('esc')
  })

  it('leave the browser its own', () => {
    open()
    for (const held of ['ctrlKey', 'metaKey', 'altKey']) press('y', document.body, { [held]: true })
    expect(done).not.toHaveBeenCalled()
  })

  it('are gone with their view', () => {
    open().unmount()
    press('y')
    expect(done).not.toHaveBeenCalled()
  })
})
