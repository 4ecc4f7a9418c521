import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref, type Ref } from 'vue'
import { address, answer, api, Problem, type Job, type Rehearsal } from '../../api/client'

/** The list of loads. */
export const useLoads = () =>
  useQuery({ queryKey: ['loads'], queryFn: () => answer(api.GET('/gather/loads')) })

/** Rehearse files: what would happen if they were kept. */
export const useRehearsal = () =>
  useMutation<Rehearsal, Problem, File[]>({
    mutationFn: (files) => {
      const form = new FormData()
      for (const file of files) form.append('files', file, file.name)
      return answer(
        api.POST('/gather/rehearsals', {
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      )
    },
  })

/** Undo a load. */
export function useUndo() {
  const client = useQueryClient()
  return useMutation<unknown, Problem, number>({
    mutationFn: (load) => answer(api.POST('/gather/loads/{load}/undo', { params: { path: { load } } })),
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
  const job = ref<Job>()
  const keeping = useMutation<Job, Problem, string>({
    mutationFn: async (token) => {
      job.value = await answer(api.POST('/gather/loads', { body: { token } }))
      return follow(job, job.value.id)
    },
    onSettled: () => client.invalidateQueries(),
  })
  const stop = () =>
    job.value &&
    answer(api.POST('/gather/jobs/{job_id}/stop', { params: { path: { job_id: job.value.id } } }))
  return { job, keeping, stop }
}
