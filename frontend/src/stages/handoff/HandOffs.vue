<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { handoffsQuery, jobsQuery, poolsQuery, quizzesQuery, receiversQuery } from '@/api/queries'
import { useHandingOn } from '@/ui/handingOn'
import { useRemembered } from '@/ui/remembered'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items } from '@/ui/words'

import AsFile from './AsFile.vue'
import History from './History.vue'
import SideBySide from './SideBySide.vue'
import { codesOf, scopeOf } from './scopes'
import { useForecast, type Line } from './useForecast'

const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { data: pools } = useQuery(computed(() => poolsQuery(course.value)))
const { data: quizzes } = useQuery(computed(() => quizzesQuery(course.value)))
const { data: handoffs } = useQuery(computed(() => handoffsQuery(course.value)))
const { data: jobs } = useQuery(computed(() => jobsQuery(course.value)))
const { data: receivers } = useQuery(receiversQuery())
const { mayEdit, course: summary } = useRole(course)
const handing = useHandingOn()
/** What was selected in the pools of this course to be handed on. */
const selected = computed(() => (handing.value?.course === course.value ? handing.value : undefined))
const codes = ref(codesOf(route.query, Boolean(selected.value)))
/** What is picked beside all of the course takes its place, and the other way round. */
const picked = computed({
  get: () => codes.value,
  set: (now: string[]) => {
    const [added] = now.filter((code) => !codes.value.includes(code))
    const fitting = added === 'all' ? ['all'] : now.filter((code) => code !== 'all' || !added)
    codes.value = fitting.length ? fitting : ['all']
  },
})
const scopes = computed(() => codes.value.map((code) => scopeOf(code, selected.value?.selection)))
const keys = computed(() => (mayEdit.value ? (receivers.value ?? []).map((receiver) => receiver.key) : []))
const { lineOf, items: count, asking, failed, ask } = useForecast(course, scopes, keys)
const chosen = useRemembered<string[]>('receivers', [])
const here = computed(() => chosen.value.filter((key) => keys.value.includes(key)))
const sections = ref<string[]>([])
const ofCourse = computed(() => summary.value?.sections ?? [])
const hasQuiz = computed(() => codes.value.some((code) => code.startsWith('quiz')))
const started = ref('')
/** Stays open when what is above is drawn anew. */
const asFile = ref(false)

watch(codes, (now) => void router.replace({ query: { what: now.join(' ') } }))

const linkTo = (line: Line) =>
  codes.value.length === 1
    ? { name: 'forecast', params: { course: course.value }, query: { what: codes.value[0], receiver: line.key } }
    : undefined

const handOn = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/hand-on', {
        params: { path: { course_id: course.value } },
        body: {
          what: scopes.value,
          receivers: here.value.map((receiver) => ({ receiver, format: '' })),
          sections: hasQuiz.value ? sections.value : [],
        },
      }),
    ),
  onSuccess: (job) => {
    started.value = job.id
    void queries.invalidateQueries({ queryKey: ['course', course.value, 'jobs'] })
  },
  onError: sayProblem,
})
watch(jobs, (now) => {
  const job = now?.find((entry) => entry.id === started.value)
  if (job?.state === 'failed') started.value = ''
  if (job?.state !== 'done') return
  started.value = ''
  const made = (job.result?.handoffs ?? []) as number[]
  void queries.invalidateQueries({ queryKey: ['course', course.value, 'handoffs'] })
  if (made.length === 1) void router.push({ name: 'ledger', params: { course: course.value, handoff: made[0] } })
  else say(`${made.length} hand-offs are ready below, each in a folder of its own.`)
})
const fresh = computed(() => (jobs.value ?? []).find((job) => job.work === 'hand-on' && job.state === 'done')?.id)
</script>

<template>
  <div class="page">
    <div class="row spread">
      <h1>Hand on</h1>
      <RouterLink :to="{ name: 'receivers', params: { course } }">Receivers: what each does, and your own</RouterLink>
    </div>
    <p v-if="!mayEdit" class="soft">
      You read this course: copy what you need into one of yours, and hand it on there.
    </p>
    <template v-else>
      <form class="what" @submit.prevent="handOn.mutate()">
        <label for="scope">What</label>
        <ElSelect id="scope" v-model="picked" multiple filterable aria-label="What to hand on" class="scopes">
          <ElOption v-if="selected" value="selected" :label="`Selected: ${selected.said}`" />
          <ElOption value="all" label="All items of the course" />
          <ElOption
            v-for="quiz in quizzes"
            :key="`quiz-${quiz.id}`"
            :value="`quiz-${quiz.id}`"
            :label="`Quiz: ${quiz.title}`"
          />
          <ElOption
            v-for="pool in pools"
            :key="`pool-${pool.id}`"
            :value="`pool-${pool.id}`"
            :label="`Pool: ${pool.name}`"
          />
        </ElSelect>
        <span class="soft count">{{ count === undefined ? '' : items(count) }}</span>
        <template v-if="hasQuiz && ofCourse.length">
          <label for="sections">For</label>
          <ElSelect
            id="sections"
            v-model="sections"
            multiple
            placeholder="all sections, with the dates of each"
            aria-label="For which sections"
          >
            <ElOption v-for="section in ofCourse" :key="section.name" :value="section.name" :label="section.name" />
          </ElSelect>
          <span class="soft count">{{ sections.length ? 'one file for each' : '' }}</span>
        </template>
      </form>
      <p v-if="failed" class="soft" role="alert">
        The forecast did not come. <button type="button" class="link-button" @click="ask">Ask again</button>
      </p>
      <SideBySide v-model="chosen" :receivers="receivers ?? []" :line-of="lineOf" :link-to="linkTo" />
      <div class="row go">
        <ElButton
          type="primary"
          :disabled="!here.length || count === 0"
          :loading="handOn.isPending.value || Boolean(started)"
          @click="handOn.mutate()"
        >
          {{ here.length > 1 ? `Hand on to these ${here.length} receivers` : 'Hand on to this receiver' }}
        </ElButton>
        <span class="soft">{{
          here.length
            ? 'A folder for each: the file, read back and compared, and what to do there.'
            : 'Tick the receivers that it is for.'
        }}</span>
        <span v-if="asking" class="faint" role="status">asking…</span>
      </div>
      <details class="file" :open="asFile" @toggle="asFile = ($event.target as HTMLDetailsElement).open">
        <summary>As a file of one format, whoever it is for</summary>
        <AsFile :what="scopes[0]!" />
      </details>
    </template>
    <History :course="course" :handoffs="handoffs ?? []" :loaded="Boolean(handoffs)" :fresh="fresh" />
  </div>
</template>

<style scoped>
.page {
  padding: 20px 24px;
  max-width: 1240px;
}

.what {
  display: grid;
  grid-template-columns: 44px minmax(0, 560px) auto;
  gap: 8px 10px;
  align-items: center;
  margin: 10px 0 14px;
}

.what label {
  font-weight: 500;
}

.go {
  position: sticky;
  bottom: 0;
  z-index: 2;
  gap: 14px;
  margin: 0 0 18px;
  padding: 10px 0;
  align-items: center;
  background: var(--rog-paper);
}

.file {
  margin-bottom: 26px;
}

.file summary {
  cursor: pointer;
  color: var(--rog-ink-soft);
}
</style>
