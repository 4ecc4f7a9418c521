import createClient from 'openapi-fetch'
import { workspace } from '../shared/workspace'
import type { paths as InstancePaths } from './instance'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Board = Schemas['BoardOut']
export type Row = Schemas['RowOut']
export type Certainty = Schemas['CertaintyOut']
export type Certain = Schemas['CertainOut']
export type Trace = Schemas['TraceOut']
export type Rehearsal = Schemas['Rehearsal']
export type Load = Schemas['Load']
export type Job = Schemas['JobState']

/** Where an answer of this workspace is to be had, for links and pictures. */
export const address = (path: string) => `/api/w/${workspace}${path}`

/** The workspace this page shows. */
export const api = createClient<paths>({ baseUrl: window.location.origin + address('') })

/** What is common to all workspaces. */
export const instance = createClient<InstancePaths>({ baseUrl: window.location.origin })

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
