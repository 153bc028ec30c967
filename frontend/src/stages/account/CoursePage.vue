<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { deletedQuery, peopleQuery, sessionQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { say, sayProblem, sayRest } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { day, items, when } from '@/ui/words'

import CourseTime from './CourseTime.vue'

/** The course itself: who it is shared with, the whole of it as one file, and what was deleted in it. */
const course = useCourse()
const router = useRouter()
const queries = useQueryClient()
const { course: detail, role, isOwner, mayEdit } = useRole(course)
const { data: session } = useQuery(sessionQuery())
const { data: people, error } = useQuery(computed(() => peopleQuery(course.value)))
const { data: deleted } = useQuery(computed(() => deletedQuery(course.value)))
const title = ref('')
watch(detail, (now) => now && (title.value = now.name), { immediate: true })
const who = ref('')
const as = ref<Schemas['MemberIn']['role']>('reader')
const deleting = ref(false)
const refresh = () => queries.invalidateQueries({ queryKey: ['course', course.value] })
const inCourse = () => ({ params: { path: { course_id: course.value } } })

const rename = useMutation({
  mutationFn: () => ok(client.PATCH('/api/courses/{course_id}', { ...inCourse(), body: { name: title.value } })),
  onSuccess: async () => {
    say('Renamed the course.')
    await queries.invalidateQueries({ queryKey: ['courses'] })
    await refresh()
  },
  onError: sayProblem,
})
const share = useMutation({
  mutationFn: (body: Schemas['MemberIn']) =>
    ok(client.POST('/api/courses/{course_id}/people', { ...inCourse(), body })),
  onSuccess: async (member) => {
    who.value = ''
    say(`${member.name} ${member.role === 'editor' ? 'edits' : 'reads'} the course from now on.`)
    await refresh()
  },
  onError: sayProblem,
})
const part = useMutation({
  mutationFn: (member: Schemas['MemberOut']) =>
    ok(
      client.DELETE('/api/courses/{course_id}/people/{member_id}', {
        params: { path: { course_id: course.value, member_id: member.id } },
      }),
    ),
  onSuccess: async (_done, member) => {
    if (member.name !== session.value?.user) return refresh()
    await queries.invalidateQueries({ queryKey: ['courses'] })
    return router.push({ name: 'courses' })
  },
  onError: sayProblem,
})
const bringBack = useMutation({
  mutationFn: ({ id, inPart = false }: { id: number; inPart?: boolean }) =>
    ok(
      client.POST('/api/courses/{course_id}/deleted/{operation_id}', {
        params: { path: { course_id: course.value, operation_id: id }, query: { in_part: inPart } },
      }),
    ),
  onSuccess: async ({ job }) => {
    if (!job) say('Brought back.')
    await refresh()
  },
  onError: (problem, { id }) => sayRest(problem, () => bringBack.mutate({ id, inPart: true })),
})
const remove = useMutation({
  mutationFn: () => ok(client.DELETE('/api/courses/{course_id}', inCourse())),
  onSuccess: async () => {
    deleting.value = false
    await router.push({ name: 'courses' })
    await queries.invalidateQueries({ queryKey: ['courses'] })
    await queries.invalidateQueries({ queryKey: ['deleted-courses'] })
  },
  onError: sayProblem,
})
const holds = (row: Schemas['DeletedOut']) =>
  [
    row.pools ? `${row.pools} ${row.pools === 1 ? 'pool' : 'pools'}` : '',
    row.items ? items(row.items) : '',
    row.sources ? `${row.sources} ${row.sources === 1 ? 'source' : 'sources'}` : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <div v-else-if="detail" class="page">
    <h1>{{ detail.name }}</h1>
    <form v-if="mayEdit" class="row" @submit.prevent="title.trim() && rename.mutate()">
      <ElInput v-model="title" class="wide" aria-label="Name of the course" />
      <ElButton native-type="submit" :disabled="!title.trim() || title === detail.name">Rename it</ElButton>
    </form>

    <section aria-labelledby="people">
      <h2 id="people">People</h2>
      <p class="soft">
        Editors change what lies in the course. Readers look at it and copy from it; they change nothing. Only the owner
        shares it.
      </p>
      <table>
        <tbody>
          <tr>
            <td>{{ detail.owner }}</td>
            <td>owns it</td>
            <td />
          </tr>
          <tr v-for="member in people" :key="member.id">
            <td>{{ member.name }}</td>
            <td>
              <select
                v-if="isOwner"
                :value="member.role"
                :aria-label="`What ${member.name} does`"
                @change="
                  share.mutate({
                    name: member.name,
                    role: ($event.target as HTMLSelectElement).value as Schemas['MemberIn']['role'],
                  })
                "
              >
                <option value="reader">reads it</option>
                <option value="editor">edits it</option>
              </select>
              <template v-else>{{ member.role === 'editor' ? 'edits it' : 'reads it' }}</template>
            </td>
            <td>
              <button
                v-if="isOwner || member.name === session?.user"
                type="button"
                class="link-button"
                @click="part.mutate(member)"
              >
                {{ member.name === session?.user ? 'Leave the course' : `Part with ${member.name}` }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <form v-if="isOwner" class="row" @submit.prevent="who.trim() && share.mutate({ name: who, role: as })">
        <ElInput v-model="who" class="who" aria-label="Name of an account" placeholder="Name of an account" />
        <select v-model="as" aria-label="What they do">
          <option value="reader">reads it</option>
          <option value="editor">edits it</option>
        </select>
        <ElButton type="primary" native-type="submit" :disabled="!who.trim()" :loading="share.isPending.value"
          >Share the course</ElButton
        >
      </form>
    </section>

    <CourseTime :course="course" :detail="detail" :may-edit="mayEdit" />

    <section aria-labelledby="whole">
      <h2 id="whole">The whole of it</h2>
      <p>
        <a :href="`/api/courses/${course}/saved`" download>Save the course</a>
        <span class="soft">
          as one file: pools, items with their history, passages, pictures, quizzes, outcomes.
          <em>Open a saved course</em>, among the courses, makes a new one of it.</span
        >
      </p>
    </section>

    <section aria-labelledby="deleted">
      <h2 id="deleted">Deleted</h2>
      <p v-if="!deleted?.length" class="soft">Nothing was deleted in the last 30 days.</p>
      <table v-else>
        <tbody>
          <tr v-for="row in deleted" :key="row.id">
            <td>{{ row.label }}</td>
            <td class="soft">{{ holds(row) }}</td>
            <td class="soft">{{ row.by }}, {{ when(row.created) }}, kept until {{ day(row.until) }}</td>
            <td>
              <button v-if="mayEdit" type="button" class="link-button" @click="bringBack.mutate({ id: row.id })">
                Bring it back
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="isOwner" class="end">
        <button type="button" class="link-button" @click="deleting = true">Delete the course</button>
      </p>
    </section>
    <ElDialog v-model="deleting" :title="`Delete ${detail.name}?`" width="460" append-to-body>
      <p>
        Nobody sees it any more<template v-if="people?.length">, nor do those with whom it is shared</template>. It can
        be brought back from among the courses for 30 days; then it is gone for good.
      </p>
      <template #footer>
        <ElButton @click="deleting = false">Keep it</ElButton>
        <ElButton type="primary" :loading="remove.isPending.value" @click="remove.mutate()">Delete the course</ElButton>
      </template>
    </ElDialog>
  </div>
  <p v-else class="faint wait">Loading…{{ role }}</p>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 28px 24px 60px;
}

.wait {
  padding: 24px;
}

h1 {
  margin-bottom: 12px;
}

section {
  margin-top: 30px;
}

h2 {
  margin-bottom: 4px;
}

table {
  margin: 8px 0 12px;
}

td {
  padding: 6px 22px 6px 0;
  border-bottom: 1px solid var(--rog-rule);
}

.wide {
  width: 320px;
}

.who {
  width: 210px;
}

.end {
  margin-top: 22px;
}
</style>
