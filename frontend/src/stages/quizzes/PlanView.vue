<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { poolsQuery, quizzesQuery } from '@/api/queries'
import { flat, treeOf } from '@/stages/pools/usePools'
import ErrorState from '@/ui/ErrorState.vue'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items } from '@/ui/words'

import ConditionFields from './ConditionFields.vue'
import type { Condition, Quiz, QuizWork } from './useQuiz'

/** A plan: where items come from and how many of each kind; what of it can be met is told while it is typed. */
const props = defineProps<{ quiz: Quiz; work: QuizWork }>()
const course = useCourse()
const router = useRouter()
const { mayEdit } = useRole(course)
const { data: pools } = useQuery(computed(() => poolsQuery(course.value)))
const { data: quizzes } = useQuery(computed(() => quizzesQuery(course.value)))
const choices = computed(() => flat(treeOf(pools.value ?? [])))
const others = computed(() => (quizzes.value ?? []).filter(({ id }) => id !== props.quiz.id))

interface Row {
  pool: number | null
  pick: number
  alone: boolean
  where: Condition[]
}
const WHOLE = 0
const rows = ref<Row[]>(
  (props.quiz.plan?.rows ?? []).map(({ pool, pick, alone, where }) => ({ pool, pick, alone, where })),
)
const asDraws = ref(props.quiz.plan?.as_draws ?? false)
const apart = ref<number[]>(props.quiz.plan?.apart_from ?? [])
const seed = ref(props.quiz.plan?.seed ?? '')

const body = computed<Schemas['PlanIn']>(() => ({
  rows: rows.value.map((row) => ({
    ...row,
    pool: row.pool || null,
    where: row.where.filter(({ values }) => values.length),
  })),
  as_draws: asDraws.value,
  apart_from: apart.value,
  seed: seed.value,
}))
const asked = refDebounced(body, 250)
const { data: look, error } = useQuery(
  computed(() => ({
    queryKey: ['course', course.value, 'quiz', props.quiz.id, 'plan', asked.value],
    enabled: asked.value.rows.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      ok(
        client.POST('/api/quizzes/{quiz_id}/plan/look', {
          params: { path: { quiz_id: props.quiz.id } },
          body: asked.value,
        }),
      ),
  })),
)
const total = computed(() => rows.value.reduce((sum, row) => sum + row.pick, 0))

// A total over pools

const whole = ref<number | undefined>(24)
const over = ref<number[]>([])
const equally = ref(false)
const weigh = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/quizzes/{quiz_id}/plan/share', {
        params: { path: { quiz_id: props.quiz.id } },
        body: { total: whole.value ?? 1, pools: over.value, equally: equally.value },
      }),
    ),
  onSuccess: (found) => {
    rows.value = found.rows.map(({ pool, pick, alone, where }) => ({ pool, pick, alone, where }))
  },
  onError: sayProblem,
})

async function apply(): Promise<void> {
  const picked = look.value?.gets ?? 0
  await props.work.applyPlan.mutateAsync(body.value)
  say(asDraws.value ? `Made draws of ${items(picked)}.` : `Picked ${items(picked)}.`)
  await router.push({ name: 'quiz', params: { course: course.value, quiz: props.quiz.id } })
}
const again = () => (seed.value = Math.random().toString(16).slice(2, 10))
const made = computed(() => props.quiz.parts.filter((part) => part.picked_from).length)
const picks = (n: number) => look.value?.rows[n]
</script>

<template>
  <div class="with-aside">
    <section aria-label="The plan">
      <form class="row weigh" aria-label="A total over pools" @submit.prevent="over.length && weigh.mutate()">
        <span>Share</span>
        <ElInputNumber
          v-model="whole"
          :min="1"
          :max="10000"
          :controls="false"
          class="narrow"
          aria-label="Total of items"
        />
        <span>items out over</span>
        <ElSelect
          v-model="over"
          multiple
          filterable
          collapse-tags
          :max-collapse-tags="2"
          placeholder="pools"
          class="over"
          aria-label="Pools to share items out over"
        >
          <ElOption v-for="entry in choices" :key="entry.id" :value="entry.id" :label="entry.path" />
        </ElSelect>
        <select v-model="equally" aria-label="How to share items out">
          <option :value="false">by what they hold</option>
          <option :value="true">the same of each</option>
        </select>
        <ElButton native-type="submit" :disabled="!over.length || !mayEdit" :loading="weigh.isPending.value"
          >Make rows of it</ElButton
        >
      </form>

      <p v-if="!rows.length" class="soft none">
        A plan says where the items of the quiz come from, and how many of each kind. Share a total out over pools, or
        add rows one by one; nothing changes in the quiz before you pick.
      </p>
      <table v-else>
        <thead>
          <tr>
            <th class="count">How many</th>
            <th>from</th>
            <th>which</th>
            <th class="number">there are</th>
            <th class="number">gets</th>
            <th><span class="visually-hidden">Tools</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(row, n) in rows" :key="n">
            <tr :class="{ short: picks(n)?.problem }">
              <td class="count">
                <ElInputNumber
                  v-model="row.pick"
                  :min="1"
                  :max="10000"
                  :controls="false"
                  class="narrow"
                  :disabled="!mayEdit"
                  :aria-label="`How many of row ${n + 1}`"
                />
              </td>
              <td>
                <ElSelect
                  :model-value="row.pool ?? WHOLE"
                  filterable
                  class="pool"
                  :disabled="!mayEdit"
                  :aria-label="`Pool of row ${n + 1}`"
                  @update:model-value="(pool: number) => (row.pool = pool || null)"
                >
                  <ElOption :value="WHOLE" label="the whole course" />
                  <ElOption v-for="entry in choices" :key="entry.id" :value="entry.id" :label="entry.path" />
                </ElSelect>
              </td>
              <td><ConditionFields v-model="row.where" :course="course" :pool="row.pool" :label="`row ${n + 1}`" /></td>
              <td class="number">
                {{ picks(n)?.holds }}<span v-if="picks(n)?.apart" class="faint"> – {{ picks(n)?.apart }}</span>
              </td>
              <td class="number gets">{{ picks(n)?.gets }}</td>
              <td>
                <button
                  v-if="mayEdit"
                  type="button"
                  class="link-button faint"
                  :aria-label="`Drop row ${n + 1}`"
                  @click="rows.splice(n, 1)"
                >
                  ×
                </button>
              </td>
            </tr>
            <tr v-if="picks(n)?.problem" class="problem">
              <td />
              <td colspan="5">{{ picks(n)?.problem }}</td>
            </tr>
          </template>
        </tbody>
        <tfoot>
          <tr>
            <td class="count number">{{ total }}</td>
            <td colspan="3">{{ look?.told }}</td>
            <td class="number gets">{{ look?.gets }}</td>
            <td />
          </tr>
        </tfoot>
      </table>
      <ElButton v-if="mayEdit" @click="rows.push({ pool: null, pick: 1, alone: false, where: [] })">Add a row</ElButton>
      <ErrorState v-if="error" :error="error" />
    </section>
    <aside v-if="mayEdit" aria-label="How it is picked">
      <h2>How it is picked</h2>
      <p>
        <label class="choice"
          ><input v-model="asDraws" type="radio" :value="false" name="as" /> The same items for everyone</label
        >
        <label class="choice"
          ><input v-model="asDraws" type="radio" :value="true" name="as" /> Draws, anew for each student</label
        >
      </p>
      <label for="apart">No item of</label>
      <ElSelect
        id="apart"
        v-model="apart"
        multiple
        filterable
        placeholder="any quiz may share items"
        aria-label="No item of these quizzes"
      >
        <ElOption v-for="other in others" :key="other.id" :value="other.id" :label="other.title" />
      </ElSelect>
      <p class="soft note">
        Items that fewer quizzes use come first; among these the seed decides, so that the same plan picks the same.
      </p>
      <form class="row" @submit.prevent>
        <label for="seed">Seed</label>
        <ElInput id="seed" v-model="seed" class="seed" placeholder="made when picked" />
        <button type="button" class="link-button" @click="again">another</button>
      </form>
      <ElButton
        type="primary"
        class="pick"
        :disabled="!rows.length || !look?.gets"
        :loading="work.applyPlan.isPending.value"
        @click="apply"
        >{{ asDraws ? `Make draws of ${items(look?.gets ?? 0)}` : `Pick ${items(look?.gets ?? 0)}` }}</ElButton
      >
      <p v-if="made" class="soft note">
        {{ made }} {{ made === 1 ? 'part' : 'parts' }} that the plan made before
        {{ made === 1 ? 'is' : 'are' }} replaced; what was put in by hand stays.
      </p>
    </aside>
  </div>
</template>

<style scoped>
.weigh {
  padding-bottom: 14px;
  border-bottom: 1px solid var(--rog-rule);
}

.none {
  max-width: 64ch;
  margin: 18px 0;
}

.narrow {
  width: 62px;
}

.over {
  width: 300px;
}

.pool {
  width: 220px;
}

table {
  width: 100%;
  margin: 12px 0;
}

th {
  font-weight: 400;
  color: var(--rog-ink-soft);
  text-align: left;
  padding: 4px 10px 4px 0;
}

td {
  padding: 7px 10px 7px 0;
  border-top: 1px solid var(--rog-rule);
  vertical-align: middle;
}

th.number {
  text-align: right;
}

.gets {
  font-weight: 600;
}

.short .gets,
.problem td {
  color: var(--rog-signal);
}

.problem td {
  border: 0;
  padding-top: 0;
}

tfoot td {
  border-top: 2px solid var(--rog-ink);
  font-weight: 600;
}

tfoot .count {
  text-align: left;
}

.choice {
  display: flex;
  gap: 8px;
  padding: 3px 0;
}

.note {
  margin: 10px 0;
  font-size: 13px;
}

.seed {
  width: 140px;
}

.pick {
  margin-top: 16px;
  width: 100%;
}
</style>
