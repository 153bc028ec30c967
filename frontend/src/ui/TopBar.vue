<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { courseQuery, coursesQuery, sessionQuery } from '@/api/queries'

import Palette from './Palette.vue'
import PasswordDialog from './PasswordDialog.vue'
import { useShortcuts } from './shortcuts'
import { nextTheme, theme } from './theme'
import { zone } from './words'

const changing = ref(false)
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const course = computed(() => Number(route.params.course ?? 0))
const { data: session } = useQuery(sessionQuery())
const { data: courses } = useQuery(coursesQuery())
const mine = computed(() => courses.value?.find((entry) => entry.id === course.value))
const { data: summary } = useQuery(computed(() => ({ ...courseQuery(course.value), enabled: course.value > 0 })))
watch(
  () => (course.value ? summary.value?.time_zone : undefined),
  (now) => (zone.value = now),
  { immediate: true },
)

const stages = computed(() => {
  const waiting = summary.value?.waiting
  return [
    { name: 'sources', label: 'Sources', count: waiting?.sources, keys: 'g s', flagged: 0 },
    { name: 'check', label: 'Check', count: waiting?.check, keys: 'g c', flagged: waiting?.flagged ?? 0 },
    { name: 'pools', label: 'Pools', count: waiting?.pools, keys: 'g p', flagged: 0 },
    { name: 'quizzes', label: 'Quizzes', count: waiting?.quizzes, keys: 'g q', flagged: 0 },
    { name: 'hand-off', label: 'Hand-off', count: waiting?.handoffs, keys: 'g h', flagged: 0 },
  ]
})
const SUBVIEWS: Record<string, string> = {
  reading: 'check',
  quiz: 'quizzes',
  'quiz-plan': 'quizzes',
  'quiz-settings': 'quizzes',
  'quiz-draws': 'quizzes',
  ledger: 'hand-off',
  forecast: 'hand-off',
  'hand-offs-compared': 'hand-off',
  receivers: 'hand-off',
  comparison: 'sources',
  offer: 'sources',
  sorting: 'pools',
  alike: 'pools',
  item: 'pools',
}
const current = computed(() => SUBVIEWS[String(route.name)] ?? String(route.name))

useShortcuts([
  {
    keys: 'g o',
    label: 'Go to people, saving, deleted',
    group: 'Everywhere',
    run: () => course.value && void router.push({ name: 'course', params: { course: course.value } }),
  },
  ...stages.value.map((stage) => ({
    keys: stage.keys,
    label: `Go to ${stage.label}`,
    group: 'Everywhere',
    run: () => course.value && void router.push({ name: stage.name, params: { course: course.value } }),
  })),
])

async function signOut(): Promise<void> {
  await ok(client.DELETE('/api/session'))
  queries.clear()
  await router.push({ name: 'sign-in' })
  window.location.reload()
}
</script>

<template>
  <header class="top">
    <RouterLink class="wordmark" :to="{ name: 'courses' }">Rogatum</RouterLink>
    <ElSelect
      v-if="course"
      class="course"
      :model-value="course"
      aria-label="Course"
      @update:model-value="(id: number) => router.push({ name: 'sources', params: { course: id } })"
    >
      <ElOption v-for="entry in courses" :key="entry.id" :value="entry.id" :label="entry.name">
        {{ entry.name }}<span v-if="entry.role !== 'owner'" class="faint"> · {{ entry.owner }}’s</span>
      </ElOption>
    </ElSelect>
    <RouterLink
      v-if="course && mine && mine.role !== 'owner'"
      class="whose"
      :to="{ name: 'course', params: { course } }"
      >{{ mine.owner }}’s · you {{ mine.role === 'editor' ? 'edit' : 'read' }}</RouterLink
    >
    <nav v-if="course" class="line" aria-label="Stages of the work">
      <RouterLink
        v-for="stage in stages"
        :key="stage.name"
        :to="{ name: stage.name, params: { course } }"
        :class="{ here: current === stage.name }"
        :aria-current="current === stage.name ? 'page' : undefined"
        :title="`${stage.label} (${stage.keys})`"
      >
        <span>{{ stage.label }}</span>
        <span class="count" :class="{ flagged: stage.flagged }">{{ stage.count ?? '' }}</span>
      </RouterLink>
    </nav>
    <span v-else class="line" />
    <Palette v-if="course" />
    <ElDropdown trigger="click">
      <button type="button" class="account">{{ session?.user }}<span aria-hidden="true"> ▾</span></button>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem v-if="course" @click="router.push({ name: 'course', params: { course } })"
            >People, saving, deleted</ElDropdownItem
          >
          <ElDropdownItem @click="router.push({ name: 'courses' })">All courses</ElDropdownItem>
          <ElDropdownItem @click="nextTheme">Light and dark: {{ theme }}</ElDropdownItem>
          <ElDropdownItem @click="changing = true">Change the password</ElDropdownItem>
          <ElDropdownItem divided @click="signOut">Sign out</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
    <PasswordDialog v-if="changing" v-model="changing" />
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 18px;
  height: 50px;
  padding: 0 18px;
  border-bottom: 1px solid var(--rog-rule-strong);
  background: var(--rog-paper);
}

.wordmark {
  font: 600 19px var(--rog-serif);
  text-decoration: none;
}

.course {
  width: 190px;
}

.whose {
  font-size: 12.5px;
  white-space: nowrap;
  color: var(--rog-ink-soft);
}

.line {
  display: flex;
  flex: 1;
  align-self: stretch;
}

.line a {
  position: relative;
  display: flex;
  align-items: center;
  gap: 7px;
  padding: 0 16px;
  text-decoration: none;
  color: var(--rog-ink-soft);
}

.line a:not(:first-child)::before {
  content: '';
  position: absolute;
  left: -5px;
  width: 10px;
  border-top: 1px solid var(--rog-rule-strong);
}

.line a:hover {
  color: var(--rog-ink);
}

.line a.here {
  color: var(--rog-ink);
  font-weight: 600;
  box-shadow: inset 0 -3px 0 var(--rog-ink);
}

.count {
  font-size: 12.5px;
  font-weight: 400;
  color: var(--rog-ink-faint);
}

.count.flagged {
  color: var(--rog-signal);
  font-weight: 600;
}

.account {
  border: 0;
  background: none;
  font: inherit;
  color: var(--rog-ink-soft);
  cursor: pointer;
  padding: 4px;
}
</style>
