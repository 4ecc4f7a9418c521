import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api, Problem, type Job, type Rehearsal } from '../../api/client'

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

const POLL_MS = 150

/** Keep a rehearsal and follow the job until it ends. */
export function useKeeping() {
  const client = useQueryClient()
  const job = ref<Job>()
  const keeping = useMutation<Job, Problem, string>({
    mutationFn: async (token) => {
      job.value = await answer(api.POST('/gather/loads', { body: { token } }))
      while (job.value.state === 'running') {
        await new Promise((resolve) => setTimeout(resolve, POLL_MS))
        const id: number = job.value.id
        job.value = await answer(api.GET('/gather/jobs/{job_id}', { params: { path: { job_id: id } } }))
      }
      return job.value
    },
    onSettled: () => client.invalidateQueries(),
  })
  const stop = () =>
    job.value &&
    answer(api.POST('/gather/jobs/{job_id}/stop', { params: { path: { job_id: job.value.id } } }))
  return { job, keeping, stop }
}
