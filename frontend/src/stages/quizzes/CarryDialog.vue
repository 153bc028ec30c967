<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { courseQuery, coursesQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { moment, momentOf, wallOf } from '@/ui/zoned'

/** Quizzes carried on to another section, term or course, with all their dates moved. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ quizzes: { id: number; title: string; settings?: { opens?: string | null } }[] }>()
const course = useCourse()
const router = useRouter()
const queries = useQueryClient()
const { data: courses } = useQuery(coursesQuery())
const { data: detail } = useQuery(computed(() => courseQuery(course.value)))
const mine = computed(() => courses.value?.filter(({ role }) => role !== 'reader') ?? [])
const sections = computed(() => detail.value?.sections ?? [])

const where = ref<'term' | 'section'>('term')
const target = ref<number>(course.value)
const section = ref('')
const weeks = ref<number | undefined>(0)
const days = ref<number | undefined>(0)
const pools = ref<'linked' | 'copied'>('linked')
const exceptions = ref(false)
watch(open, () => {
  where.value = 'term'
  target.value = course.value
  section.value = sections.value[0]?.name ?? ''
})
const said = computed(() => (props.quizzes.length === 1 ? props.quizzes[0]?.title : `${props.quizzes.length} quizzes`))
/** The first date before and after: so many days on, at the same hour on the clocks of the course. */
const example = computed(() => {
  const opens = props.quizzes.find((quiz) => quiz.settings?.opens)?.settings?.opens
  const zone = detail.value?.time_zone
  if (!opens || !zone) return ''
  const wall = new Date(`${wallOf(opens, zone)}:00Z`)
  wall.setUTCDate(wall.getUTCDate() + (weeks.value ?? 0) * 7 + (days.value ?? 0))
  return `${moment(opens, zone)} becomes ${moment(momentOf(wall.toISOString(), zone) ?? opens, zone)}.`
})

const carry = useMutation({
  mutationFn: () => {
    const ids = props.quizzes.map(({ id }) => id)
    const moved = { quizzes: ids, weeks: weeks.value ?? 0, days: days.value ?? 0 }
    const params = { path: { course_id: course.value } }
    return where.value === 'section'
      ? ok(
          client.POST('/api/courses/{course_id}/quizzes/section', {
            params,
            body: { ...moved, section: section.value },
          }),
        )
      : ok(
          client.POST('/api/courses/{course_id}/quizzes/carry', {
            params,
            body: { ...moved, course: target.value, pools: pools.value, with_exceptions: exceptions.value },
          }),
        )
  },
  onSuccess: async (made) => {
    open.value = false
    if (!made.job) say(where.value === 'section' ? `${section.value} has its own dates.` : `Carried ${said.value} on.`)
    await queries.invalidateQueries({ queryKey: ['course', made.course] })
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
    const [only] = made.quizzes
    if (made.quizzes.length === 1 && only)
      await router.push({
        name: where.value === 'section' ? 'quiz-settings' : 'quiz',
        params: { course: made.course, quiz: only },
      })
    else await router.push({ name: 'quizzes', params: { course: made.course } })
  },
  onError: sayProblem,
})
const ready = computed(() => (where.value === 'section' ? Boolean(section.value) : Boolean(target.value)))
const act = computed(() =>
  where.value === 'section' ? `Give ${section.value || 'the section'} its dates` : `Copy ${said.value}`,
)
</script>

<template>
  <ElDialog v-model="open" :title="`Carry ${said} on`" width="560" append-to-body>
    <form class="named-form" @submit.prevent="ready && carry.mutate()">
      <span>To</span>
      <span class="row">
        <label class="row"
          ><input v-model="where" type="radio" value="term" name="where" /> a course or its next term</label
        >
        <label class="row"
          ><input v-model="where" type="radio" value="section" name="where" :disabled="!sections.length" /> another
          section</label
        >
      </span>
      <template v-if="where === 'term'">
        <label for="carry-course">Course</label>
        <select id="carry-course" v-model.number="target">
          <option v-for="entry in mine" :key="entry.id" :value="entry.id">
            {{ entry.name }}{{ entry.id === course ? ', this one' : '' }}
          </option>
        </select>
        <label for="carry-pools">Pools</label>
        <select id="carry-pools" v-model="pools">
          <option value="linked">
            {{ target === course ? 'the same ones' : 'those that are there, else copied' }}
          </option>
          <option value="copied">copied anew</option>
        </select>
      </template>
      <template v-else>
        <label for="carry-section">Section</label>
        <select id="carry-section" v-model="section">
          <option v-for="entry in sections" :key="entry.id" :value="entry.name">{{ entry.name }}</option>
        </select>
      </template>
      <span>Dates move by</span>
      <span class="row">
        <ElInputNumber v-model="weeks" :min="-520" :max="520" :controls="false" class="narrow" aria-label="Weeks" />
        weeks and
        <ElInputNumber v-model="days" :min="-366" :max="366" :controls="false" class="narrow" aria-label="Days" /> days
      </span>
      <template v-if="where === 'term'">
        <span />
        <label class="row"><input v-model="exceptions" type="checkbox" /> with the exceptions for students</label>
      </template>
    </form>
    <p class="soft note">
      Weekday and hour stay, over a change of the clocks too. <template v-if="example">{{ example }}</template>
    </p>
    <template #footer>
      <ElButton @click="open = false">Not now</ElButton>
      <ElButton type="primary" :disabled="!ready" :loading="carry.isPending.value" @click="carry.mutate()">{{
        act
      }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.narrow {
  width: 66px;
}

.row {
  gap: 12px;
}

.note {
  margin: 14px 0 0;
}
</style>
