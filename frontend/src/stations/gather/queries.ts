import { useIsMutating, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { address, answer, api, Problem, type Job } from '../../api/client'
import type { FileRehearsal, Reading, SourceNow } from './reading'
import { job } from './rehearsal'

/** The list of loads. */
export const useLoads = () =>
  useQuery({ queryKey: ['loads'], queryFn: () => answer(api.GET('/gather/loads')) })

/** Whether a file is being read in another way: what is shown is not yet what would be kept. */
export const useReadingNow = () => useIsMutating({ mutationKey: ['reading'] })

/** Rehearse one file again, read in another way; one after the other, so that the last thing said holds. */
export const useReadOtherwise = () =>
  useMutation<
    FileRehearsal,
    Problem,
    {
      token: string
      file: string
      reading: Reading | null
      called: string
      answers?: Record<string, string>
    }
  >({
    mutationKey: ['reading'],
    scope: { id: 'reading' },
    mutationFn: async ({ token, answers = {}, ...body }) =>
      (await answer(
        api.POST('/gather/rehearsals/{token}/readings', {
          params: { path: { token } },
          body: { ...body, answers },
        }),
      )) as FileRehearsal,
  })

/** The tables that rows can go into. */
export const useTables = () =>
  useQuery({ queryKey: ['tables'], queryFn: () => answer(api.GET('/gather/tables')), staleTime: Infinity })

/** The sources, and what of each has arrived. */
export const useSources = () =>
  useQuery({
    queryKey: ['sources'],
    queryFn: async () => (await answer(api.GET('/gather/sources'))) as SourceNow[],
  })

/** Undo a load. */
export function useUndo() {
  const client = useQueryClient()
  return useMutation<unknown, Problem, number>({
    mutationFn: (load) => answer(api.POST('/gather/loads/{load}/undo', { params: { path: { load } } })),
    onSuccess: () => client.invalidateQueries(),
  })
}

export function useRedo() {
  const client = useQueryClient()
  return useMutation<unknown, Problem, number>({
    mutationFn: (load) => answer(api.POST('/gather/loads/{load}/redo', { params: { path: { load } } })),
    onSuccess: () => client.invalidateQueries(),
  })
}

/** Follow a job by the events the server sends, until it has ended. */
function follow(job: Ref<Job | undefined>, id: number): Promise<Job> {
  return new Promise((resolve, reject) => {
    const events = new EventSource(address(`/gather/jobs/${id}/events`))
    events.onmessage = (event) => {
      const now = JSON.parse(event.data as string) as Job
      job.value = now
      if (now.state !== 'running') {
        events.close()
        resolve(now)
      }
    }
    events.onerror = () => {
      events.close()
      // The app went away, or the stream was cut: ask once, so that what is said is what the server knows.
      answer(api.GET('/gather/jobs/{job_id}', { params: { path: { job_id: id } } })).then((now) => {
        job.value = now
        if (now.state === 'running') follow(job, id).then(resolve, reject)
        else resolve(now)
      }, reject)
    }
  })
}

/** Keep a rehearsal and follow the job until it ends. */
export function useKeeping() {
  const client = useQueryClient()
  const keeping = useMutation<Job, Problem, string>({
    mutationFn: async (token) => {
      job.value = await answer(api.POST('/gather/loads', { body: { token } }))
      return follow(job, job.value.id)
    },
    onSettled: () => client.invalidateQueries(),
  })
  /** Follow a load that another window began. */
  const attend = async (id: number) => {
    if (job.value?.id === id) return
    await follow(job, id).catch(() => undefined)
    await client.invalidateQueries()
  }
  const stop = () =>
    job.value &&
    answer(api.POST('/gather/jobs/{job_id}/stop', { params: { path: { job_id: job.value.id } } }))
  return { keeping, attend, stop }
}
