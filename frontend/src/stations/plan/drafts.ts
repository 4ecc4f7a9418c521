import type { Rec } from './queries'

/** What was typed into forms and neither kept nor dropped: closing a form, or opening another, loses nothing. */
const drafts = new Map<string, Rec>()

export const draft = (name: string): Rec | undefined => drafts.get(name)
export const remember = (name: string, record: Rec): unknown => name && drafts.set(name, record)
export const forget = (name: string): boolean => drafts.delete(name)
