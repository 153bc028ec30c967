<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { jobsQuery, lastOperationQuery, workerQuery } from '@/api/queries'

import { useJobNotice } from './jobNotice'
import { jobWatch, wordsOf } from './jobs'
import { say, sayProblem, sayRest, said } from './say'
import { useShortcuts } from './shortcuts'
import { useCourse } from './useCourse'
import { useJobList } from './useJobList'

type Job = Schemas['JobOut']

const course = useCourse()
const queries = useQueryClient()
const { data: jobs } = useQuery(computed(() => jobsQuery(course.value)))
/** What one did last, wherever it was: the button and the key take back the same. */
const { data: done } = useQuery(lastOperationQuery())
const { data: worker } = useQuery(workerQuery())
const { running, failed, retry, seen } = useJobList(jobs, () => jobsQuery(course.value).queryKey)
const last = computed(() => done.value?.operation)
/** The other course in which it was done, where it was another. */
const elsewhere = (now: Schemas['LastOut'] | undefined) =>
  now?.operation && now.course !== course.value ? now.course_name : ''
/** Failures of reading stand with their sources; the others are told here, in one line. */
const failedSources = computed(() => failed.value.filter((job) => job.work === 'read').length)
const otherFailures = computed(() =>
  failed.value
    .filter((job) => job.work !== 'read')
    .map((job) => job.label)
    .join(', '),
)
const way = computed(() => (failed.value.length ? undefined : said.value?.way))
const ended = jobWatch<Job>()
const notice = useJobNotice()

watch(
  jobs,
  (now) => {
    if (now) ended(course.value, now).forEach(finished)
  },
  { immediate: true },
)

function finished(job: Job): void {
  void queries.invalidateQueries({ queryKey: ['course'] })
  if (job.state === 'done') say(wordsOf(job))
  notice.tell(job.state === 'done' ? wordsOf(job) : `${job.label} failed.`)
}

const undo = useMutation({
  mutationFn: ({ id, inPart = false }: { id: number; where: string; inPart?: boolean }) =>
    ok(
      client.POST('/api/operations/{operation_id}/undo', {
        params: { path: { operation_id: id }, query: { in_part: inPart } },
      }),
    ),
  onSuccess: (operation, { where }) => {
    if (!operation.job) say(`Undone${where ? ` in ${where}` : ''}: ${operation.label}.`)
    void queries.invalidateQueries({ queryKey: ['course'] })
  },
  onError: (problem, { id, where }) => sayRest(problem, () => undo.mutate({ id, where, inPart: true })),
})
/** What the server did last or still does, which this page may not have been told yet: the key must not undo what was done before. */
async function undoLast(): Promise<void> {
  try {
    const now = await queries.fetchQuery(lastOperationQuery())
    if (now.still) say(`${now.still} is still being done. It can be undone when it is there.`)
    else if (now.operation) undo.mutate({ id: now.operation.id, where: elsewhere(now) })
  } catch (problem) {
    sayProblem(problem)
  }
}

useShortcuts([{ keys: 'Ctrl+z', label: 'Undo what was done last', group: 'Everywhere', run: () => void undoLast() }])
</script>

<template>
  <footer class="bar">
    <div class="jobs">
      <span v-for="job in running" :key="job.id" class="job">
        <progress v-if="job.total > 1" :value="job.done" :max="job.total" :aria-label="job.label" />
        <span v-else class="turning" aria-hidden="true" />
        {{ job.label }}<template v-if="job.total > 1">: {{ job.done }} of {{ job.total }}</template>
      </span>
      <button v-if="running.length && notice.canAsk.value" type="button" class="link-button" @click="notice.ask()">
        Tell me when it is done
      </button>
      <span v-if="worker?.running === false" class="job failed" role="status">
        <span
          ><strong>Nothing is being worked off.</strong> What is asked for waits. If this stays, start the program
          again.</span
        >
      </span>
      <span v-if="failed.length === 1" class="job failed">
        <span
          ><strong>{{ failed[0]!.label }} failed.</strong> {{ failed[0]!.problem?.fact }}
          {{ failed[0]!.problem?.way_out }}</span
        >
        <button class="link-button" @click="retry.mutate(failed[0]!.id)">Start again</button>
        <button class="link-button" @click="seen.mutate(failed[0]!.id)">Remove</button>
      </span>
      <span v-else-if="failed.length" class="job failed">
        <span
          ><strong>{{ failed.length }} things failed.</strong>{{ ' ' }}
          <RouterLink v-if="failedSources" :to="{ name: 'sources', params: { course } }"
            >What is wrong stands with each source</RouterLink
          >
          <template v-if="failed.length > failedSources"> {{ otherFailures }}</template></span
        >
        <button class="link-button" @click="failed.forEach((job) => seen.mutate(job.id))">Remove all</button>
      </span>
      <span class="said" role="status" aria-live="polite" :class="said?.level">{{
        failed.length ? '' : said?.text
      }}</span>
      <button v-if="way" type="button" class="link-button way" @click="way.run()">{{ way.label }}</button>
    </div>
    <div v-if="last" class="undo">
      <span class="faint label">{{ elsewhere(done) ? `In ${elsewhere(done)}: ` : '' }}{{ last.label }}</span>
      <ElButton
        size="small"
        :loading="undo.isPending.value"
        @click="undo.mutate({ id: last.id, where: elsewhere(done) })"
        >Undo</ElButton
      >
    </div>
  </footer>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 24px;
  min-height: 38px;
  padding: 4px 18px;
  border-top: 1px solid var(--rog-rule);
  background: var(--rog-paper);
}

.jobs {
  display: flex;
  gap: 4px 20px;
  align-items: center;
  min-width: 0;
  flex-wrap: wrap;
}

.job {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}

.job button {
  flex: none;
}

.failed {
  color: var(--rog-signal);
}

.way {
  flex: none;
}

.said.problem {
  color: var(--rog-signal);
}

.undo {
  display: flex;
  gap: 10px;
  align-items: center;
  min-width: 0;
}

.label {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  max-width: 380px;
}

progress {
  width: 120px;
  height: 6px;
  accent-color: var(--rog-ink);
}

.turning {
  width: 10px;
  height: 10px;
  border: 2px solid var(--rog-rule-strong);
  border-top-color: var(--rog-ink);
  border-radius: 50%;
  animation: turn 0.9s linear infinite;
}

@keyframes turn {
  to {
    transform: rotate(1turn);
  }
}

@media (prefers-reduced-motion: reduce) {
  .turning {
    animation: none;
  }
}
</style>
