<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'

import RichText from './RichText.vue'
import { answerNotes, numberWords, scoringWords, share } from './scoring'
import { points, WORDS } from './words'

/** Any item of the model; fields beyond the common ones depend on its type. */
type AnyItem = Schemas['ReadingItemOut']['item']

const props = defineProps<{ item: AnyItem; stimulus?: string | null; settable?: boolean }>()
/** With `settable`, a click on a choice's label says that it is the key, or not; `field` is the part under the pointer. */
const emit = defineEmits<{ key: [number]; field: [string] }>()
const TRUTHS = [
  { words: 'True', is: true },
  { words: 'False', is: false },
] as const

function pointed(event: Event): void {
  const part = (event.target as HTMLElement).closest<HTMLElement>('[data-field]')
  emit('field', part?.dataset.field ?? '')
}
const choices = computed(() => ('choices' in props.item ? (props.item.choices ?? []) : []))
// What earns nothing is no accepted answer; it stands with its feedback alone.
const answers = computed(() => ('answers' in props.item ? (props.item.answers ?? []).filter(earns) : []))
const feedback = computed(() => Object.entries(props.item.feedback ?? {}))
const notes = computed(() => answerNotes(props.item))
const metadata = computed(() => Object.entries(props.item.metadata ?? {}))
const FEEDBACK: Record<string, string> = { general: 'Feedback', correct: 'If right', incorrect: 'If wrong' }

function letter(index: number): string {
  return String.fromCharCode(65 + index)
}

function earns(answer: { weight?: number }): boolean {
  return answer.weight !== 0
}

/** What an answer earns, where that is less than all. */
function partly(answer: { weight?: number }): string {
  return answer.weight === undefined || answer.weight === 1 ? '' : ` ${share(answer.weight)}`
}

function isKey(weight: number | undefined): boolean {
  return (weight ?? 0) > 0
}
</script>

<template>
  <article class="item" @mouseover="pointed" @focusin="pointed" @mouseleave="emit('field', '')">
    <header class="head">
      <span class="type">{{ WORDS.types[item.type ?? ''] }}</span>
      <span v-if="scoringWords(item)" class="faint">{{ scoringWords(item) }}</span>
      <span class="faint">{{ points(item.points) }}</span>
      <strong v-if="item.title" class="title" data-field="title">{{ item.title }}</strong>
    </header>
    <aside v-if="stimulus" class="stimulus"><RichText :content="stimulus" /></aside>
    <RichText class="stem" data-field="stem" :content="item.stem" />

    <ol v-if="choices.length" class="choices">
      <li
        v-for="(choice, index) in choices"
        :key="index"
        :class="{ key: isKey(choice.weight) }"
        :data-field="`choice:${index + 1}`"
      >
        <span
          class="mark"
          :role="isKey(choice.weight) ? 'img' : undefined"
          :aria-label="isKey(choice.weight) ? 'key' : undefined"
          >{{ isKey(choice.weight) ? '✓' : '' }}</span
        >
        <button
          v-if="settable"
          type="button"
          class="letter set"
          :aria-pressed="isKey(choice.weight)"
          :aria-label="`${letter(index)} is the key`"
          :title="index < 9 ? `The key (${index + 1})` : 'The key'"
          @click="emit('key', index + 1)"
        >
          {{ letter(index) }}
        </button>
        <span v-else class="letter">{{ letter(index) }}</span>
        <div>
          <RichText :content="choice.content" />
          <span
            v-if="choice.weight && choice.weight !== 1 && !('scoring' in item && item.scoring === 'all_or_nothing')"
            class="faint"
          >
            {{ share(choice.weight) }}
          </span>
          <RichText v-if="choice.feedback" class="feedback" data-field="feedback" :content="choice.feedback" />
        </div>
      </li>
    </ol>

    <template v-if="item.type === 'true_false'">
      <p class="answer" data-field="marking">
        <span class="faint">Key</span>
        <template v-if="settable">
          <button
            v-for="(truth, index) in TRUTHS"
            :key="truth.words"
            type="button"
            class="set truth"
            :class="{ key: item.answer === truth.is }"
            :aria-pressed="item.answer === truth.is"
            :title="`The key (${index + 1})`"
            @click="emit('key', index + 1)"
          >
            {{ truth.words }}
          </button>
        </template>
        <strong v-if="!settable || item.answer == null">{{
          item.answer === null || item.answer === undefined ? 'none' : item.answer ? 'True' : 'False'
        }}</strong>
      </p>
      <p v-for="(text, side) in item.choice_feedback ?? {}" :key="side" class="feedback">
        If {{ side }}: <RichText inline :content="text" />
      </p>
    </template>

    <p v-if="item.type === 'fill_in'" class="answer" data-field="marking">
      <span class="faint">Accepted{{ item.case_sensitive ? ' (case counts)' : '' }}</span>
      <span v-for="(answer, index) in answers" :key="index" class="accepted">
        {{ 'text' in answer ? answer.text : ''
        }}<span v-if="answer.weight !== 1" class="faint"> {{ share(answer.weight) }}</span
        ><span v-if="'text' in answer && answer.case_sensitive" class="faint"> (case counts)</span>
      </span>
      <strong v-if="!answers.length">nothing</strong>
    </p>
    <p v-if="item.type === 'numeric'" class="answer" data-field="marking">
      <span class="faint">Accepted</span>
      <span v-for="(answer, index) in answers" :key="index" class="accepted">
        {{ 'text' in answer ? '' : numberWords(answer) }} {{ item.unit ?? '' }}
        <span v-if="answer.weight !== 1" class="faint"> {{ share(answer.weight) }}</span>
      </span>
      <strong v-if="!answers.length">nothing</strong>
    </p>

    <table v-if="item.type === 'matching'" class="pairs">
      <tbody>
        <tr v-for="(pair, index) in item.pairs ?? []" :key="index">
          <td><RichText :content="pair.left" /></td>
          <td class="faint">goes with</td>
          <td>
            <RichText :content="pair.right" /><span v-if="pair.share" class="faint"> {{ share(pair.share) }}</span>
          </td>
        </tr>
        <tr v-for="(text, index) in item.distractors ?? []" :key="`d${index}`">
          <td colspan="2" class="faint">no partner</td>
          <td><RichText :content="text" /></td>
        </tr>
      </tbody>
    </table>
    <ol v-if="item.type === 'ordering'" class="order">
      <li v-for="(text, index) in item.sequence ?? []" :key="index"><RichText :content="text" /></li>
    </ol>
    <ul v-if="item.type === 'cloze'" class="order">
      <li v-for="(blank, index) in item.blanks ?? []" :key="index">
        <span class="faint">Blank {{ index + 1 }}&nbsp;</span>
        <span v-if="blank.kind === 'choice'">
          <span
            v-for="choice in blank.choices ?? []"
            :key="choice.id"
            class="accepted"
            :class="{ key: isKey(choice.weight) }"
          >
            <RichText inline :content="choice.content" />
          </span>
        </span>
        <span v-else-if="blank.kind === 'numeric'">
          <span v-for="(a, n) in (blank.answers ?? []).filter(earns)" :key="n" class="accepted">{{
            numberWords(a) + partly(a)
          }}</span>
        </span>
        <span v-else
          ><span v-for="(a, n) in (blank.answers ?? []).filter(earns)" :key="n" class="accepted">{{
            a.text + partly(a)
          }}</span></span
        >
      </li>
    </ul>
    <template v-if="item.type === 'essay'">
      <p v-if="item.sample_answer" class="feedback">Model answer: <RichText inline :content="item.sample_answer" /></p>
      <p v-if="item.rubric" class="feedback">Rubric: <RichText inline :content="item.rubric" /></p>
    </template>
    <details v-if="item.type === 'preserved'" class="original">
      <summary>Its original, kept as it was: {{ item.reason }}</summary>
      <pre>{{ item.original }}</pre>
    </details>

    <p v-for="note in notes" :key="note.of" class="feedback" data-field="feedback">
      {{ note.of }}: <RichText inline :content="note.text" />
    </p>
    <p v-for="[kind, text] in feedback" :key="kind" class="feedback">
      {{ FEEDBACK[kind] }}: <RichText inline :content="text" />
    </p>
    <dl v-if="metadata.length" class="metadata">
      <div v-for="[label, values] in metadata" :key="label">
        <dt>{{ label }}</dt>
        <dd>{{ values.join('; ') }}</dd>
      </div>
    </dl>
  </article>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
  font-size: 12.5px;
  margin-bottom: 6px;
}

.type {
  color: var(--rog-ink-soft);
}

.title {
  font-weight: 500;
}

.stem {
  font-size: 17px;
  margin-bottom: 10px;
}

.stimulus {
  border-left: 2px solid var(--rog-rule-strong);
  padding: 2px 0 2px 14px;
  margin-bottom: 12px;
}

.choices,
.order {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
}

.order {
  list-style: decimal;
  padding-left: 24px;
}

.choices li {
  display: grid;
  grid-template-columns: 18px 20px minmax(0, 1fr);
  padding: 3px 6px;
}

.choices li.key {
  background: var(--rog-key-ground);
}

.mark {
  color: var(--rog-key);
  font-weight: 700;
}

.letter {
  color: var(--rog-ink-faint);
  font-family: var(--rog-serif);
  line-height: 24px;
}

.set {
  appearance: none;
  border: 0;
  padding: 0;
  background: none;
  cursor: pointer;
  font-size: inherit;
  text-align: left;
}

.set:hover {
  color: var(--rog-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}

.truth {
  padding: 0 8px;
  font-family: var(--rog-serif);
  color: var(--rog-ink-soft);
}

.truth.key {
  background: var(--rog-key-ground);
  color: var(--rog-ink);
  font-weight: 600;
}

.answer,
.feedback {
  margin: 6px 0;
}

.answer {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  align-items: baseline;
}

.accepted {
  font-family: var(--rog-serif);
  background: var(--rog-key-ground);
  padding: 0 8px;
  margin-right: 6px;
}

.accepted:not(.key) {
  border-bottom: 1px solid transparent;
}

.feedback,
.feedback :deep(.rich) {
  color: var(--rog-ink-soft);
  font-size: 14px;
}

.pairs td {
  padding: 3px 14px 3px 0;
  vertical-align: baseline;
}

.metadata {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 10px 0 0;
  font-size: 12.5px;
}

.metadata div {
  display: flex;
  gap: 6px;
}

.metadata dt {
  color: var(--rog-ink-faint);
}

.metadata dd {
  margin: 0;
}

.original pre {
  font: 12px/1.45 var(--rog-mono);
  overflow: auto;
  max-height: 300px;
  background: var(--rog-well);
  padding: 10px;
}
</style>
