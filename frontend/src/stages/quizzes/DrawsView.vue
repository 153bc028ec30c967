<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'

import { client, ok } from '@/api/client'
import ErrorState from '@/ui/ErrorState.vue'
import RichText from '@/ui/RichText.vue'
import { useCourse } from '@/ui/useCourse'
import { items } from '@/ui/words'

import type { Quiz } from './useQuiz'

/** What each of several students would get, and what each two of them share. */
const props = defineProps<{ quiz: Quiz }>()
const course = useCourse()
const students = ref<number | undefined>(8)
const seed = ref('')
const count = refDebounced(
  computed(() => Math.min(200, Math.max(2, students.value ?? 8))),
  250,
)
const { data: found, error } = useQuery(
  computed(() => ({
    queryKey: ['course', course.value, 'quiz', props.quiz.id, 'draws', count.value, seed.value],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ok(
        client.POST('/api/quizzes/{quiz_id}/draws-of-many', {
          params: { path: { quiz_id: props.quiz.id } },
          body: { students: count.value, seed: seed.value },
        }),
      ),
  })),
)
const again = () => (seed.value = Math.random().toString(16).slice(2, 10))
const drawn = computed(() => found.value?.items ?? [])
const shared = computed(() => new Map(found.value?.shared.map((pair) => [`${pair.one} ${pair.other}`, pair.items])))
const common = (one: number, other: number) => shared.value.get(`${Math.min(one, other)} ${Math.max(one, other)}`) ?? 0
const most = computed(() => Math.max(0, ...shared.value.values()))
const pairs = computed(() => [...(found.value?.shared ?? [])].sort((a, b) => b.items - a.items).slice(0, 30))
const average = computed(() => {
  const all = [...shared.value.values()]
  return all.length ? all.reduce((sum, count) => sum + count, 0) / all.length : 0
})
const MATRIX = 20
const open = ref(1)
const given = computed(() => drawn.value[open.value - 1] ?? [])
const numbers = computed(() => drawn.value.map((_, n) => n + 1))
</script>

<template>
  <div class="with-aside">
    <section aria-label="Draws of a class">
      <form class="row" @submit.prevent="again">
        <label class="row"
          >Draws of
          <ElInputNumber
            v-model="students"
            :min="2"
            :max="200"
            :controls="false"
            class="narrow"
            aria-label="How many students"
          />
          students</label
        >
        <ElButton native-type="submit">Draw again</ElButton>
        <span v-if="found" class="soft">Two share {{ average.toFixed(1) }} on average, {{ most }} at most.</span>
      </form>
      <ErrorState v-if="error" :error="error" />
      <p v-else-if="!found" class="faint">Drawing…</p>
      <template v-else>
        <table v-if="drawn.length <= MATRIX" class="matrix">
          <caption>
            Items that two students share
          </caption>
          <thead>
            <tr>
              <td />
              <th v-for="n in numbers" :key="n" scope="col">{{ n }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in numbers" :key="a">
              <th scope="row">
                <button type="button" class="link-button" :aria-label="`Draw of student ${a}`" @click="open = a">
                  {{ a }}
                </button>
              </th>
              <td
                v-for="b in numbers"
                :key="b"
                :class="{ self: a === b, most: a !== b && most > 0 && common(a, b) === most }"
              >
                {{ a === b ? '' : common(a, b) }}
              </td>
            </tr>
          </tbody>
        </table>
        <template v-else>
          <h3>The pairs that share the most</h3>
          <ul>
            <li v-for="pair in pairs" :key="`${pair.one} ${pair.other}`">
              Students
              <button type="button" class="link-button" @click="open = pair.one">{{ pair.one }}</button> and
              <button type="button" class="link-button" @click="open = pair.other">{{ pair.other }}</button>:
              {{ items(pair.items) }}
            </li>
          </ul>
        </template>
      </template>
    </section>
    <aside aria-label="One draw">
      <h2>Student {{ open }} gets</h2>
      <ol>
        <li v-for="key in given" :key="key">
          <RouterLink :to="{ name: 'item', params: { course, item: key } }"
            ><RichText inline :content="found?.texts[key] || 'no stem'"
          /></RouterLink>
        </li>
      </ol>
    </aside>
  </div>
</template>

<style scoped>
form {
  gap: 14px;
}

.narrow {
  width: 62px;
}

.matrix {
  margin-top: 16px;
}

caption {
  text-align: left;
  color: var(--rog-ink-soft);
  padding-bottom: 6px;
}

.matrix th,
.matrix td {
  width: 34px;
  height: 30px;
  text-align: center;
  font-variant-numeric: tabular-nums;
}

.matrix tbody td {
  border: 1px solid var(--rog-rule);
}

.matrix th {
  font-weight: 400;
  color: var(--rog-ink-soft);
}

.self {
  background: var(--rog-well);
}

.most {
  background: var(--rog-signal-ground);
  color: var(--rog-signal);
  font-weight: 600;
}

ul {
  list-style: none;
  padding: 0;
}

aside ol {
  padding-left: 24px;
  font-family: var(--rog-serif);
}

aside li {
  padding: 3px 0;
}

aside a {
  text-decoration: none;
}
</style>
