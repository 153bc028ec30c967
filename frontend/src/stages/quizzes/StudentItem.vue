<script setup lang="ts">
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'

import type { Schemas } from '@/api/client'
import RichText from '@/ui/RichText.vue'
import { points } from '@/ui/words'

import BlankField from './BlankField.vue'

/** One item as a student sees it and answers it; afterwards with as much as is released. */
type Answer = string | string[] | Record<string, string> | null | undefined

const answer = defineModel<Answer>()
const props = defineProps<{ item: Schemas['StudentItem']; number: number; marked: Schemas['MarkedOut'] | undefined }>()

/** Where the blanks stand in the stem. */
const stem = ref<HTMLElement>()
const spots = shallowRef<Record<string, Element>>({})
async function findSpots(): Promise<void> {
  await nextTick()
  const found = [...(stem.value?.querySelectorAll('[data-blank]') ?? [])]
  for (const spot of found) {
    spot.removeAttribute('aria-label')
    spot.classList.add('filled')
  }
  spots.value = Object.fromEntries(found.map((spot) => [spot.getAttribute('data-blank') ?? '', spot]))
}
onMounted(findSpots)
watch(() => props.item.stem, findSpots)

const tells = computed(() => {
  const told = props.marked
  if (!told || props.item.form === 'none') return false
  return told.by_hand || told.share !== null || told.earned !== null || told.feedback.length > 0 || Boolean(told.key)
})
const WAYS = [
  { by: -1, sign: '↑', words: 'Up' },
  { by: 1, sign: '↓', words: 'Down' },
]
const dragged = ref<number>()

const text = computed(() => (typeof answer.value === 'string' ? answer.value : ''))
const list = computed(() => (Array.isArray(answer.value) ? answer.value : []))
const map = computed(() =>
  answer.value && typeof answer.value === 'object' && !Array.isArray(answer.value) ? answer.value : {},
)
const order = computed(() => (list.value.length ? list.value : (props.item.options ?? []).map((option) => option.id)))
const name = computed(() => `item-${props.item.id}`)
const OPTIONS = [
  { id: 'true', content: 'True' },
  { id: 'false', content: 'False' },
]

function toggle(id: string): void {
  answer.value = list.value.includes(id) ? list.value.filter((other) => other !== id) : [...list.value, id]
}
function setPart(id: string, value: string): void {
  answer.value = { ...map.value, [id]: value }
}
function move(index: number, by: number): void {
  const changed = [...order.value]
  const [moved] = changed.splice(index, 1)
  if (moved !== undefined) changed.splice(index + by, 0, moved)
  answer.value = changed
}
const contentOf = (id: string) => props.item.options?.find((option) => option.id === id)?.content ?? ''
const plain = (content: string) => new DOMParser().parseFromString(content, 'text/html').body.textContent ?? ''
</script>

<template>
  <li class="question">
    <header class="row spread">
      <strong class="number">{{ number }}</strong>
      <span class="faint">{{ item.form === 'none' ? '' : points(item.points) }}</span>
    </header>
    <aside v-if="item.stimulus" class="stimulus"><RichText :content="item.stimulus" /></aside>
    <div ref="stem"><RichText class="stem" :content="item.stem" /></div>

    <fieldset v-if="item.form === 'one' || item.form === 'truth'" :disabled="Boolean(marked)">
      <legend class="visually-hidden">Choices of question {{ number }}</legend>
      <label v-for="option in item.form === 'truth' ? OPTIONS : item.options" :key="option.id">
        <input v-model="answer" type="radio" :name="name" :value="option.id" />
        <RichText inline :content="option.content" />
      </label>
    </fieldset>
    <fieldset v-else-if="item.form === 'several'" :disabled="Boolean(marked)">
      <legend class="visually-hidden">Choices of question {{ number }}</legend>
      <label v-for="option in item.options" :key="option.id">
        <input type="checkbox" :checked="list.includes(option.id)" @change="toggle(option.id)" />
        <RichText inline :content="option.content" />
      </label>
    </fieldset>
    <p v-else-if="item.form === 'text' || item.form === 'number'">
      <input
        class="line"
        :value="text"
        :inputmode="item.form === 'number' ? 'decimal' : 'text'"
        :disabled="Boolean(marked)"
        :aria-label="`Answer to question ${number}`"
        @input="answer = ($event.target as HTMLInputElement).value"
      />
      {{ item.unit }}
    </p>
    <textarea
      v-else-if="item.form === 'long'"
      :value="text"
      :disabled="Boolean(marked)"
      :aria-label="`Answer to question ${number}`"
      @input="answer = ($event.target as HTMLTextAreaElement).value"
    />
    <template v-else-if="item.form === 'blanks'">
      <!-- Where the stem has a place for it, a blank is filled there. -->
      <Teleport
        v-for="(blank, index) in item.blanks"
        :key="blank.id"
        :to="spots[blank.id] ?? 'body'"
        :disabled="!spots[blank.id]"
      >
        <span :class="{ row: !spots[blank.id] }">
          <span v-if="!spots[blank.id]" class="faint">Blank {{ index + 1 }}</span>
          <BlankField
            :model-value="map[blank.id] ?? ''"
            :blank="blank"
            :label="`Blank ${index + 1} of question ${number}`"
            :disabled="Boolean(marked)"
            :plain="plain"
            @update:model-value="(value) => setPart(blank.id, value)"
          />
        </span>
      </Teleport>
    </template>
    <table v-else-if="item.form === 'pairs'">
      <tbody>
        <tr v-for="left in item.lefts" :key="left.id">
          <td><RichText :content="left.content" /></td>
          <td>
            <select
              :value="map[left.id] ?? ''"
              :disabled="Boolean(marked)"
              :aria-label="`Partner of ${plain(left.content)}`"
              @change="setPart(left.id, ($event.target as HTMLSelectElement).value)"
            >
              <option value="" />
              <option v-for="option in item.options" :key="option.id" :value="option.id">
                {{ plain(option.content) }}
              </option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
    <ol v-else-if="item.form === 'order'" class="order">
      <li
        v-for="(id, index) in order"
        :key="id"
        :draggable="!marked"
        @dragstart="dragged = index"
        @dragover.prevent
        @drop.prevent="dragged !== undefined && move(dragged, index - dragged)"
      >
        <span v-if="!marked" class="moves">
          <button
            v-for="way in WAYS"
            :key="way.by"
            type="button"
            class="arrow"
            :disabled="index + way.by < 0 || index + way.by >= order.length"
            :aria-label="`${way.words} in question ${number}: ${plain(contentOf(id))}`"
            @click="move(index, way.by)"
          >
            {{ way.sign }}
          </button>
        </span>
        <RichText inline :content="contentOf(id)" />
      </li>
    </ol>

    <section v-if="tells" class="marked" :class="{ right: (marked?.share ?? 0) > 0.999, wrong: marked?.share === 0 }">
      <p>
        <strong v-if="marked?.by_hand">Awaits a person</strong>
        <strong v-else-if="marked?.share != null">{{
          marked.share > 0.999 ? 'Right' : marked.share > 0 ? 'Partly right' : 'Not right'
        }}</strong>
        <template v-if="marked?.earned != null"
          >{{ marked.share == null ? '' : ': ' }}{{ marked.earned }} of {{ marked.points }}</template
        >
      </p>
      <RichText v-for="(entry, index) in marked?.feedback" :key="index" :content="entry" />
      <p v-if="marked?.key" class="soft">Key: {{ marked.key }}</p>
    </section>
  </li>
</template>

<style scoped>
.question {
  padding: 18px 0;
  border-bottom: 1px solid var(--rog-rule);
}

.number {
  font: 600 18px var(--rog-serif);
}

.stem {
  font-size: 17px;
  margin: 4px 0 10px;
}

.stimulus {
  border-left: 2px solid var(--rog-rule-strong);
  padding-left: 14px;
  margin: 8px 0;
}

fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}

label {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 6px 0;
  cursor: pointer;
}

input[type='radio'],
input[type='checkbox'] {
  accent-color: var(--rog-ink);
}

.line {
  font: 16px var(--rog-serif);
  color: inherit;
  border: 0;
  border-bottom: 1.5px solid var(--rog-ink);
  background: transparent;
  width: min(220px, 70vw);
}

textarea {
  width: 100%;
  height: 120px;
  font: 16px/1.5 var(--rog-serif);
  color: inherit;
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  padding: 8px 12px;
}

select {
  font: inherit;
  color: inherit;
  background-color: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  padding: 4px 8px;
  max-width: min(340px, 100%);
}

table {
  width: 100%;
}

@media (max-width: 520px) {
  tr {
    display: grid;
    padding: 6px 0;
    border-bottom: 1px solid var(--rog-rule);
  }
}

td {
  padding: 4px 18px 4px 0;
}

.order li {
  padding: 3px 0;
}

.order {
  padding-left: 22px;
}

.moves {
  display: inline-flex;
  gap: 4px;
  margin-right: 12px;
}

.arrow {
  min-width: 30px;
  min-height: 28px;
  color: inherit;
  background: var(--rog-paper);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  cursor: pointer;
}

.arrow:disabled {
  opacity: 0.35;
  cursor: default;
}

.stem :deep(.blank.filled) {
  min-width: 0;
  border: 0;
}

.marked {
  margin-top: 12px;
  padding: 8px 12px;
  border-left: 3px solid var(--rog-caution);
  background: var(--rog-caution-ground);
}

.marked.right {
  border-color: var(--rog-key);
  background: var(--rog-key-ground);
}

.marked.wrong {
  border-color: var(--rog-signal);
  background: var(--rog-signal-ground);
}

.marked p {
  margin: 0;
}

/* Room for the arrow of the list. */
select {
  padding-right: 26px;
}
</style>
