<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'

import { client, ok, type Schemas } from '@/api/client'

import NumberAnswer from './NumberAnswer.vue'
import RichInput from './RichInput.vue'
import { sayProblem } from './say'
import { share } from './scoring'
import ScoringFields from './ScoringFields.vue'

type AnyItem = Schemas['ReadingItemOut']['item']

const props = defineProps<{ item: AnyItem; saving?: boolean }>()
const emit = defineEmits<{ save: [AnyItem]; cancel: [] }>()
const draft = reactive(JSON.parse(JSON.stringify(props.item)) as AnyItem)
const NEW_NUMBER = {
  value: 0,
  tolerance: 0,
  weight: 1,
  include_min: true,
  include_max: true,
  rounding: 'significant' as const,
}
const single = computed(() => draft.type === 'multiple_choice')
const pointsText = computed({
  get: () => (draft.points == null ? '' : String(draft.points)),
  set: (text) => (draft.points = text.trim() === '' || Number.isNaN(Number(text)) ? null : Number(text)),
})

/** Asks for the item with another key: how the points are shared out is a rule of the job. */
const keyed = useMutation({
  mutationFn: (right: string[]) => ok(client.POST('/api/item-key', { body: { item: draft, right } })),
  onSuccess: ({ item }) => {
    if (!('choices' in draft) || !draft.choices || !('choices' in item)) return
    const weights = new Map(item.choices?.map((choice) => [choice.id, choice.weight]))
    draft.choices.forEach((choice) => (choice.weight = weights.get(choice.id) ?? choice.weight))
  },
  onError: sayProblem,
})
function setKey(index: number): void {
  if (!('choices' in draft) || !draft.choices) return
  const isRight = (weight: number | undefined, n: number) => (n === index) !== (weight ?? 0) > 0
  const right = single.value
    ? draft.choices.filter((_, n) => n === index)
    : draft.choices.filter((choice, n) => isRight(choice.weight, n))
  keyed.mutate(right.map((choice) => choice.id))
}

function addChoice(): void {
  if (!('choices' in draft)) return
  const taken = new Set((draft.choices ?? []).map((choice) => choice.id))
  let number = (draft.choices ?? []).length + 1
  while (taken.has(`c${number}`)) number += 1
  draft.choices = [...(draft.choices ?? []), { id: `c${number}`, content: '', weight: 0, feedback: null }]
}

function addAnswer(): void {
  if (draft.type === 'fill_in') draft.answers = [...(draft.answers ?? []), { text: '', weight: 1, match: 'exact' }]
  if (draft.type === 'numeric') draft.answers = [...(draft.answers ?? []), { ...NEW_NUMBER }]
}

function general(text: string): void {
  draft.feedback = { ...(draft.feedback ?? {}), general: text }
  if (!text.trim()) delete draft.feedback.general
}
</script>

<template>
  <form class="editor" @submit.prevent="emit('save', draft)" @keydown.ctrl.enter.prevent="emit('save', draft)">
    <label class="caption">Stem</label>
    <RichInput v-model="draft.stem!" label="Stem" />

    <template v-if="(draft.type === 'multiple_choice' || draft.type === 'multiple_response') && draft.choices">
      <span class="caption">Choices, the key ticked</span>
      <div v-for="(choice, index) in draft.choices" :key="choice.id" class="choice">
        <input
          :type="single ? 'radio' : 'checkbox'"
          name="key"
          :checked="(choice.weight ?? 0) > 0"
          :aria-label="`Choice ${index + 1} is right`"
          @change="setKey(index)"
        />
        <RichInput v-model="choice.content" :label="`Choice ${index + 1}`" />
        <button type="button" class="link-button faint" @click="draft.choices.splice(index, 1)">Remove</button>
      </div>
      <button type="button" class="link-button add" @click="addChoice">Add a choice</button>
    </template>

    <template v-if="draft.type === 'true_false'">
      <span class="caption">Key</span>
      <div class="row">
        <label
          ><input type="radio" name="truth" :checked="draft.answer === true" @change="draft.answer = true" />
          True</label
        >
        <label
          ><input type="radio" name="truth" :checked="draft.answer === false" @change="draft.answer = false" />
          False</label
        >
      </div>
    </template>

    <template v-if="draft.type === 'fill_in' && draft.answers">
      <span class="caption">Accepted answers</span>
      <div v-for="(answer, index) in draft.answers" :key="index" class="choice">
        <span />
        <ElInput v-model="answer.text" :aria-label="`Answer ${index + 1}`" />
        <span class="earned">
          <span v-if="answer.weight !== 1" class="faint">earns {{ share(answer.weight) }}</span>
          <button type="button" class="link-button faint" @click="draft.answers.splice(index, 1)">Remove</button>
        </span>
      </div>
      <button type="button" class="link-button add" @click="addAnswer">Add an answer</button>
      <label class="row"><input v-model="draft.case_sensitive" type="checkbox" /> Upper and lower case count</label>
    </template>

    <template v-if="draft.type === 'numeric' && draft.answers">
      <span class="caption">Accepted numbers</span>
      <div v-for="(answer, index) in draft.answers" :key="index" class="row">
        <NumberAnswer v-model="draft.answers[index]!" />
        <span v-if="answer.weight !== 1" class="faint">earns {{ share(answer.weight) }}</span>
        <button type="button" class="link-button faint" @click="draft.answers.splice(index, 1)">Remove</button>
      </div>
      <button type="button" class="link-button add" @click="addAnswer">Add a number</button>
    </template>

    <template v-if="draft.type === 'matching' && draft.pairs">
      <span class="caption">Pairs</span>
      <div v-for="(pair, index) in draft.pairs" :key="index" class="pair">
        <RichInput v-model="pair.left" :label="`Left ${index + 1}`" />
        <RichInput v-model="pair.right" :label="`Right ${index + 1}`" />
        <button type="button" class="link-button faint" @click="draft.pairs.splice(index, 1)">Remove</button>
      </div>
      <button type="button" class="link-button add" @click="draft.pairs.push({ left: '', right: '' })">
        Add a pair
      </button>
    </template>

    <template v-if="draft.type === 'ordering' && draft.sequence">
      <span class="caption">Entries in the right order</span>
      <RichInput
        v-for="(_, index) in draft.sequence"
        :key="index"
        v-model="draft.sequence[index]!"
        :label="`Entry ${index + 1}`"
      />
    </template>

    <template v-if="draft.type === 'cloze' && draft.blanks">
      <template v-for="(blank, index) in draft.blanks" :key="blank.id">
        <label v-if="blank.kind === 'text'" class="row"
          ><input v-model="blank.case_sensitive" type="checkbox" /> Upper and lower case count in blank
          {{ index + 1 }}</label
        >
      </template>
    </template>
    <ScoringFields v-if="'scoring' in draft" :model-value="draft" @update:model-value="Object.assign(draft, $event)" />

    <template v-if="draft.type === 'essay'">
      <span class="caption">Model answer</span>
      <RichInput
        :model-value="draft.sample_answer ?? ''"
        label="Model answer"
        @update:model-value="draft.sample_answer = $event || null"
      />
    </template>

    <span class="caption">Feedback to all</span>
    <RichInput :model-value="draft.feedback?.general ?? ''" label="Feedback to all" @update:model-value="general" />
    <label class="row points"
      >Points <ElInput v-model="pointsText" class="points-field" inputmode="decimal" aria-label="Points"
    /></label>
    <p class="faint hint">
      A formula is typed as TeX between \( and \). <kbd>Ctrl+Enter</kbd> saves, <kbd>Esc</kbd> leaves.
    </p>
    <div class="row">
      <ElButton type="primary" native-type="submit" :loading="saving || keyed.isPending.value">Save the item</ElButton>
      <ElButton @click="emit('cancel')">Leave it as it was</ElButton>
    </div>
  </form>
</template>

<style scoped>
.earned {
  display: flex;
  gap: 8px;
}

.editor {
  display: grid;
  gap: 6px;
}

.caption {
  font-size: 12.5px;
  font-weight: 500;
  color: var(--rog-ink-soft);
  margin-top: 8px;
}

.choice,
.pair {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
}

.pair {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
}

.add {
  justify-self: start;
}

.points {
  margin-top: 8px;
}

.points-field {
  width: 80px;
}

.hint {
  margin: 4px 0;
  font-size: 12.5px;
}
</style>
