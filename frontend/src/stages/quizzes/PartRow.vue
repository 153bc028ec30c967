<script setup lang="ts">
import { computed, ref } from 'vue'

import RichInput from '@/ui/editor/RichInput.vue'
import RichText from '@/ui/RichText.vue'
import { items } from '@/ui/words'

import ConditionFields from './ConditionFields.vue'
import Exposure from './Exposure.vue'
import ItemLine from './ItemLine.vue'
import type { Condition, Line, Part } from './useQuiz'
import type { useOrder } from './useOrder'

/** A part of a quiz: a draw with what two students share of it, or fixed items; folded or open. */
const props = defineProps<{
  part: Part
  course: number
  mayEdit: boolean
  chosen: boolean
  chosenItems: Set<number>
  folded: boolean
  order: ReturnType<typeof useOrder<string>>
}>()
const emit = defineEmits<{
  change: [Record<string, unknown>]
  choose: [boolean]
  chooseItem: [number, boolean]
  fold: [boolean]
  shift: [number]
  shiftItem: [number, number]
  remove: []
  replace: [Line]
  back: [Line]
  again: [Line | null]
  split: [Line]
  worth: [Line, number | null]
}>()

const editing = ref<'title' | 'instructions' | 'where'>()
const text = ref('')
const where = ref<Condition[]>([])

function edit(what: 'title' | 'instructions' | 'where'): void {
  editing.value = what
  text.value = what === 'title' ? props.part.title : props.part.instructions
  where.value = props.part.draw?.where ?? []
}
function keep(): void {
  const what = editing.value
  editing.value = undefined
  if (what === 'where') emit('change', { where: where.value.filter(({ values }) => values.length) })
  else if (what && text.value !== props.part[what]) emit('change', { [what]: text.value })
}
function setPick(value: number | undefined): void {
  if (value && value !== props.part.pick) emit('change', { pick: value })
}
/** What stands in the place of a title that there is none of: students read titles, and not this. */
const untitled = computed(() =>
  props.part.kind === 'draw' ? 'Draws' : (props.part.picked_from?.label ?? 'Fixed items'),
)
const name = computed(() => props.part.title || (props.part.kind === 'draw' ? 'the draw' : 'the part'))
const draw = computed(() => props.part.draw)
const missing = computed(() => (props.part.picked_from ? props.part.picked_from.wanted - props.part.items.length : 0))
const held = (event: KeyboardEvent, by: (step: number) => void) => {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (!step) return
  event.preventDefault()
  by(step)
}
const row = (item: number) => `item ${item}`
const here = computed(() => `part ${props.part.id}`)
</script>

<template>
  <li
    class="part"
    :class="{
      chosen,
      dragged: order.dragged.value === here,
      before: order.over.value === here && !order.behind.value,
      behind: order.over.value === here && order.behind.value,
    }"
    @dragover="order.hover($event, here)"
    @drop="order.drop"
  >
    <p v-if="part.page_break" class="break faint"><span>a new page begins here</span></p>
    <div class="head">
      <template v-if="mayEdit">
        <button
          type="button"
          class="handle"
          draggable="true"
          :aria-label="`Move ${name}: arrow keys, or drag`"
          title="Drag, or use the arrow keys"
          :data-part="part.id"
          @dragstart="order.start($event, here)"
          @dragend="order.end"
          @keydown="held($event, (step) => emit('shift', step))"
        >
          ⠿
        </button>
        <input
          type="checkbox"
          :checked="chosen"
          :aria-label="`Choose ${name}`"
          @change="emit('choose', ($event.target as HTMLInputElement).checked)"
        />
      </template>
      <button
        type="button"
        class="plain-button fold"
        :aria-expanded="!folded"
        :aria-label="`${folded ? 'Unfold' : 'Fold'} ${name}`"
        @click="emit('fold', !folded)"
      >
        {{ folded ? '▸' : '▾' }}
      </button>
      <form v-if="editing === 'title'" class="title" @submit.prevent="keep">
        <ElInput v-model="text" :aria-label="`Title of ${name}`" autofocus @blur="keep" />
      </form>
      <button v-else-if="mayEdit" type="button" class="plain-button name" title="Title it" @click="edit('title')">
        <template v-if="part.title">{{ part.title }}</template>
        <span v-else class="faint">{{ untitled }}</span>
      </button>
      <span v-else class="name">{{ part.title }}</span>
      <span v-if="draw" class="row what">
        <span v-if="part.title">draws</span>
        <ElInputNumber
          :model-value="part.pick"
          :min="1"
          :max="500"
          :controls="false"
          :disabled="!mayEdit"
          class="narrow"
          :aria-label="`How many from ${name}`"
          @change="(value: number | undefined) => setPick(value)"
        />
        <span>of {{ draw.pool_size }} in</span>
        <RouterLink v-if="part.pool" :to="{ name: 'pools', params: { course }, query: { pool: part.pool } }">{{
          part.pool_path.at(-1)
        }}</RouterLink>
        <span v-else>the whole course</span>
        <span v-if="draw.where_words" class="chip">{{ draw.where_words }}</span>
        <span v-if="draw.alone" class="chip">without what lies below</span>
        <span v-if="draw.without" class="faint">{{ items(draw.without) }} left out</span>
      </span>
      <span v-else class="soft what">{{ items(part.items.length) }}, the same for everyone</span>
      <label class="row each">
        <ElInputNumber
          :model-value="part.points_each ?? undefined"
          :min="0"
          :controls="false"
          :disabled="!mayEdit"
          class="narrow"
          :aria-label="`Points each in ${name}`"
          placeholder="own"
          @change="(value: number | undefined) => emit('change', { points_each: value ?? null })"
        />
        points each
      </label>
      <ElDropdown v-if="mayEdit" trigger="click">
        <button type="button" class="plain-button more" :aria-label="`More of ${name}`">⋯</button>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem @click="edit('instructions')"
              >{{ part.instructions ? 'Change the' : 'Add' }} instructions</ElDropdownItem
            >
            <ElDropdownItem @click="emit('change', { page_break: !part.page_break })">{{
              part.page_break ? 'No new page here' : 'Begin a new page here'
            }}</ElDropdownItem>
            <ElDropdownItem v-if="draw" @click="edit('where')">Change which items are drawn</ElDropdownItem>
            <ElDropdownItem v-if="draw" @click="emit('change', { alone: !draw.alone })">{{
              draw.alone ? 'Draw from the pools below too' : 'Draw from the pool alone'
            }}</ElDropdownItem>
            <ElDropdownItem divided @click="emit('remove')">Take it out</ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </div>

    <form v-if="editing === 'instructions'" class="instructions" @submit.prevent="keep">
      <RichInput v-model="text" :label="`Instructions before ${name}`" />
      <div class="row"><ElButton native-type="submit">Keep the instructions</ElButton></div>
    </form>
    <RichText v-else-if="part.instructions && !folded" class="instructions" :content="part.instructions" />
    <form v-if="editing === 'where'" class="row where" @submit.prevent="keep">
      <span>Draw items whose</span>
      <ConditionFields v-model="where" :course="course" :pool="part.pool" :label="name" />
      <ElButton native-type="submit">Keep the conditions</ElButton>
    </form>

    <template v-if="!folded">
      <Exposure v-if="draw" class="exposure" :draw="draw" :pick="part.pick" :name="name" />
      <template v-else>
        <p v-if="part.picked_from && (missing > 0 || part.picked_from.label !== part.title)" class="faint picked">
          Picked by the plan from {{ part.picked_from.label }}.
          <button v-if="mayEdit && missing > 0" type="button" class="link-button" @click="emit('again', null)">
            {{ items(missing) }} of {{ part.picked_from.wanted }} {{ missing === 1 ? 'is' : 'are' }} missing: draw one
          </button>
        </p>
        <ol class="fixed">
          <li
            v-for="(item, place) in part.items"
            :key="item.id"
            :class="{
              chosen: chosenItems.has(item.id),
              before: order.over.value === row(item.id) && !order.behind.value,
              behind: order.over.value === row(item.id) && order.behind.value,
            }"
            @dragover="order.hover($event, row(item.id))"
            @drop="order.drop"
          >
            <template v-if="mayEdit">
              <button
                type="button"
                class="handle"
                draggable="true"
                :aria-label="`Move item ${place + 1} of ${name}: arrow keys, or drag`"
                :data-item="item.id"
                @dragstart="order.start($event, row(item.id))"
                @dragend="order.end"
                @keydown="held($event, (step) => emit('shiftItem', item.id, step))"
              >
                ⠿
              </button>
              <input
                type="checkbox"
                :checked="chosenItems.has(item.id)"
                :aria-label="`Choose item ${place + 1} of ${name}`"
                @change="emit('chooseItem', item.id, ($event.target as HTMLInputElement).checked)"
              />
            </template>
            <span class="number faint">{{ place + 1 }}</span>
            <ItemLine :item="item" :course="course" />
            <ElDropdown v-if="mayEdit" trigger="click">
              <button type="button" class="plain-button more" :aria-label="`More of item ${place + 1} of ${name}`">
                ⋯
              </button>
              <template #dropdown>
                <ElDropdownMenu>
                  <ElDropdownItem @click="emit('replace', item)">Replace it by a like one…</ElDropdownItem>
                  <ElDropdownItem v-if="part.picked_from" @click="emit('again', item)"
                    >Put it back, and draw another</ElDropdownItem
                  >
                  <ElDropdownItem v-if="place" @click="emit('split', item)">Begin a new part here</ElDropdownItem>
                  <ElDropdownItem divided @click="emit('back', item)">{{
                    part.picked_from ? 'Put it back' : 'Take it out'
                  }}</ElDropdownItem>
                </ElDropdownMenu>
              </template>
            </ElDropdown>
          </li>
        </ol>
      </template>
    </template>
  </li>
</template>

<style scoped>
.part {
  padding: 10px 0;
  border-top: 1px solid var(--rog-rule);
}

.head {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}

.handle {
  appearance: none;
  border: 0;
  background: none;
  padding: 0 2px;
  color: var(--rog-ink-faint);
  cursor: grab;
  font-size: 15px;
}

.fold {
  width: 18px;
  text-align: center;
  color: var(--rog-ink-soft);
}

.name {
  font: 600 16px var(--rog-serif);
}

.title {
  width: 280px;
}

.each {
  margin-left: auto;
  color: var(--rog-ink-soft);
  flex-wrap: nowrap;
}

.narrow {
  width: 56px;
}

.more {
  padding: 0 6px;
  font-size: 18px;
  line-height: 1;
  color: var(--rog-ink-soft);
}

.chip {
  padding: 0 7px;
  background: var(--rog-joined);
}

.break {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 0 0 8px;
  font-size: 12.5px;
}

.break::before,
.break::after {
  content: '';
  flex: 1;
  border-top: 1px dashed var(--rog-rule-strong);
}

.instructions {
  margin: 6px 0 4px 48px;
  max-width: 78ch;
}

.where {
  margin: 8px 0 0 48px;
}

.exposure,
.picked {
  margin: 4px 0 0 48px;
  max-width: 84ch;
}

.fixed {
  list-style: none;
  margin: 4px 0 0 24px;
  padding: 0;
}

.fixed li {
  display: grid;
  grid-template-columns: auto auto 22px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
}

.chosen > .head,
.fixed li.chosen {
  background: var(--rog-joined);
}

.dragged {
  opacity: 0.5;
}

.before {
  box-shadow: 0 -2px 0 var(--rog-focus);
}

.behind {
  box-shadow: 0 2px 0 var(--rog-focus);
}
</style>
