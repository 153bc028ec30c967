<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { quizzesQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'

import { NONE, words, type Chosen } from './selection'
import type { usePools } from './usePools'

const chosen = defineModel<Chosen>({ required: true })
const props = defineProps<{
  /** How many match; not known while they are being asked for. */
  total: number | undefined
  selection: Schemas['Selection']
  pools: ReturnType<typeof usePools>
  course: number
}>()
const router = useRouter()
const queries = useQueryClient()
const asking = ref<'move' | 'points' | 'quiz' | 'delete'>()
const target = ref<number>()
const points = ref('1')
const any = computed(() => chosen.value.all || chosen.value.ids.length > 0)
const said = computed(() => words(chosen.value, props.total ?? 0))
const count = computed(() => props.total?.toLocaleString('en') ?? '…')
const { data: quizzes } = useQuery(
  computed(() => ({ ...quizzesQuery(props.course), enabled: asking.value === 'quiz' })),
)

const intoQuiz = useMutation({
  mutationFn: (quiz: number) =>
    ok(
      client.POST('/api/quizzes/{quiz_id}/items', {
        params: { path: { quiz_id: quiz } },
        body: { items: chosen.value.ids },
      }),
    ),
  onSuccess: async (quiz) => {
    say(`Added to ${quiz.title}.`)
    await queries.invalidateQueries({ queryKey: ['course', props.course] })
    await router.push({ name: 'quiz', params: { course: props.course, quiz: quiz.id } })
  },
  onError: sayProblem,
})

function ask(what: 'move' | 'points' | 'quiz' | 'delete'): void {
  if (!any.value) return
  target.value = undefined
  asking.value = what
}

async function done(): Promise<void> {
  const what = asking.value
  asking.value = undefined
  if (what === 'move' && target.value)
    await props.pools.move.mutateAsync({ selection: props.selection, pool: target.value })
  if (what === 'points')
    await props.pools.setPoints.mutateAsync({ selection: props.selection, points: Number(points.value) })
  if (what === 'quiz' && target.value) await intoQuiz.mutateAsync(target.value)
  if (what === 'delete') await props.pools.removeItems.mutateAsync(props.selection)
  if (what !== 'points') chosen.value = NONE
}

const group = 'Pools'
useShortcuts([
  { keys: 'm', label: 'Move the selected items', group, run: () => ask('move') },
  { keys: 'v', label: 'Set the points of the selected items', group, run: () => ask('points') },
])
</script>

<template>
  <div class="bulk" role="toolbar" aria-label="Selected items">
    <template v-if="any">
      <strong>{{ said }}</strong>
      <button type="button" class="link-button" @click="ask('move')">Move <kbd>m</kbd></button>
      <button type="button" class="link-button" @click="ask('points')">Points <kbd>v</kbd></button>
      <button v-if="!chosen.all" type="button" class="link-button" @click="ask('quiz')">Into a quiz</button>
      <button type="button" class="link-button" @click="ask('delete')">Delete</button>
      <span class="grow" />
      <button v-if="!chosen.all" type="button" class="link-button" @click="chosen = { ids: [], all: true }">
        Select all {{ count }} that match
      </button>
      <button type="button" class="link-button" @click="chosen = NONE">Select none</button>
    </template>
    <template v-else>
      <span class="faint">Nothing selected</span>
      <button type="button" class="link-button" :disabled="!total" @click="chosen = { ids: [], all: true }">
        Select all {{ count }} that match <kbd>a</kbd>
      </button>
    </template>
    <ElDialog
      :model-value="asking === 'move'"
      :title="`Move ${said}`"
      width="440"
      append-to-body
      @close="asking = undefined"
    >
      <ElSelect v-model="target" filterable placeholder="Pool" aria-label="Pool to move to" style="width: 100%">
        <ElOption v-for="pool in pools.pools.data.value" :key="pool.id" :value="pool.id" :label="pool.name" />
      </ElSelect>
      <template #footer
        ><ElButton type="primary" :disabled="!target" @click="done">Move {{ said }}</ElButton></template
      >
    </ElDialog>
    <ElDialog
      :model-value="asking === 'points'"
      :title="`Points of ${said}`"
      width="440"
      append-to-body
      @close="asking = undefined"
    >
      <ElInput v-model="points" inputmode="decimal" aria-label="Points" @keydown.enter="done" />
      <template #footer>
        <ElButton type="primary" :disabled="!(Number(points) >= 0) || !points.trim()" @click="done"
          >Set points to {{ points }}</ElButton
        >
      </template>
    </ElDialog>
    <ElDialog
      :model-value="asking === 'quiz'"
      :title="`Put ${said} into a quiz`"
      width="440"
      append-to-body
      @close="asking = undefined"
    >
      <ElSelect v-model="target" filterable placeholder="Quiz" aria-label="Quiz" style="width: 100%">
        <ElOption v-for="quiz in quizzes" :key="quiz.id" :value="quiz.id" :label="quiz.title" />
      </ElSelect>
      <template #footer
        ><ElButton type="primary" :disabled="!target" @click="done">Add {{ said }}</ElButton></template
      >
    </ElDialog>
    <ElDialog
      :model-value="asking === 'delete'"
      :title="`Delete ${said}?`"
      width="440"
      append-to-body
      @close="asking = undefined"
    >
      <p>Undo brings them back.</p>
      <template #footer
        ><ElButton type="primary" @click="done">Delete {{ said }}</ElButton></template
      >
    </ElDialog>
  </div>
</template>

<style scoped>
.bulk {
  display: flex;
  gap: 16px;
  align-items: baseline;
  padding: 6px 14px;
  min-height: 34px;
  border-bottom: 1px solid var(--rog-rule);
  background: var(--rog-well);
  font-size: 13px;
}

.grow {
  flex: 1;
}
</style>
