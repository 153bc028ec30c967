<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, openSaved, type Schemas } from '@/api/client'
import { coursesQuery, deletedCoursesQuery, ownJobsQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { jobWatch } from '@/ui/jobs'
import { sayProblem } from '@/ui/say'
import { useJobList } from '@/ui/useJobList'
import { day } from '@/ui/words'

const router = useRouter()
const queries = useQueryClient()
const { data: courses, error, isPending } = useQuery(coursesQuery())
const { data: deleted } = useQuery(deletedCoursesQuery())
const name = ref('')
const problem = ref('')
const fileField = ref<HTMLInputElement>()

async function enter(course: number): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['courses'] })
  await router.push({ name: 'sources', params: { course } })
}
/** A new course is told by the clocks of who makes it. */
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
const create = useMutation({
  mutationFn: () => ok(client.POST('/api/courses', { body: { name: name.value, time_zone: zone } })),
  onSuccess: (course) => enter(course.id),
  onError: sayProblem,
})
const open = useMutation({
  mutationFn: (file: File) => openSaved(file),
  onMutate: () => (problem.value = ''),
  onSuccess: (job) => {
    awaited.value = job.id
    return queries.invalidateQueries({ queryKey: ownJobsQuery().queryKey })
  },
  onError: (refused) => (problem.value = refused.message),
})
/** What is being opened: a course is there when all of it is. */
const awaited = ref('')
const { data: jobs } = useQuery(ownJobsQuery())
const { running: opening, failed, retry, seen } = useJobList(jobs, () => ownJobsQuery().queryKey)
const ended = jobWatch<Schemas['JobOut']>()
watch(
  jobs,
  async (now) => {
    const done = now ? ended(0, now).filter(({ state }) => state === 'done') : []
    if (done.length) await queries.invalidateQueries({ queryKey: ['courses'] })
    const mine = done.find(({ id }) => id === awaited.value)
    if (mine) await enter((mine.result as { course: number }).course)
  },
  { immediate: true },
)
const bringBack = useMutation({
  mutationFn: (id: number) =>
    ok(client.POST('/api/courses/{course_id}/bring-back', { params: { path: { course_id: id } } })),
  onSuccess: async () => {
    await queries.invalidateQueries({ queryKey: ['courses'] })
    await queries.invalidateQueries({ queryKey: ['deleted-courses'] })
  },
  onError: sayProblem,
})
function picked(event: Event): void {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  if (file) open.mutate(file)
  field.value = ''
}
const standing = (course: Schemas['CourseOut']) => {
  if (course.role === 'owner')
    return course.shared ? `yours, shared with ${course.shared === 1 ? 'one' : course.shared}` : 'yours'
  return `${course.owner}’s, you ${course.role === 'editor' ? 'edit' : 'read'}`
}
</script>

<template>
  <div class="page">
    <h1>Courses</h1>
    <ErrorState v-if="error" :error="error" />
    <p v-else-if="isPending" class="faint">Loading…</p>
    <ul v-else>
      <li v-for="course in courses" :key="course.id">
        <RouterLink :to="{ name: 'sources', params: { course: course.id } }">{{ course.name }}</RouterLink>
        <span class="soft standing">{{ standing(course) }}</span>
      </li>
      <li v-if="!courses?.length" class="soft">You have no course yet. Name the first one below.</li>
    </ul>
    <form class="row" @submit.prevent="name.trim() && create.mutate()">
      <ElInput v-model="name" class="name" aria-label="Name of a new course" placeholder="Name of a new course" />
      <ElButton native-type="submit" :disabled="!name.trim()">Make the course</ElButton>
    </form>
    <p class="saved">
      <button type="button" class="link-button" :disabled="open.isPending.value" @click="fileField?.click()">
        Open a saved course
      </button>
      <span class="soft"> as a new one, with all that it holds</span>
      <input
        ref="fileField"
        class="visually-hidden"
        type="file"
        accept=".zip"
        tabindex="-1"
        aria-label="Saved course"
        @change="picked"
      />
    </p>
    <p v-if="problem" class="signal" role="alert">{{ problem }}</p>
    <p v-for="job in opening" :key="job.id" class="soft" role="status">
      {{ job.label }}<template v-if="job.done">: {{ job.done }} items so far</template>…
    </p>
    <p v-for="job in failed" :key="job.id" class="signal" role="alert">
      <strong>{{ job.label }} failed.</strong> {{ job.problem?.fact }} {{ job.problem?.way_out }}
      <button type="button" class="link-button" @click="retry.mutate(job.id)">Start again</button>
      <button type="button" class="link-button" @click="seen.mutate(job.id)">Remove this message</button>
    </p>
    <section v-if="deleted?.length">
      <h2>Deleted</h2>
      <ul class="deleted">
        <li v-for="course in deleted" :key="course.id">
          {{ course.name }} <span class="soft standing">kept until {{ day(course.until) }}</span>
          <button type="button" class="link-button" @click="bringBack.mutate(course.id)">Bring it back</button>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.page {
  max-width: 620px;
  margin: 56px auto;
  padding: 0 24px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 20px 0;
}

li {
  display: flex;
  align-items: baseline;
  gap: 14px;
  padding: 10px 0;
  border-bottom: 1px solid var(--rog-rule);
  font: 18px var(--rog-serif);
}

.deleted li {
  font-size: 15px;
}

.standing {
  flex: 1;
  font: 13px var(--rog-sans);
}

.link-button {
  font: 14px var(--rog-sans);
}

.name {
  width: 300px;
}

.saved {
  margin: 16px 0 0;
}

.signal {
  color: var(--rog-signal);
}

section {
  margin-top: 36px;
}
</style>
