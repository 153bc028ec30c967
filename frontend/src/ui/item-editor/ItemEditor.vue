<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'

import { provideAsking } from '../asking'
import RichInput from '../editor/RichInput.vue'
import Toolbar from '../editor/Toolbar.vue'
import { provideField } from '../editor/tools'
import ScoringFields from '../ScoringFields.vue'
import { WORDS } from '../words'

import BlanksFields from './BlanksFields.vue'
import CheckedNotes from './CheckedNotes.vue'
import ChoicesFields from './ChoicesFields.vue'
import MetadataFields from './MetadataFields.vue'
import NoteField from './NoteField.vue'
import NumberAnswers from './NumberAnswers.vue'
import OrderFields from './OrderFields.vue'
import PairsFields from './PairsFields.vue'
import PassageField, { type Passage } from './PassageField.vue'
import TextAnswers from './TextAnswers.vue'
import TruthFields from './TruthFields.vue'
import { freeName, type AnyItem } from './types'
import { useDraft } from './useDraft'

/** Every field of an item. `draftKey` names what is typed while it is not saved; `passages` are those that it can share. */
const props = defineProps<{
  item: AnyItem
  saving?: boolean
  draftKey?: string
  version?: string
  passages?: Passage[]
}>()
const emit = defineEmits<{ save: [AnyItem, Passage | undefined, string]; cancel: [] }>()
const { draft, resumed, version, become, forget, startAnew } = useDraft(props.item, props.draftKey, props.version ?? '')
const field = provideField()
const { ask, settled, refused } = provideAsking()
const shared = ref<Passage[]>((props.passages ?? []).map((entry) => ({ ...entry })))
const told = ref(0)
const notes = ref<InstanceType<typeof CheckedNotes>>()
const retyped = ref<Schemas['RetypedOut'] & { before: AnyItem }>()
const FEEDBACK = { general: 'Feedback to all', correct: 'Feedback if right', incorrect: 'Feedback if wrong' } as const

const pointsText = computed({
  get: () => (draft.points == null ? '' : String(draft.points)),
  set: (text) => {
    const typed = text.trim().replace(',', '.')
    draft.points = typed === '' || Number.isNaN(Number(typed)) ? null : Number(typed)
  },
})

/** Another type, as the core makes it: what stays and what goes is told, and the way back is kept. */
function retype(type: string): void {
  let before: string
  ask(
    () => {
      before = JSON.stringify(draft)
      return ok(client.POST('/api/item-type', { body: { item: draft, type: type as never } }))
    },
    (made) => {
      // What was typed meanwhile goes over into the other type too.
      if (JSON.stringify(draft) !== before) return retype(type)
      retyped.value = { ...made, before: JSON.parse(before) as AnyItem }
      become(made.item)
    },
  )
}
function backToType(): void {
  if (retyped.value) become(retyped.value.before)
  retyped.value = undefined
}

/** A name that no blank has, neither those of the stem nor those that the core has seen of it. */
function newBlank(): string {
  const inStem = [...(draft.stem ?? '').matchAll(/data-blank="([^"]*)"/g)].map((match) => match[1] ?? '')
  return freeName('b', [...inStem, ...('blanks' in draft ? (draft.blanks ?? []).map((blank) => blank.id) : [])])
}
function note(kind: keyof typeof FEEDBACK, text: string | null | undefined): void {
  const told = { ...(draft.feedback ?? {}) }
  if (text) told[kind] = text
  else Reflect.deleteProperty(told, kind)
  draft.feedback = told
}
/** The passage where its text was changed, or is new. */
function changedPassage(): Passage | undefined {
  const mine = shared.value.find((entry) => entry.id === draft.stimulus)
  const before = props.passages?.find((entry) => entry.id === draft.stimulus)
  return mine && mine.content !== before?.content ? mine : undefined
}
const waiting = ref(false)
/** What is still in a field, or still asked of the core, is a part of what is saved. */
async function save(): Promise<void> {
  if (waiting.value) return
  waiting.value = true
  const written = document.activeElement as HTMLElement | null
  written?.blur()
  await nextTick()
  if (await settled()) emit('save', draft, changedPassage(), version.value)
  waiting.value = false
  written?.focus()
}
function leave(): void {
  forget()
  emit('cancel')
}
defineExpose({ forget })
</script>

<template>
  <form class="editor" @submit.prevent="save" @keydown.ctrl.enter.prevent="save">
    <Toolbar :field="field">
      <button v-if="told" type="button" class="to-notes" @click="notes?.$el.scrollIntoView({ block: 'nearest' })">
        {{ told }} {{ told === 1 ? 'note' : 'notes' }} on it
      </button>
    </Toolbar>
    <p v-if="resumed" class="told" role="status">
      You go on with what you typed before.
      <button type="button" class="link-button" @click="startAnew">Start from what is there</button>
    </p>
    <div class="row head">
      <label
        >Type
        <select
          :key="refused"
          :value="draft.type"
          aria-label="Type"
          @change="retype(($event.target as HTMLSelectElement).value)"
        >
          <option v-if="!WORDS.types_to_make.includes(draft.type ?? '')" :value="draft.type">
            {{ WORDS.types[draft.type ?? ''] }}
          </option>
          <option v-for="name in WORDS.types_to_make" :key="name" :value="name">{{ WORDS.types[name] ?? name }}</option>
        </select></label
      >
      <label>Points <input v-model="pointsText" class="points-field" inputmode="decimal" aria-label="Points" /></label>
      <label class="grow">Title <input v-model="draft.title" class="title-field" aria-label="Title" /></label>
    </div>
    <p v-if="retyped" class="told" role="status">
      Now {{ WORDS.types[draft.type ?? ''] }}.
      <template v-if="retyped.stays.length">Stays: {{ retyped.stays.join(', ') }}.</template>
      <strong v-if="retyped.goes.length"> Goes: {{ retyped.goes.join(', ') }}.</strong>
      <strong v-if="retyped.marks"> Marked differently: {{ retyped.marks }}</strong>
      <button type="button" class="link-button" @click="backToType">
        Back to {{ WORDS.types[retyped.before.type ?? ''] }}
      </button>
    </p>
    <PassageField v-if="passages" v-model="draft.stimulus" v-model:passages="shared" />
    <span class="caption">Stem</span>
    <RichInput
      :key="draft.type"
      v-model="draft.stem!"
      label="Stem"
      :new-blank="draft.type === 'cloze' ? newBlank : undefined"
    />

    <ChoicesFields v-if="draft.type === 'multiple_choice' || draft.type === 'multiple_response'" :model-value="draft" />
    <TruthFields v-else-if="draft.type === 'true_false'" :model-value="draft" />
    <template v-else-if="draft.type === 'fill_in'">
      <span class="caption">Accepted answers</span>
      <TextAnswers v-model="draft.answers!" />
      <label><input v-model="draft.case_sensitive" type="checkbox" /> Upper and lower case count</label>
    </template>
    <template v-else-if="draft.type === 'numeric'">
      <span class="caption">Accepted numbers</span>
      <NumberAnswers v-model="draft.answers!" />
      <label
        >Unit
        <input
          class="points-field"
          :value="draft.unit ?? ''"
          aria-label="Unit"
          @change="draft.unit = ($event.target as HTMLInputElement).value.trim() || null"
      /></label>
    </template>
    <BlanksFields v-else-if="draft.type === 'cloze'" :model-value="draft" />
    <PairsFields v-else-if="draft.type === 'matching'" :model-value="draft" />
    <OrderFields v-else-if="draft.type === 'ordering'" :model-value="draft" />
    <template v-else-if="draft.type === 'essay'">
      <NoteField v-model="draft.sample_answer" label="Model answer" add="+ model answer" />
      <NoteField v-model="draft.rubric" label="Rubric" add="+ rubric" />
    </template>
    <ScoringFields v-if="'scoring' in draft" :model-value="draft" @update:model-value="Object.assign(draft, $event)" />

    <span class="caption">Feedback</span>
    <NoteField
      v-for="(label, kind) in FEEDBACK"
      :key="kind"
      :model-value="draft.feedback?.[kind]"
      :label="label"
      :add="`+ ${label.toLowerCase()}`"
      @update:model-value="note(kind, $event)"
    />
    <MetadataFields :model-value="draft" />
    <div class="row end">
      <ElButton type="primary" native-type="submit" :loading="saving || waiting"
        >Save the item <kbd>Ctrl+Enter</kbd></ElButton
      >
      <ElButton @click="leave">Leave it as it was</ElButton>
      <span class="faint hint"
        ><kbd>Ctrl+M</kbd> puts in a formula; what you type is kept until you save or leave.</span
      >
    </div>
    <!-- Below the buttons: what comes and goes while one types must not move them. -->
    <CheckedNotes ref="notes" :item="draft" @count="told = $event" />
  </form>
</template>

<style>
.editor {
  display: grid;
  gap: 5px;
}

.editor > * {
  min-width: 0;
}

.editor > .add {
  justify-self: start;
}

.editor .caption {
  margin-top: 10px;
  font-size: 12.5px;
  font-weight: 500;
  color: var(--rog-ink-soft);
}

.editor .head {
  gap: 18px;
  flex-wrap: wrap;
}

.editor .grow {
  flex: 1;
  display: flex;
  gap: 6px;
  align-items: baseline;
}

.editor .points-field,
.editor .title-field {
  padding: 3px 8px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.editor .points-field {
  width: 76px;
}

.editor .title-field {
  flex: 1;
  min-width: 120px;
}

.editor .told {
  margin: 0;
  padding: 5px 10px;
  background: var(--rog-joined);
}

.editor .end {
  margin-top: 10px;
}

.editor .to-notes {
  margin-left: auto;
  color: var(--rog-signal);
}

.editor .hint {
  font-size: 12.5px;
}
</style>
