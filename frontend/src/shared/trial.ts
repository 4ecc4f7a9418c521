import { computed, shallowRef } from 'vue'
import { keptWords } from './trialWords'
import type { Schemas } from '../api/client'

export type Trial = Schemas['TrialOut']

/** What is on trial: an edit being tried, one that waits for Keep or Leave, or one that moved nothing and was kept. */
export type OnTrial =
  | { stage: 'trying' }
  | { stage: 'asking'; trial: Trial; decide: (keeps: boolean) => void }
  | { stage: 'kept'; words: string }

/** The edit was left: nothing was saved, and nothing is wrong. */
export class Left extends Error {
  constructor() {
    super('')
  }
}

const now = shallowRef<OnTrial | null>(null)
export const onTrial = computed(() => now.value)

/** Whoever edits something else leaves what still waits. */
function leave() {
  if (now.value?.stage === 'asking') now.value.decide(false)
}

/** Say nothing any more of what was kept. */
export function quiet(): void {
  if (now.value?.stage === 'kept') now.value = null
}

/**
 * Keep an edit once it was tried: at once where no figure moves, else when somebody says so in the foot line.
 *
 * @param attempt asks what the edit would move
 * @param keep keeps it, given the state that was tried
 */
export async function tried<T>(
  attempt: () => Promise<Trial>,
  keep: (state: string) => Promise<T>,
): Promise<T> {
  leave()
  const mine: OnTrial = { stage: 'trying' }
  now.value = mine
  try {
    const trial = await attempt()
    if (trial.moves) await asked(trial)
    const kept = await keep(trial.state)
    now.value = { stage: 'kept', words: keptWords(trial) }
    return kept
  } catch (problem) {
    if (now.value === mine || now.value?.stage === 'trying') now.value = null
    throw problem
  }
}

async function asked(trial: Trial): Promise<void> {
  const keeps = await new Promise<boolean>((decide) => (now.value = { stage: 'asking', trial, decide }))
  now.value = keeps ? { stage: 'trying' } : null
  if (!keeps) throw new Left()
}
