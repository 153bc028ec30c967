<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import ErrorState from '@/ui/ErrorState.vue'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'

import StartPage from './StartPage.vue'
import StudentPage from './StudentPage.vue'
import StudentReview from './StudentReview.vue'
import { useTrial } from './useTrial'

/** A quiz as one of its students meets it. Above the page: as whom, and at what time it is tried. */
const course = useCourse()
const route = useRoute()
const router = useRouter()
const id = Number(route.params.quiz)
const attempt = computed(() => (typeof route.query.attempt === 'string' ? Number(route.query.attempt) : undefined))
const work = useTrial(id)
const { trial, problem } = work
onMounted(() => work.load.mutate(true))

const CLOCKS = {
  now: 'now',
  'before opening': 'before it opens',
  open: 'while it is open',
  late: 'after it is due',
  'after the last attempt': 'after the last attempt',
  'after closing': 'after it closes',
} as const
const clock = ref<keyof typeof CLOCKS>('now')
const who = computed(() =>
  trial.value?.student ? `student ${trial.value.student}` : `section ${trial.value?.section ?? ''}`,
)

const set = (change: { section?: string; student?: string; anew?: boolean } = {}) =>
  work.setUp.mutate({ ...change, clock: clock.value })
function as(value: string): void {
  const [kind, ...name] = value.split(' ')
  set(kind === 'student' ? { student: name.join(' '), section: '' } : { section: name.join(' '), student: '' })
}
function look(number: number | undefined): void {
  void router.push({ query: number ? { attempt: number } : {} })
}
watch(
  () => trial.value?.sitting?.number,
  (number) => number && attempt.value && look(undefined),
)
useShortcuts([{ keys: 'D', label: 'Draw again', group: 'Trying a quiz', run: () => void work.drawAgain() }])
</script>

<template>
  <div class="try">
    <aside class="trial" aria-label="The trial">
      <RouterLink :to="{ name: 'quiz', params: { course, quiz: id } }">← Back to the quiz</RouterLink>
      <template v-if="trial">
        <label
          >You try it as
          <select :value="who" @change="as(($event.target as HTMLSelectElement).value)">
            <option value="section ">a student</option>
            <option v-for="name in trial.sections" :key="name" :value="`section ${name}`">
              a student of {{ name }}
            </option>
            <option v-for="name in trial.students" :key="name" :value="`student ${name}`">
              {{ name }}, an exception
            </option>
          </select></label
        >
        <label
          >with the clock
          <select v-model="clock" @change="set()">
            <option v-for="(words, value) in CLOCKS" :key="value" :value="value">{{ words }}</option>
          </select></label
        >
        <button v-if="trial.sitting" type="button" class="link-button" @click="work.drawAgain">
          Draw again <kbd>D</kbd>
        </button>
        <span v-if="trial.sitting" class="soft">draw {{ trial.sitting.seed }}</span>
        <button type="button" class="link-button" @click="set({ anew: true })">Start anew</button>
      </template>
    </aside>
    <div class="paper">
      <p v-if="problem && trial" class="problem" role="alert">{{ problem.message }}</p>
      <ErrorState v-if="problem && !trial" :error="problem">
        <RouterLink :to="{ name: 'quiz', params: { course, quiz: id } }">Back to the quiz</RouterLink>
      </ErrorState>
      <p v-else-if="!trial" class="faint">Opening…</p>
      <StudentPage v-else-if="trial.sitting" :trial="trial" :sitting="trial.sitting" :work="work" />
      <StudentReview
        v-else-if="attempt && trial.scores.some(({ number }) => number === attempt)"
        :key="`${attempt} ${trial.now}`"
        :trial="trial"
        :quiz="id"
        :attempt="attempt"
        @back="look(undefined)"
      />
      <StartPage v-else :trial="trial" :work="work" @look="look" />
    </div>
  </div>
</template>

<style scoped>
.try {
  min-height: 100%;
  background: var(--rog-sheet);
}

.trial {
  position: sticky;
  top: 0;
  z-index: 2;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  align-items: center;
  padding: 7px 18px;
  font-size: 13px;
  background: var(--rog-aside-ground);
  color: var(--rog-ink);
}

.trial select {
  max-width: 62vw;
}

.paper {
  max-width: 780px;
  margin: 0 auto;
  padding: 22px clamp(14px, 4vw, 32px) 60px;
}

.problem {
  padding: 8px 12px;
  color: var(--rog-signal);
  background: var(--rog-signal-ground);
}
</style>
