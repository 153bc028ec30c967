import { createRouter, createWebHistory } from 'vue-router'

import SignIn from './stages/account/SignIn.vue'
import Courses from './stages/account/Courses.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'courses', component: Courses },
    { path: '/sign-in', name: 'sign-in', component: SignIn },
    { path: '/c/:course(\\d+)', redirect: (to) => ({ name: 'sources', params: to.params }) },
    { path: '/c/:course(\\d+)/sources', name: 'sources', component: () => import('./stages/sources/Sources.vue') },
    {
      path: '/c/:course(\\d+)/compare/:comparison(\\d+)',
      name: 'comparison',
      component: () => import('./stages/sources/Comparison.vue'),
    },
    { path: '/c/:course(\\d+)/check', name: 'check', component: () => import('./stages/check/CheckList.vue') },
    {
      path: '/c/:course(\\d+)/check/:reading(\\d+)',
      name: 'reading',
      component: () => import('./stages/check/Check.vue'),
    },
    { path: '/c/:course(\\d+)/pools', name: 'pools', component: () => import('./stages/pools/Pools.vue') },
    {
      path: '/c/:course(\\d+)/sorting/:pool(\\d+)',
      name: 'sorting',
      component: () => import('./stages/pools/Sorting.vue'),
    },
    { path: '/c/:course(\\d+)/alike/:pair(\\d+)?', name: 'alike', component: () => import('./stages/pools/Alike.vue') },
    {
      path: '/c/:course(\\d+)/items/:item(\\d+)',
      name: 'item',
      component: () => import('./stages/pools/ItemPage.vue'),
    },
    { path: '/c/:course(\\d+)/course', name: 'course', component: () => import('./stages/account/CoursePage.vue') },
    {
      path: '/c/:course(\\d+)/offers/:offer(\\d+)',
      name: 'offer',
      component: () => import('./stages/sources/OfferLedger.vue'),
    },
    { path: '/c/:course(\\d+)/quizzes', name: 'quizzes', component: () => import('./stages/quizzes/Quizzes.vue') },
    {
      path: '/c/:course(\\d+)/quizzes/:quiz(\\d+)',
      name: 'quiz',
      component: () => import('./stages/quizzes/Quiz.vue'),
      meta: { view: 'parts' },
    },
    ...(['plan', 'settings', 'draws'] as const).map((view) => ({
      path: `/c/:course(\\d+)/quizzes/:quiz(\\d+)/${view}`,
      name: `quiz-${view}`,
      component: () => import('./stages/quizzes/Quiz.vue'),
      meta: { view },
    })),
    {
      path: '/c/:course(\\d+)/quizzes/:quiz(\\d+)/try',
      name: 'try',
      component: () => import('./stages/quizzes/Try.vue'),
      // A student sees the quiz alone.
      meta: { bare: true },
    },
    { path: '/c/:course(\\d+)/hand-off', name: 'hand-off', component: () => import('./stages/handoff/HandOffs.vue') },
    {
      path: '/c/:course(\\d+)/hand-off/:handoff(\\d+)',
      name: 'ledger',
      component: () => import('./stages/handoff/Ledger.vue'),
    },
    {
      path: '/c/:course(\\d+)/hand-off/forecast',
      name: 'forecast',
      component: () => import('./stages/handoff/ForecastPage.vue'),
    },
    {
      path: '/c/:course(\\d+)/hand-off/:handoff(\\d+)/against/:other(\\d+)',
      name: 'hand-offs-compared',
      component: () => import('./stages/handoff/Pair.vue'),
    },
    {
      path: '/c/:course(\\d+)/hand-off/receivers/:key?',
      name: 'receivers',
      component: () => import('./stages/handoff/Receivers.vue'),
    },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})
