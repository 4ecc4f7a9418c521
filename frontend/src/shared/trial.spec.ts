import { describe, expect, it, vi } from 'vitest'
import { Left, onTrial, tried, type Trial } from './trial'
import { keptWords } from './trialWords'

const trial = (moves: boolean, state = 's') => ({ state, moves, renamed: [], turns: [] }) as unknown as Trial
const kept = () => vi.fn(async (state: string) => state)
const asking = async () => {
  await vi.waitFor(() => expect(onTrial.value?.stage).toBe('asking'))
  const now = onTrial.value!
  if (now.stage !== 'asking') throw new Error(now.stage)
  return now
}

describe('an edit on trial', () => {
  it('is kept at once where no figure moves', async () => {
    await expect(tried(async () => trial(false, 'a'), kept())).resolves.toBe('a')
    expect(onTrial.value).toEqual({ stage: 'kept', trial: trial(false, 'a') })
    expect(keptWords(trial(false, 'a'))).toBe('No figure moves: kept.')
  })
  it('waits for a word where one moves, and one made meanwhile waits for its turn', async () => {
    const [one, two] = [kept(), kept()]
    const first = tried(async () => trial(true, 'a'), one)
    const second = tried(async () => trial(true, 'b'), two)
    const asked = await asking()
    expect(asked.trial.state).toBe('a')
    expect(one).not.toHaveBeenCalled()
    asked.keep()
    await expect(first).resolves.toBe('a')
    const next = await asking()
    expect(next.trial.state).toBe('b')
    next.leave()
    await expect(second).rejects.toBeInstanceOf(Left)
    expect(two).not.toHaveBeenCalled()
    expect(onTrial.value).toBeNull()
  })
  it('can be left while it is tried, and keeps nothing when the answer comes', async () => {
    const keep = kept()
    let answer: (found: Trial) => void = () => {}
    const mine = tried(() => new Promise<Trial>((done) => (answer = done)), keep)
    await vi.waitFor(() => expect(onTrial.value?.stage).toBe('trying'))
    const now = onTrial.value!
    if (now.stage === 'trying') now.leave()
    await expect(mine).rejects.toBeInstanceOf(Left)
    answer(trial(false))
    await Promise.resolve()
    expect(keep).not.toHaveBeenCalled()
  })
  it('that is refused holds up no other', async () => {
    const refused = tried(() => Promise.reject(new Error('no')), kept())
    const next = tried(async () => trial(false, 'b'), kept())
    await expect(refused).rejects.toThrow('no')
    await expect(next).resolves.toBe('b')
  })
})
