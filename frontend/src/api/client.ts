import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Board = Schemas['BoardOut']
export type Row = Schemas['RowOut']
export type Trace = Schemas['TraceOut']
export type Rehearsal = Schemas['RehearsalOut']
export type Load = Schemas['LoadOut']
export type Job = Schemas['JobOut']

export const api = createClient<paths>({ baseUrl: window.location.origin })

/** A problem as the server words it for a person. */
export class Problem extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message)
  }
}

const UNREACHABLE = 'The app does not answer. Nothing was changed. Start it again, then reload this page.'

/** What the server answered, or its problem thrown. */
export async function answer<T>(asked: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const { data, error } = await asked.catch(() => {
    throw new Problem('unreachable', UNREACHABLE)
  })
  if (data !== undefined) return data
  const said = error as Partial<Problem> | undefined
  throw new Problem(said?.code ?? 'unknown', said?.message ?? UNREACHABLE)
}
