import { expect, it } from 'vitest'
import { objectWords } from './matterWords'

it('says what a matter is about, and of people no more than tells one from another', () => {
  expect(objectWords(['ticket', 'email:ada@lunnick.example'])).toBe('ticket / email:a...@lunnick.example')
  expect(objectWords(['email', 'desk@mail.example'])).toBe('email / d...@mail.example')
  expect(objectWords(['ticket', 'phone:+61855500104'])).toBe('ticket / phone:...04')
  expect(objectWords(['ticket', 'visitor_id:p7'])).toBe('ticket / visitor:p7')
  expect(objectWords(['r-2026'])).toBe('r-2026')
  const link =
    'https://www.lunnick.example/card?utm_source=ostrel&utm_campaign=Year%20Card&utm_content=card-a'
  expect(objectWords([link])).toBe('Year Card · card-a')
  expect(objectWords(['', 'content'])).toBe('nothing / content')
})
