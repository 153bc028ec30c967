<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import RichText from '@/ui/RichText.vue'
import { points } from '@/ui/words'

type Answer = string | string[] | Record<string, string> | null | undefined

const answer = defineModel<Answer>()
const props = defineProps<{ item: Schemas['StudentItem']; number: number; marked: Schemas['MarkedOut'] | undefined }>()

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
    <RichText class="stem" :content="item.stem" />

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
    <div v-else-if="item.form === 'blanks'">
      <p v-for="(blank, index) in item.blanks" :key="blank.id" class="row">
        <span class="faint">Blank {{ index + 1 }}</span>
        <select
          v-if="blank.options?.length"
          :value="map[blank.id] ?? ''"
          :aria-label="`Blank ${index + 1} of question ${number}`"
          @change="setPart(blank.id, ($event.target as HTMLSelectElement).value)"
        >
          <option value="" />
          <option v-for="option in blank.options" :key="option.id" :value="option.id">
            {{ plain(option.content) }}
          </option>
        </select>
        <input
          v-else
          class="line"
          :value="map[blank.id] ?? ''"
          :aria-label="`Blank ${index + 1} of question ${number}`"
          @input="setPart(blank.id, ($event.target as HTMLInputElement).value)"
        />
      </p>
    </div>
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
      <li v-for="(id, index) in order" :key="id">
        <RichText inline :content="contentOf(id)" />
        <span v-if="!marked" class="moves">
          <button type="button" class="link-button" :disabled="index === 0" @click="move(index, -1)">up</button>
          <button type="button" class="link-button" :disabled="index === order.length - 1" @click="move(index, 1)">
            down
          </button>
        </span>
      </li>
    </ol>

    <section
      v-if="marked && item.form !== 'none'"
      class="marked"
      :class="{ right: (marked.share ?? 0) > 0.999, wrong: marked.share === 0 }"
    >
      <p>
        <strong v-if="marked.share === null">To be marked by hand</strong>
        <strong v-else>{{ marked.share > 0.999 ? 'Right' : marked.share > 0 ? 'Partly right' : 'Not right' }}</strong>
        <template v-if="marked.earned !== null">: {{ marked.earned }} of {{ marked.points }}</template>
      </p>
      <RichText v-for="(entry, index) in marked.feedback" :key="index" :content="entry" />
      <p v-if="marked.key" class="soft">Key: {{ marked.key }}</p>
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
  padding: 4px 0;
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
  width: 220px;
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
  max-width: 340px;
}

td {
  padding: 4px 18px 4px 0;
}

.order li {
  padding: 3px 0;
}

.moves {
  margin-left: 14px;
  display: inline-flex;
  gap: 10px;
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
