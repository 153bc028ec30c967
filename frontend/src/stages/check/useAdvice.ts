import { useMutation, useQueryClient } from '@tanstack/vue-query'
import type { Ref } from 'vue'

import { client, ok } from '@/api/client'
import { say, sayProblem } from '@/ui/say'
import { WORDS } from '@/ui/words'

/** Which kinds of advice the course does not want; `off` are those that are put off now, `version` the state that was seen. */
export function useAdvice(course: Ref<number>, off: Ref<readonly string[]>, version: Ref<string | undefined>) {
  const queries = useQueryClient()
  const putOff = useMutation({
    // One after the other: each adds to what the one before it left.
    scope: { id: 'advice' },
    mutationFn: (codes: string[] | { also: string }) =>
      ok(
        client.PUT('/api/courses/{course_id}/advice', {
          params: { path: { course_id: course.value } },
          body: { off: Array.isArray(codes) ? codes : [...off.value, codes.also], version: version.value },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['course', course.value] }),
    onError: sayProblem,
  })
  function putOffOne(code: string): void {
    say(`Put off: ${WORDS.advice[code] ?? code}. Under “Advice” it can be had again.`)
    putOff.mutate({ also: code })
  }
  return { putOff, putOffOne }
}
