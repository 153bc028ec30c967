<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { useShortcuts } from '@/ui/shortcuts'

import ChosenBar from './ChosenBar.vue'
import DrawForm from './DrawForm.vue'
import PartRow from './PartRow.vue'
import ReplaceDialog from './ReplaceDialog.vue'
import ShareForm from './ShareForm.vue'
import Sums from './Sums.vue'
import { useOrder } from './useOrder'
import type { Line, Part, Quiz, QuizWork } from './useQuiz'

/** The parts of a quiz in order, to be moved, chosen and changed; and what they add up to. */
const props = defineProps<{ quiz: Quiz; work: QuizWork }>()
const course = useCourse()
const { mayEdit } = useRole(course)
const folded = reactive(new Set<number>())
const parts = reactive(new Set<number>())
const items = reactive(new Set<number>())
const replacing = ref<Line>()

const fixed = computed(() => props.quiz.parts.filter((part) => part.kind === 'fixed'))
const partOf = (item: number) => fixed.value.find((part) => part.items.some(({ id }) => id === item))
function toggle(set: Set<number>, id: number, on: boolean): void {
  if (on) set.add(id)
  else set.delete(id)
}
function clear(): void {
  parts.clear()
  items.clear()
}
const chosen = computed(() => ({
  parts: props.quiz.parts.filter(({ id }) => parts.has(id)),
  items: fixed.value.flatMap((part) => part.items.filter(({ id }) => items.has(id))),
}))

/** Moves parts so that they stand before the one at a place of all. */
function moveParts(moved: number[], place: number): void {
  const before = props.quiz.parts.slice(0, place).filter(({ id }) => !moved.includes(id)).length
  props.work.edit.mutate({ do: 'move parts', parts: moved, to: before })
}
function moveItems(moved: number[], part: Part, place: number): void {
  const before = part.items.slice(0, place).filter(({ id }) => !moved.includes(id)).length
  props.work.edit.mutate({ do: 'move items', items: moved, part: part.id, to: before })
}
function shift(part: Part, step: number): void {
  const place = props.quiz.parts.indexOf(part)
  const to = place + (step > 0 ? 2 : -1)
  if (to >= 0 && to <= props.quiz.parts.length && !props.work.edit.isPending.value) moveParts([part.id], to)
}
/** An item up or down; beyond the ends of its part, into the next part of fixed items. */
function shiftItem(part: Part, item: number, step: number): void {
  if (props.work.edit.isPending.value) return
  const place = part.items.findIndex(({ id }) => id === item)
  const inside = place + (step > 0 ? 2 : -1)
  if (inside >= 0 && inside <= part.items.length) return moveItems([item], part, inside)
  const next = fixed.value[fixed.value.indexOf(part) + step]
  if (next) moveItems([item], next, step > 0 ? 0 : next.items.length)
}

const order = useOrder<string>(({ dragged, over, behind }) => {
  const [what, id] = [dragged.split(' ')[0], Number(dragged.split(' ')[1])]
  const [where, target] = [over.split(' ')[0], Number(over.split(' ')[1])]
  if (what === 'part') {
    const on = where === 'part' ? target : partOf(target)?.id
    const place = props.quiz.parts.findIndex((part) => part.id === on)
    if (place >= 0) moveParts(parts.has(id) ? [...parts] : [id], place + (behind ? 1 : 0))
    return
  }
  const moved = items.has(id) ? [...items] : [id]
  const part = where === 'item' ? partOf(target) : fixed.value.find((entry) => entry.id === target)
  if (!part) return
  const place = where === 'item' ? part.items.findIndex((item) => item.id === target) + (behind ? 1 : 0) : 0
  moveItems(moved, part, where === 'item' ? place : part.items.length)
})

const allFolded = computed(() => props.quiz.parts.length > 0 && props.quiz.parts.every(({ id }) => folded.has(id)))
function foldAll(): void {
  const fold = !allFolded.value
  props.quiz.parts.forEach(({ id }) => toggle(folded, id, fold))
}
useShortcuts([
  { keys: 'z', label: 'Fold or unfold all parts', group: 'Quizzes', run: foldAll },
  { keys: 'Escape', label: 'Choose nothing', group: 'Quizzes', run: clear },
])
</script>

<template>
  <div class="with-aside">
    <section class="parts" aria-label="Parts of the quiz">
      <div v-if="quiz.parts.length" class="row spread tools">
        <ShareForm v-if="mayEdit" :quiz="quiz" :work="work" :parts="chosen.parts" />
        <button type="button" class="link-button" @click="foldAll">
          {{ allFolded ? 'Unfold all' : 'Fold all' }} <kbd>z</kbd>
        </button>
      </div>
      <p v-if="!quiz.parts.length" class="soft">
        Nothing in it yet. Add a draw below, let a
        <RouterLink :to="{ name: 'quiz-plan', params: { course, quiz: quiz.id } }">plan</RouterLink> pick its items, or
        select items in <RouterLink :to="{ name: 'pools', params: { course } }">Pools</RouterLink> and put them into
        this quiz.
      </p>
      <ol class="list">
        <PartRow
          v-for="part in quiz.parts"
          :key="part.id"
          :part="part"
          :course="course"
          :may-edit="mayEdit"
          :chosen="parts.has(part.id)"
          :chosen-items="items"
          :folded="folded.has(part.id)"
          :order="order"
          @change="(body) => work.setPart(part, body as never)"
          @choose="(on) => toggle(parts, part.id, on)"
          @choose-item="(item, on) => toggle(items, item, on)"
          @fold="(on) => toggle(folded, part.id, on)"
          @shift="(step) => shift(part, step)"
          @shift-item="(item, step) => shiftItem(part, item, step)"
          @remove="work.edit.mutate({ do: 'take out', parts: [part.id], items: [] })"
          @replace="(item) => (replacing = item)"
          @back="(item) => work.edit.mutate({ do: 'take out', parts: [], items: [item.id] })"
          @again="(item) => work.again.mutate({ part: part.id, item: item?.id ?? null })"
          @split="(item) => work.edit.mutate({ do: 'split', part: part.id, item: item.id })"
        />
      </ol>
      <DrawForm v-if="mayEdit" :course="course" :work="work" />
      <ChosenBar
        v-if="mayEdit && (chosen.parts.length || chosen.items.length)"
        :quiz="quiz"
        :work="work"
        :parts="chosen.parts"
        :items="chosen.items"
        @clear="clear"
      />
      <ReplaceDialog
        v-if="replacing"
        :item="replacing"
        :quiz="quiz.id"
        :course="course"
        @close="replacing = undefined"
        @pick="(by) => replacing && work.edit.mutate({ do: 'replace', item: replacing.id, by })"
      />
    </section>
    <aside aria-label="What it adds up to">
      <Sums :quiz="quiz" :course="course" />
    </aside>
  </div>
</template>

<style scoped>
.tools {
  padding-bottom: 8px;
}

.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
