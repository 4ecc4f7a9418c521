import { computed, shallowRef } from 'vue'
import type { Schemas } from '../api/client'

export type Trial = Schemas['TrialOut']

/** What is on trial: an edit being tried, one that waits for Keep or Leave, one being kept, one that was kept. */
export type OnTrial =
  | { stage: 'trying'; leave: () => void }
  | { stage: 'asking'; trial: Trial; keep: () => void; leave: () => void }
  | { stage: 'keeping' }
  | { stage: 'kept'; trial: Trial }

/** The edit was left: nothing was saved, and nothing is wrong. */
export class Left extends Error {
  constructor() {
    super('')
  }
}

const now = shallowRef<OnTrial | null>(null)
export const onTrial = computed(() => now.value)

/** Say nothing any more of what was kept. */
export function quiet(): void {
  if (now.value?.stage === 'kept') now.value = null
}

/** Edits are tried one after the other: one made meanwhile waits until the one before it is kept or left. */
let before: Promise<unknown> = Promise.resolve()

/**
 * Keep an edit once it was tried: at once where no figure moves, else when somebody says so in the foot line.
 *
 * @param attempt asks what the edit would move
 * @param keep keeps it, given the state that was tried
 */
export function tried<T>(attempt: () => Promise<Trial>, keep: (state: string) => Promise<T>): Promise<T> {
  const mine = before.then(() => inTurn(attempt, keep))
  before = mine.catch(() => {})
  return mine
}

async function inTurn<T>(attempt: () => Promise<Trial>, keep: (state: string) => Promise<T>): Promise<T> {
  let leave = () => {}
  const left = new Promise<never>((_, leaves) => (leave = () => leaves(new Left())))
  now.value = { stage: 'trying', leave }
  try {
    const trial = await Promise.race([attempt(), left])
    if (trial.moves) await Promise.race([asked(trial, leave), left])
    now.value = { stage: 'keeping' }
    const kept = await keep(trial.state)
    now.value = { stage: 'kept', trial }
    return kept
  } catch (problem) {
    now.value = null
    throw problem
  }
}

const asked = (trial: Trial, leave: () => void) =>
  new Promise<void>((keep) => (now.value = { stage: 'asking', trial, keep, leave }))
