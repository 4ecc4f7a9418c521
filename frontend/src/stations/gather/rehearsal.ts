import { computed, ref, shallowRef } from 'vue'
import { answer, api, Problem, type Job, type Rehearsal } from '../../api/client'

/*
 * What is being read and what was: it outlives the view, so that another station can be looked at meanwhile. A workspace
 * has pages of its own, so none sees that of another.
 */
export const rehearsal = ref<Rehearsal | null>(null)
/** The files that were chosen last. */
export const chosen = shallowRef<File[]>([])
/** The job that keeps files, or kept the last ones. */
export const job = ref<Job>()
/** Why the last files could not be read. */
export const unread = ref<Problem | null>(null)

/** How far files are that are being read. */
export interface Reading {
  name: string
  files: string[]
  bytes: number
  file: string
  rows: number
  share: number
}
export const reading = ref<Reading | null>(null)
export const isReading = computed(() => reading.value !== null)

const EVERY_MS = 400
let cut: AbortController | undefined

/** Read files and say what keeping them would do; what was being read before is stopped. */
export async function read(files: File[]): Promise<void> {
  await stopReading()
  const name = crypto.randomUUID()
  const mine = (cut = new AbortController())
  chosen.value = files
  rehearsal.value = unread.value = null
  job.value = undefined
  const bytes = files.reduce((sum, file) => sum + file.size, 0)
  reading.value = { name, files: files.map((file) => file.name), bytes, file: '', rows: 0, share: 0 }
  const watch = setInterval(() => void look(name), EVERY_MS)
  const form = new FormData()
  for (const file of files) form.append('files', file, file.name)
  try {
    const found = await answer(
      api.POST('/gather/rehearsals', {
        params: { query: { called: name } },
        body: form as never,
        bodySerializer: (body) => body as unknown as FormData,
        signal: mine.signal,
      }),
    )
    // The files that were chosen last are shown, whichever answer comes last.
    if (mine === cut) rehearsal.value = found
  } catch (refused) {
    if (mine === cut && refused instanceof Problem && refused.code !== 'stopped') unread.value = refused
  } finally {
    clearInterval(watch)
    if (reading.value?.name === name) reading.value = null
  }
}

async function look(name: string) {
  const now = await answer(
    api.GET('/gather/readings/{called}', { params: { path: { called: name } } }),
  ).catch(() => null)
  if (now?.file && reading.value?.name === name)
    reading.value = {
      ...reading.value,
      file: now.file,
      rows: now.rows,
      share: now.size ? now.done / now.size : 0,
    }
}

/** Have what is being read end; nothing of it is left. */
export async function stopReading(): Promise<void> {
  const now = reading.value
  if (!now) return
  reading.value = null
  cut?.abort()
  cut = undefined
  await answer(api.POST('/gather/readings/{called}/stop', { params: { path: { called: now.name } } })).catch(
    () => null,
  )
}

/** Leave of the rehearsal what was not kept: all of it after a stop, what still asks after a keep. */
export async function leaveWaiting(token: string): Promise<void> {
  const names = await answer(api.GET('/gather/rehearsals/{token}', { params: { path: { token } } })).catch(
    () => null,
  )
  // Until that was said other files may have been chosen: those stay.
  if (rehearsal.value?.token !== token || names === null) return
  const left = rehearsal.value.files.filter((file) => names.includes(file.file))
  rehearsal.value = left.some((file) => !file.problem) ? { ...rehearsal.value, files: left } : null
}
