<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import ConflictNotice from '@/ui/ConflictNotice.vue'
import ErrorState from '@/ui/ErrorState.vue'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import CarryDialog from './CarryDialog.vue'
import DrawsView from './DrawsView.vue'
import PartsView from './PartsView.vue'
import PlanView from './PlanView.vue'
import SettingsView from './SettingsView.vue'
import { useQuiz } from './useQuiz'

/** A quiz: its parts with what they add up to, its plan, its settings with what they mean, and the draws of a class. */
const course = useCourse()
const { mayEdit } = useRole(course)
const route = useRoute()
const router = useRouter()
const id = Number(route.params.quiz)
const work = useQuiz(course.value, id)
const { quiz, error, conflict, mine } = work
const view = computed(() => String(route.meta.view ?? 'parts'))
const carrying = ref(false)
const title = ref<string>()
const VIEWS = [
  { view: 'parts', name: 'quiz', words: 'Parts', keys: '1' },
  { view: 'plan', name: 'quiz-plan', words: 'Plan', keys: '2' },
  { view: 'settings', name: 'quiz-settings', words: 'Settings', keys: '3' },
  { view: 'draws', name: 'quiz-draws', words: 'Draws', keys: '4' },
] as const
const place = computed(() => ({ course: course.value, quiz: id }))

function retitle(): void {
  const wanted = title.value?.trim()
  title.value = undefined
  if (wanted && wanted !== quiz.value?.title) work.change.mutate({ title: wanted })
}
const tryIt = () => void router.push({ name: 'try', params: place.value })
useShortcuts([
  { keys: 'y', label: 'Try the quiz as a student', group: 'Quizzes', run: tryIt },
  ...VIEWS.map(({ name, words, keys }) => ({
    keys,
    label: `${words} of the quiz`,
    group: 'Quizzes',
    run: () => void router.push({ name, params: place.value }),
  })),
])
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!quiz" class="faint loading">Loading…</p>
  <div v-else class="quiz">
    <header>
      <div class="row spread">
        <form v-if="title !== undefined" class="title" @submit.prevent="retitle">
          <ElInput v-model="title" aria-label="Title of the quiz" autofocus @blur="retitle" />
        </form>
        <h1 v-else>
          <button
            v-if="mayEdit"
            type="button"
            class="plain-button"
            title="Call it otherwise"
            @click="title = quiz.title"
          >
            {{ quiz.title }}
          </button>
          <template v-else>{{ quiz.title }}</template>
        </h1>
        <div class="row tools">
          <button v-if="mayEdit" type="button" class="link-button" @click="carrying = true">Carry it on</button>
          <RouterLink v-if="mayEdit" :to="{ name: 'hand-off', params: { course }, query: { quiz: quiz.id } }"
            >Hand it on</RouterLink
          >
          <button v-if="mayEdit" type="button" class="link-button" @click="work.remove.mutate()">Delete</button>
          <ElButton :type="view === 'plan' ? 'default' : 'primary'" :disabled="!quiz.figures.items" @click="tryIt"
            >Try it as a student <kbd>y</kbd></ElButton
          >
        </div>
      </div>
      <nav aria-label="Views of the quiz">
        <RouterLink
          v-for="entry in VIEWS"
          :key="entry.view"
          :to="{ name: entry.name, params: place }"
          :class="{ here: entry.view === view }"
          :aria-current="entry.view === view ? 'page' : undefined"
          >{{ entry.words }}
          <span v-if="entry.view === 'settings' && quiz.doubts.length" class="doubts">{{ quiz.doubts.length }}</span>
        </RouterLink>
      </nav>
      <ConflictNotice
        v-if="conflict.clash.value"
        :clash="conflict.clash.value"
        :mine="mine"
        @keep="() => work.saved()"
      />
    </header>
    <PartsView v-if="view === 'parts'" :quiz="quiz" :work="work" />
    <PlanView v-else-if="view === 'plan'" :key="quiz.id" :quiz="quiz" :work="work" />
    <SettingsView v-else-if="view === 'settings'" :quiz="quiz" :work="work" />
    <DrawsView v-else :quiz="quiz" />
    <CarryDialog v-model="carrying" :quizzes="[quiz]" />
  </div>
</template>

<style scoped>
.loading {
  padding: 24px;
}

.quiz {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
}

header {
  padding: 16px 24px 0;
  border-bottom: 1px solid var(--rog-rule-strong);
}

h1 .plain-button {
  font: inherit;
}

.title {
  width: min(560px, 100%);
}

.tools {
  gap: 16px;
}

nav {
  display: flex;
  gap: 26px;
  margin-top: 10px;
}

nav a {
  padding: 4px 0 7px;
  text-decoration: none;
  color: var(--rog-ink-soft);
  border-bottom: 3px solid transparent;
}

nav a.here {
  color: var(--rog-ink);
  font-weight: 600;
  border-color: var(--rog-ink);
}

.doubts {
  margin-left: 4px;
  padding: 0 6px;
  color: var(--rog-signal);
  background: var(--rog-signal-ground);
  font-weight: 600;
}
</style>
