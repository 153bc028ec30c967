<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { useHandingOn } from '@/ui/handingOn'
import { useShortcuts } from '@/ui/shortcuts'

import ChangeDialog from './ChangeDialog.vue'
import QuizDialog from './QuizDialog.vue'
import { held, NONE, words, type Chosen } from './selection'
import SplitDialog from './SplitDialog.vue'
import SubsetDialog from './SubsetDialog.vue'
import TargetDialog from './TargetDialog.vue'
import type { Pools } from './usePools'

type Asking = 'move' | 'copy' | 'change' | 'quiz' | 'subset' | 'split' | 'delete'

const chosen = defineModel<Chosen>({ required: true })
const props = defineProps<{
  /** How many match; not known while they are being asked for. */
  total: number | undefined
  selection: Schemas['Selection']
  pools: Pools
  course: number
  mayEdit: boolean
}>()
const router = useRouter()
const handing = useHandingOn()
const asking = ref<Asking>()
const any = computed(() => chosen.value.all || chosen.value.ids.length > 0)
const said = computed(() => words(chosen.value, props.total ?? 0))
const count = computed(() => props.total?.toLocaleString('en') ?? '…')
const shown = (what: Asking) =>
  computed({ get: () => asking.value === what, set: (on) => (asking.value = on ? what : undefined) })
const moving = shown('move')
const copying = shown('copy')
const changing = shown('change')
const quizzing = shown('quiz')
const choosing = shown('subset')
const splitting = shown('split')
const deleting = shown('delete')

/** Readers copy, and choose what they copy; all else is for those who may change the course. */
function ask(what: Asking): void {
  if (any.value && (props.mayEdit || what === 'copy' || what === 'subset')) asking.value = what
}

const { data: about } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'about', props.selection],
    enabled: deleting.value,
    queryFn: () =>
      ok(
        client.POST('/api/courses/{course_id}/items/about', {
          params: { path: { course_id: props.course } },
          body: props.selection,
        }),
      ),
  })),
)
const remove = useMutation({
  mutationFn: () => props.pools.removeItems.mutateAsync(props.selection),
  onSettled: () => (asking.value = undefined),
  onSuccess: () => (chosen.value = NONE),
})
function chose(ids: number[], then: '' | 'move' | 'quiz'): void {
  chosen.value = { ids, all: false }
  if (then) asking.value = then
}
function handOn(): void {
  handing.value = { course: props.course, said: said.value, selection: props.selection }
  void router.push({ name: 'hand-off', params: { course: props.course }, query: { selected: '1' } })
}
const group = 'Pools'
useShortcuts([
  { keys: 'm', label: 'Move the selected items', group, run: () => ask('move') },
  { keys: 'v', label: 'Change the selected items', group, run: () => ask('change') },
  { keys: 'u', label: 'Put the selected items into a quiz', group, run: () => ask('quiz') },
  { keys: 'c', label: 'Copy the selected items', group, run: () => ask('copy') },
])
</script>

<template>
  <div class="bulk" role="toolbar" aria-label="Selected items">
    <template v-if="any">
      <strong>{{ said }}</strong>
      <template v-if="mayEdit">
        <button type="button" class="link-button" @click="ask('move')">Move <kbd>m</kbd></button>
        <button type="button" class="link-button" @click="ask('change')">Change <kbd>v</kbd></button>
        <button type="button" class="link-button" @click="ask('quiz')">Into a quiz <kbd>u</kbd></button>
        <button type="button" class="link-button" @click="handOn">Hand on</button>
      </template>
      <button type="button" class="link-button" @click="ask('copy')">Copy <kbd>c</kbd></button>
      <ElDropdown trigger="click">
        <button type="button" class="link-button">More<span aria-hidden="true"> ▾</span></button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem @click="ask('subset')">A random choice…</ElDropdownItem>
            <ElDropdownItem v-if="mayEdit" @click="ask('split')">Split into pools…</ElDropdownItem>
            <ElDropdownItem v-if="mayEdit" divided @click="ask('delete')">Delete…</ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
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
      <span class="grow" />
      <slot />
    </template>
    <TargetDialog
      v-model="moving"
      :copies="false"
      :said="said"
      :selection="selection"
      :course="course"
      :pools="pools"
      @done="chosen = NONE"
    />
    <TargetDialog v-model="copying" copies :said="said" :selection="selection" :course="course" :pools="pools" />
    <ChangeDialog v-model="changing" :said="said" :selection="selection" :course="course" :pools="pools" />
    <QuizDialog v-model="quizzing" :said="said" :selection="selection" :course="course" />
    <SubsetDialog v-model="choosing" :said="said" :selection="selection" :course="course" @chosen="chose" />
    <SplitDialog
      v-model="splitting"
      :said="said"
      :selection="selection"
      :course="course"
      :below="selection.pool ?? null"
      @done="((chosen = NONE), pools.refresh())"
    />
    <ElDialog v-model="deleting" :title="`Delete ${said}?`" width="460" append-to-body>
      <p v-if="about?.quizzes.length" class="signal">
        {{ about.quizzes.join(', ') }} {{ about.quizzes.length === 1 ? 'uses' : 'use' }} some of them. Take them out
        there first.
      </p>
      <p v-else>Undo brings them back; so does <em>Deleted</em> in the course, for 30 days.</p>
      <template #footer
        ><ElButton
          type="primary"
          :disabled="!about || about.quizzes.length > 0 || held(chosen, total ?? 0) === 0"
          :loading="remove.isPending.value"
          @click="remove.mutate()"
          >Delete {{ said }}</ElButton
        ></template
      >
    </ElDialog>
  </div>
</template>

<style scoped>
.bulk {
  display: flex;
  gap: 4px 15px;
  flex-wrap: wrap;
  align-items: baseline;
  padding: 6px 14px;
  min-height: 34px;
  border-bottom: 1px solid var(--rog-rule);
  background: var(--rog-well);
  font-size: 13px;
}

.bulk .el-dropdown {
  font-size: inherit;
  color: inherit;
}

.grow {
  flex: 1;
}

.signal {
  color: var(--rog-signal);
}
</style>
