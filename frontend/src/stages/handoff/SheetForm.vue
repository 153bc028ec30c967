<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { sayProblem } from '@/ui/say'
import TypedField from '@/ui/TypedField.vue'
import { WORDS } from '@/ui/words'

import { at, having, sections, type Amount, type Several, type Sheet } from './sentences'

/** A receiver sheet as sentences; what is not right yet stands beside its sentence. */
const props = defineProps<{ sheet: Sheet; formats: Schemas['FormatOut'][]; busy: boolean; readonly: boolean }>()
const emit = defineEmits<{ save: [Sheet]; cancel: [] }>()
const draft = ref<Sheet>(JSON.parse(JSON.stringify(props.sheet)) as Sheet)
const problems = ref<Schemas['FieldProblem'][]>([])
const told = computed(() => sections(Object.entries(WORDS.quiz_facets).filter(([name]) => !PARTS.has(name))))
const PARTS = new Set(['title', 'parts', 'order', 'draws', 'points', 'passages', 'instructions', 'pages'])
const types = computed(() => Object.entries(WORDS.types).filter(([name]) => name !== 'preserved'))
const set = (path: string, value: unknown) => (draft.value = having(draft.value, path, value))
const text = (path: string) => String(at(draft.value, path) ?? '')
const wrong = (path: string) => problems.value.find((problem) => problem.field === path)?.why
const rows = computed(() => (draft.value.formats as { name: string; note: string }[]) ?? [])
const steps = computed(() => (draft.value.steps as string[]) ?? [])
const writable = computed(() => props.formats.filter((entry) => entry.write))
const unused = computed(() => writable.value.filter((entry) => !rows.value.some((row) => row.name === entry.name)))

function typeHabit(name: string): string {
  return String((draft.value.types as Sheet | undefined)?.[name] ?? 'takes')
}
function setType(name: string, habit: string): void {
  const rest = Object.entries((draft.value.types as Sheet | undefined) ?? {}).filter(([other]) => other !== name)
  set('types', Object.fromEntries(habit === 'takes' ? rest : [...rest, [name, habit]]))
}
function setAmount(piece: Amount, typed: string): void {
  const number = Number(typed.replace(',', '.'))
  set(piece.path, typed.trim() === '' || Number.isNaN(number) ? null : number * (piece.scale ?? 1))
}
function shownAmount(piece: Amount): string {
  const value = at(draft.value, piece.path) as number | null | undefined
  return value === null || value === undefined ? '' : String(value / (piece.scale ?? 1))
}
function toggle(piece: Several, value: string): void {
  const now = (at(draft.value, piece.path) as string[]) ?? []
  set(piece.path, now.includes(value) ? now.filter((one) => one !== value) : [...now, value])
}
const holds = (piece: Several, value: string) => ((at(draft.value, piece.path) as string[]) ?? []).includes(value)
const moved = (from: number) => {
  const list = [...rows.value]
  const [row] = list.splice(from, 1)
  if (row) list.splice(from - 1, 0, row)
  set('formats', list)
}
watchDebounced(
  draft,
  () =>
    ok(client.POST('/api/receivers/check', { body: { sheet: draft.value } }))
      .then((checked) => (problems.value = checked.problems))
      .catch(sayProblem),
  { debounce: 250, deep: true },
)
</script>

<template>
  <form class="sheet" @submit.prevent="emit('save', draft)">
    <fieldset :disabled="readonly">
      <legend class="visually-hidden">What this receiver does</legend>
      <p class="sentence">
        It is called
        <TypedField
          :model-value="text('title')"
          aria-label="Title"
          class="wide"
          @update:model-value="set('title', $event)"
        />
        and is a
        <select
          :value="text('kind')"
          aria-label="Kind"
          @change="set('kind', ($event.target as HTMLSelectElement).value)"
        >
          <option>course platform</option>
          <option>live quiz board</option>
          <option>paper</option></select
        >. In short:
        <span class="wrong">{{ wrong('title') }}</span>
      </p>
      <textarea
        :value="text('about')"
        rows="2"
        aria-label="What it is"
        @change="set('about', ($event.target as HTMLTextAreaElement).value)"
      />
      <h3>What it reads</h3>
      <p v-for="(row, n) in rows" :key="row.name" class="sentence">
        {{ n === 0 ? 'It reads' : 'else' }}
        <strong>{{ formats.find((entry) => entry.name === row.name)?.label ?? row.name }}</strong>,
        <TypedField
          :model-value="row.note"
          :aria-label="`What is peculiar to ${row.name}`"
          class="wide"
          @update:model-value="
            set(
              `formats`,
              rows.map((one, at) => (at === n ? { ...one, note: $event } : one)),
            )
          "
        />
        <button v-if="n" type="button" class="link-button" @click="moved(n)">rather</button>
        <button
          v-if="rows.length > 1"
          type="button"
          class="link-button"
          @click="
            set(
              'formats',
              rows.filter((_, at) => at !== n),
            )
          "
        >
          not any more
        </button>
      </p>
      <p v-if="unused.length && !readonly" class="sentence">
        and
        <select
          aria-label="Another format"
          value=""
          @change="
            (set('formats', [...rows, { name: ($event.target as HTMLSelectElement).value, note: '' }]),
            (($event.target as HTMLSelectElement).value = ''))
          "
        >
          <option value="">another format…</option>
          <option v-for="entry in unused" :key="entry.name" :value="entry.name">{{ entry.label }}</option>
        </select>
      </p>
      <h3>Which types it takes</h3>
      <div class="types">
        <p v-for="[name, label] in types" :key="name" class="sentence">
          <span class="type">{{ label }}</span> is
          <select
            :value="typeHabit(name)"
            :aria-label="`What becomes of ${label}`"
            @change="setType(name, ($event.target as HTMLSelectElement).value)"
          >
            <option value="takes">taken</option>
            <option value="refuses">not taken</option>
            <option
              v-for="[other, words] in types.filter(([one]) => one !== name)"
              :key="other"
              :value="`turns into ${other}`"
            >
              turned into {{ words }}
            </option>
          </select>
          <span class="wrong">{{ wrong(`types.${name}`) }}</span>
        </p>
      </div>
      <template v-for="section in told" :key="section.title">
        <h3>{{ section.title }}</h3>
        <p v-for="(sentence, n) in section.sentences" :key="n" class="sentence">
          <template v-for="(piece, place) in sentence" :key="place">
            <template v-if="typeof piece === 'string'">{{ piece }}</template>
            <select
              v-else-if="piece.kind === 'choice'"
              :value="text(piece.path) || piece.options[0]![0]"
              :aria-label="piece.label"
              @change="set(piece.path, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="[value, words] in piece.options" :key="value" :value="value">{{ words }}</option>
            </select>
            <TypedField
              v-else-if="piece.kind === 'amount'"
              :model-value="shownAmount(piece)"
              :aria-label="piece.label"
              :placeholder="piece.none"
              inputmode="decimal"
              class="amount"
              @update:model-value="setAmount(piece, $event)"
            />
            <TypedField
              v-else-if="piece.kind === 'words'"
              :model-value="text(piece.path)"
              :aria-label="piece.label"
              placeholder="none"
              class="amount"
              @update:model-value="set(piece.path, $event)"
            />
            <span v-else class="several" role="group" :aria-label="piece.label">
              <label v-for="[value, words] in piece.options" :key="value">
                <input type="checkbox" :checked="holds(piece, value)" @change="toggle(piece, value)" />{{ words }}
              </label>
            </span>
            <span v-if="typeof piece !== 'string' && wrong(piece.path)" class="wrong">{{ wrong(piece.path) }}</span>
          </template>
        </p>
      </template>
      <h3>What to do there</h3>
      <ol>
        <li v-for="(step, n) in steps" :key="n">
          <TypedField
            :model-value="step"
            :aria-label="`Step ${n + 1}`"
            class="step"
            @update:model-value="
              set(
                'steps',
                $event.trim() ? steps.map((one, at) => (at === n ? $event : one)) : steps.filter((_, at) => at !== n),
              )
            "
          />
        </li>
      </ol>
      <button
        v-if="steps.length < 6 && !readonly"
        type="button"
        class="link-button"
        @click="set('steps', [...steps, 'Then…'])"
      >
        One more step
      </button>
      <span class="wrong">{{ wrong('steps') }}</span>
    </fieldset>
    <div v-if="!readonly" class="row buttons">
      <ElButton type="primary" native-type="submit" :disabled="problems.length > 0" :loading="busy">Keep it</ElButton>
      <button type="button" class="link-button" @click="emit('cancel')">Leave it as it was</button>
      <span v-if="problems.length" class="wrong" role="status">{{ problems[0]!.field }}: {{ problems[0]!.why }}</span>
    </div>
  </form>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}

.sentence {
  margin: 5px 0;
  line-height: 2;
}

.sentence .link-button {
  margin-left: 12px;
}

h3 {
  margin: 16px 0 2px;
  font-size: 14.5px;
}

input:not([type='checkbox']),
textarea {
  font: inherit;
  color: inherit;
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  padding: 2px 7px;
}

.wide {
  width: 270px;
}

.amount {
  width: 108px;
}

.step,
textarea {
  width: 100%;
}

.types {
  columns: 2;
}

.types .sentence {
  break-inside: avoid;
  margin: 0;
}

.type {
  display: inline-block;
  min-width: 128px;
}

.several label {
  white-space: nowrap;
  margin-right: 14px;
}

.several input {
  margin-right: 5px;
  accent-color: var(--rog-ink);
}

ol {
  margin: 4px 0;
  padding-left: 22px;
}

li {
  margin: 4px 0;
}

.wrong {
  color: var(--rog-signal);
  font-weight: 500;
}

.buttons {
  position: sticky;
  bottom: 0;
  gap: 16px;
  padding: 12px 0;
  background: var(--rog-paper);
  border-top: 1px solid var(--rog-rule);
}

fieldset:disabled {
  color: inherit;
}

fieldset:disabled select,
fieldset:disabled input {
  color: inherit;
  opacity: 1;
}
</style>
