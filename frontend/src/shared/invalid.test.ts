import { describe, expect, it } from 'vitest'
import { fieldOf, markInvalid } from './invalid'

document.body.innerHTML = `
  <form>
    <div data-field="name"><input id="own" /></div>
    <div data-field="level"><select id="level"></select></div>
    <fieldset data-field="slots">
      <div class="item"><div data-field="name"><input id="first" /></div></div>
      <div class="item"><div data-field="name"><input id="second" /></div></div>
    </fieldset>
    <p id="note"></p>
  </form>
  <section><input id="alone" /><p id="other"></p></section>`
const form = document.querySelector('form')!
const of = (message: string) => fieldOf(form, message)?.id

describe('the field that a refusal speaks of', () => {
  it('is found by the path of the setting', () => {
    expect(of('plan: dialect.1.name: Field required')).toBe('own')
    expect(of('plan: dialect.1.slots.2.name: Field required')).toBe('second')
    expect(of('plan: dialect.1.slots.1.name: Field required')).toBe('first')
    // A list may be called as one of its fields.
    expect(of('plan: level.4.name: Field required')).toBe('own')
    expect(of('plan: level.4.level: one of campaign, group, ad')).toBe('level')
    expect(of('plan: name: write it')).toBe('own')
  })

  it('is none where nothing says which', () => {
    expect(of('The database does not answer. Nothing was changed.')).toBeUndefined()
    expect(of('plan: dialect.1.elsewhere: unknown setting')).toBeUndefined()
  })

  it('is marked until it is changed', () => {
    const clear = markInvalid(document.getElementById('note')!, 'plan: dialect.1.name: Field required')
    const field = document.getElementById('own')!
    expect(field.getAttribute('aria-invalid')).toBe('true')
    expect(field.getAttribute('aria-errormessage')).toBe('note')
    expect(document.activeElement).toBe(field)
    field.dispatchEvent(new Event('input'))
    expect(field.hasAttribute('aria-invalid')).toBe(false)
    clear()
  })
})
