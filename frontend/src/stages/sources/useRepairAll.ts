import { useMutation, useQueryClient } from '@tanstack/vue-query'

import { client, ok } from '@/api/client'
import { say, sayProblem } from '@/ui/say'
import { items } from '@/ui/words'

/** Repairs what is said of several sources in all of them, as one. */
export function useRepairAll(course: () => number) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (wanted: { sources: number[]; code: string; repair: string }) =>
      ok(client.POST('/api/courses/{course_id}/repair', { params: { path: { course_id: course() } }, body: wanted })),
    onSuccess: async ({ count, job }, { sources }) => {
      if (!job) say(`Mended ${items(count)} of ${sources.length} ${sources.length === 1 ? 'source' : 'sources'}.`)
      await queries.invalidateQueries({ queryKey: ['course', course()] })
    },
    onError: sayProblem,
  })
}
