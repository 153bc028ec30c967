import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { reactive } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { say, sayProblem } from '@/ui/say'

type Reading = Schemas['ReadingOut']
type Other = Reading['others'][number]
type Options = Schemas['ReadOptionsIn']

const PAUSE = 250
/** What was said of each source before it was last read again from this page. */
const before = reactive(new Map<number, Options>())

/** What is said by hand of a reading's source. */
function saidOf(reading: Reading): Options {
  const habits = Object.fromEntries(reading.habits.map((habit) => [habit.about, habit.said]))
  return { roles: reading.roles, key_habit: reading.key_habit as Options['key_habit'], ...habits }
}

/** Reads a source again with options, waits for the job, and goes to the new reading; it can be read as before. */
export function useReadAgain(course: () => number) {
  const router = useRouter()
  const queries = useQueryClient()

  async function run(wanted: { reading: Reading; options: Options; back?: boolean }): Promise<number | undefined> {
    const { reading, options } = wanted
    const path = { source_id: reading.source }
    const body = { expected: reading.expected ?? null, format: null, options }
    let job = await ok(client.POST('/api/sources/{source_id}/read', { params: { path }, body }))
    while (job.state === 'waiting' || job.state === 'running') {
      await new Promise((resolve) => setTimeout(resolve, PAUSE))
      job = await ok(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } }))
    }
    if (job.state !== 'done') return undefined
    if (wanted.back) before.delete(reading.source)
    else before.set(reading.source, saidOf(reading))
    return Number(job.result?.reading)
  }

  const again = useMutation({
    mutationFn: run,
    onSuccess: async (reading, wanted) => {
      if (reading !== undefined) {
        say(wanted.back ? 'Read as before.' : 'Read again.')
        const query = router.currentRoute.value.query
        await router.replace({ name: 'reading', params: { course: course(), reading }, query })
      }
      await queries.invalidateQueries({ queryKey: ['course', course()] })
    },
    onError: sayProblem,
  })

  const canGoBack = (reading: Reading | undefined) => Boolean(reading && before.has(reading.source))
  function goBack(reading: Reading): void {
    const options = before.get(reading.source)
    if (options) again.mutate({ reading, options, back: true })
  }
  /** Reads an item, or all that differ so, the other way: its lines' roles are said by hand from now on. */
  function other(reading: Reading, way: Pick<Other, 'kind' | 'roles'>, all: boolean): void {
    const said = all ? reading.others.find((entry) => entry.kind === way.kind)?.roles : way.roles
    again.mutate({ reading, options: { roles: { ...reading.roles, ...said } } })
  }
  return Object.assign(again, { canGoBack, goBack, other })
}
