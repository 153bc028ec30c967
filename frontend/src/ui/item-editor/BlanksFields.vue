<script setup lang="ts">
import { computed, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'

import RichInput from '../editor/RichInput.vue'
import { useAsking } from '../asking'

import NoteField from './NoteField.vue'
import NumberAnswers from './NumberAnswers.vue'
import PartTools from './PartTools.vue'
import TextAnswers from './TextAnswers.vue'
import {
  begun,
  freeName,
  isOneOfKeys,
  keyGroup,
  moved,
  newChoice,
  takeWeights,
  type AnyItem,
  type Blank,
  type Choice,
  type ClozeItem,
} from './types'
import WeightField from './WeightField.vue'

type ChoiceBlank = Extract<Blank, { kind?: 'choice' }>

/** The blanks of a cloze as its stem has them: the kind of each, what it accepts, and its share of the points. */
const item = defineModel<ClozeItem>({ required: true })
const blanks = computed(() => item.value.blanks ?? [])
const KINDS: Record<string, string> = { text: 'a text', numeric: 'a number', choice: 'one of several' }
const marked = computed(() =>
  [...(item.value.stem ?? '').matchAll(/data-blank="([^"]*)"/g)].map((match) => match[1]).join(' '),
)

/** The blanks follow the stem: which there are, and how the points are shared anew, is a rule of the job. */
const { ask, refused } = useAsking()
watch(marked, () =>
  ask(
    () => ok(client.POST('/api/item-blanks', { body: { item: item.value as AnyItem } })),
    ({ item: made }) => 'blanks' in made && takeBlanks(made.blanks ?? []),
  ),
)
/** Which blanks there are and their shares; what is typed in one that stays is its own. */
function takeBlanks(made: Blank[]): void {
  const held = new Map(blanks.value.map((blank) => [blank.id, blank]))
  item.value.blanks = made.map((blank) => ({ ...(held.get(blank.id) ?? blank), share: blank.share }))
}

/** Another kind, as the core makes it of what the blank holds; where that gives nothing, there is a place to begin. */
function setKind(blank: Blank, event: Event): void {
  const kind = (event.target as HTMLSelectElement).value as Blank['kind']
  ask(
    () => ok(client.POST('/api/item-blank', { body: { blank, kind } as Schemas['BlankIn'] })),
    ({ blank: made }) => {
      const index = blanks.value.findIndex((entry) => entry.id === made.id)
      if (index >= 0) blanks.value.splice(index, 1, begun(made))
    },
  )
}
/** A blank to choose for is marked as a multiple choice is, and the core says what that makes of its weights. */
function setKey(blank: ChoiceBlank, right: string): void {
  const asked = () => ({ id: blank.id, type: 'multiple_choice', choices: blank.choices }) as AnyItem
  ask(
    () => ok(client.POST('/api/item-key', { body: { item: asked(), right: [right] } })),
    ({ item: made }) => 'choices' in made && takeWeights(blank.choices ?? [], made.choices),
  )
}
const groupOf = (blank: ChoiceBlank, choice: Choice) => keyGroup(`key of ${blank.id}`, blank.choices ?? [], choice)
function addChoice(blank: ChoiceBlank): void {
  const choices = blank.choices ?? []
  const id = freeName(
    'c',
    choices.map((choice) => choice.id),
  )
  blank.choices = [...choices, newChoice(id)]
}
</script>

<template>
  <span class="caption">Blanks</span>
  <p v-if="!blanks.length" class="faint">The stem has no blank yet: put one in with <kbd>Ctrl+.</kbd></p>
  <fieldset v-for="(blank, index) in blanks" :key="blank.id" class="blank-fields">
    <legend>
      Blank {{ index + 1 }} <span class="faint">({{ blank.id }})</span>
      <select
        :key="refused"
        :value="blank.kind"
        :aria-label="`Kind of blank ${index + 1}`"
        @change="setKind(blank, $event)"
      >
        <option v-for="(label, kind) in KINDS" :key="kind" :value="kind">{{ label }}</option>
      </select>
      <span class="faint"> its share </span>
      <WeightField v-model="blank.share" :label="`Share of blank ${index + 1}`" />
    </legend>
    <template v-if="blank.kind === 'choice'">
      <div v-for="(choice, n) in blank.choices ?? []" :key="choice.id" class="choice">
        <input
          :key="`${refused} ${groupOf(blank, choice)}`"
          type="radio"
          :name="groupOf(blank, choice)"
          :checked="(choice.weight ?? 0) > 0"
          :aria-label="`Choice ${n + 1} of blank ${index + 1} is right`"
          @change="setKey(blank, choice.id)"
          @click="isOneOfKeys(blank.choices ?? [], choice) && setKey(blank, choice.id)"
        />
        <div>
          <RichInput v-model="choice.content" :label="`Choice ${n + 1} of blank ${index + 1}`" />
          <NoteField v-model="choice.feedback" :label="`Feedback of choice ${n + 1} of blank ${index + 1}`" />
        </div>
        <PartTools
          :name="`choice ${n + 1} of blank ${index + 1}`"
          :index="n"
          :count="(blank.choices ?? []).length"
          movable
          @move="moved(blank.choices ?? [], n, $event)"
          @remove="blank.choices?.splice(n, 1)"
        />
      </div>
      <button type="button" class="link-button" @click="addChoice(blank)">Add a choice</button>
    </template>
    <NumberAnswers v-else-if="blank.kind === 'numeric'" v-model="blank.answers!" :of="`blank ${index + 1}`" />
    <template v-else>
      <TextAnswers v-model="blank.answers!" :of="`Blank ${index + 1}`" />
      <label class="case"
        ><input v-model="blank.case_sensitive" type="checkbox" /> Upper and lower case count in blank
        {{ index + 1 }}</label
      >
    </template>
  </fieldset>
</template>

<style scoped>
.blank-fields {
  margin: 0;
  padding: 6px 0 10px 12px;
  border: 0;
  border-left: 2px solid var(--rog-rule-strong);
  display: grid;
  gap: 5px;
  min-width: 0;
}

legend {
  float: left;
  padding: 0;
  font-weight: 500;
}

.choice {
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: start;
}

.choice > input {
  margin-top: 9px;
}

.case {
  font-size: 13px;
}
</style>
