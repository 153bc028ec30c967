import { useMutation, useQueryClient, type QueryKey } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { isUnderWay } from '@/api/queries'

import { sayProblem } from './say'

type Job = Schemas['JobOut']

/** Of a list of jobs: those under way, those that failed and were not put away, and what can be done about these. */
export function useJobList(jobs: Ref<Job[] | undefined>, key: () => QueryKey) {
  const queries = useQueryClient()
  const running = computed(() => (jobs.value ?? []).filter(isUnderWay))
  const failed = computed(() => (jobs.value ?? []).filter((job) => job.state === 'failed' && !job.seen))
  const at = (id: string) => ({ params: { path: { job_id: id } } })
  const after = { onSuccess: () => queries.invalidateQueries({ queryKey: key() }), onError: sayProblem }
  const retry = useMutation({
    mutationFn: (id: string) => ok(client.POST('/api/jobs/{job_id}/retry', at(id))),
    ...after,
  })
  const seen = useMutation({
    mutationFn: (id: string) => ok(client.POST('/api/jobs/{job_id}/seen', at(id))),
    ...after,
  })
  return { running, failed, retry, seen }
}
