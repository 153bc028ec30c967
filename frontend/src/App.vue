<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { sessionQuery, wordsQuery } from './api/queries'
import BottomBar from './ui/BottomBar.vue'
import ErrorState from './ui/ErrorState.vue'
import Shortcuts from './ui/Shortcuts.vue'
import TopBar from './ui/TopBar.vue'
import { WORDS } from './ui/words'

const route = useRoute()
const router = useRouter()
const { data: session, error } = useQuery(sessionQuery())
const signedIn = computed(() => Boolean(session.value?.user))
const { data: words, error: unknown } = useQuery(computed(() => ({ ...wordsQuery(), enabled: signedIn.value })))
const ready = computed(() => Boolean(session.value && (signedIn.value ? words.value : route.name === 'sign-in')))
watch(words, (now) => now && Object.assign(WORDS, now), { immediate: true, flush: 'sync' })
/** A course, and a quiz in it, is a page of its own: what is sent off from one goes on for that one, whatever is opened next. */
const work = computed(() => `${String(route.params.course)} ${String(route.params.quiz)}`)
const inCourse = computed(() => typeof route.params.course === 'string')

watch(
  [session, () => route.name],
  () => {
    if (!session.value || !route.name) return
    if (!signedIn.value && route.name !== 'sign-in')
      void router.replace({ name: 'sign-in', query: { next: route.fullPath } })
    if (signedIn.value && route.name === 'sign-in') void router.replace(String(route.query.next ?? '/'))
  },
  { immediate: true },
)
</script>

<template>
  <div class="frame">
    <a class="skip" href="#main">Skip to the work</a>
    <TopBar v-if="signedIn && !route.meta.bare" />
    <main id="main" class="stage" tabindex="-1">
      <ErrorState v-if="error || unknown" :error="(error ?? unknown)!" />
      <RouterView v-else-if="ready" :key="work" />
    </main>
    <BottomBar v-if="signedIn && inCourse && !route.meta.bare" />
    <Shortcuts />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  height: 100%;
}

.stage {
  grid-row: 2;
  min-height: 0;
  overflow: auto;
  outline: none;
}

.skip {
  position: absolute;
  left: -999px;
  z-index: 10;
  background: var(--rog-sheet);
  padding: 6px 12px;
}

.skip:focus {
  left: 8px;
  top: 8px;
}
</style>
