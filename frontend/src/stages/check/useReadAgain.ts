import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { say, sayProblem } from '@/ui/say'

const PAUSE = 250

/** Reads a source again with options, waits for the job, and goes to the new reading. */
export function useReadAgain(course: () => number) {
  const router = useRouter()
  const queries = useQueryClient()

  async function run(wanted: {
    reading: Schemas['ReadingOut']
    options: Schemas['ReadOptionsIn']
  }): Promise<number | undefined> {
    const { reading, options } = wanted
    const path = { source_id: reading.source }
    const body = { expected: reading.expected ?? null, format: null, options }
    let job = await ok(client.POST('/api/sources/{source_id}/read', { params: { path }, body }))
    while (job.state === 'waiting' || job.state === 'running') {
      await new Promise((resolve) => setTimeout(resolve, PAUSE))
      job = await ok(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } }))
    }
    return job.state === 'done' ? Number(job.result?.reading) : undefined
  }

  return useMutation({
    mutationFn: run,
    onSuccess: async (reading) => {
      await queries.invalidateQueries({ queryKey: ['course', course()] })
      if (reading === undefined) return
      say('Read again.')
      await router.replace({ name: 'reading', params: { course: course(), reading } })
    },
    onError: sayProblem,
  })
}
