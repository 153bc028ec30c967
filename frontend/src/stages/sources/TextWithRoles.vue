<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'

import { decided, DECIDABLE, roleOfKey, roleWord, type LineRole, type Roles } from './lineRoles'

const text = defineModel<string>({ required: true })
const roles = defineModel<Roles>('roles', { default: () => ({}) })
const props = defineProps<{ course: number; label: string; placeholder?: string; height: string; format?: string }>()
const gift = computed(() => props.format === 'gift')
const emit = defineEmits<{ formatted: [string] }>()

const field = ref<HTMLTextAreaElement>()
const preview = ref<Schemas['Preview']>()
const scrolled = ref(0)
let asked = 0

/** Late answers to an earlier text are dropped. */
async function look(): Promise<void> {
  const run = ++asked
  if (!text.value.trim()) {
    preview.value = undefined
    return
  }
  const params = { path: { course_id: props.course } }
  const answer = await ok(
    client.POST('/api/courses/{course_id}/sources/preview', {
      params,
      body: { text: text.value, roles: roles.value, format: gift.value ? 'gift' : 'marked-text' },
    }),
  ).catch(() => undefined)
  if (run === asked && answer) preview.value = answer
}
// The timer ends with the view: what was closed is not asked about any more.
const { start: lookSoon } = useTimeoutFn(look, 150, { immediate: false })
watch([text, roles], () => lookSoon(), { immediate: true })

const byNumber = computed(() => new Map(preview.value?.lines.map((line) => [line.number, line])))
const rows = computed(() => text.value.split('\n').map((_, index) => byNumber.value.get(index + 1)))
const queries = computed(() => (preview.value?.lines ?? []).filter((line) => line.message))
const SHARES: Partial<Record<LineRole, string>> = { more: 'goes on' }
const LEGEND = DECIDABLE.map(({ role }, index) => ({ digit: index + 1, word: SHARES[role] ?? roleWord(role) }))

/** Alt and a digit say what the line at the cursor is. */
function decide(event: KeyboardEvent): void {
  const role = roleOfKey(event)
  if (role === undefined || gift.value) return
  event.preventDefault()
  const line = text.value.slice(0, field.value?.selectionStart ?? 0).split('\n').length
  const name = byNumber.value.get(line)?.name
  if (name) roles.value = decided(roles.value, name, role ?? undefined)
}

/** Puts the cursor at a line's start, and the line in view. */
function goTo(line: number): void {
  const start = text.value
    .split('\n')
    .slice(0, line - 1)
    .reduce((sum, entry) => sum + entry.length + 1, 0)
  field.value?.focus()
  field.value?.setSelectionRange(start, start)
  if (field.value) field.value.scrollTop = Math.max(0, (line - 4) * 20)
}
defineExpose({ goTo })

function pasted(event: ClipboardEvent): void {
  const html = event.clipboardData?.getData('text/html') ?? ''
  if (html && !text.value.trim()) emit('formatted', html)
}
</script>

<template>
  <div class="text-with-roles">
    <div class="panes" :style="{ height }">
      <div class="gutter" aria-hidden="true">
        <div :style="{ transform: `translateY(${-scrolled}px)` }">
          <div
            v-for="(row, index) in rows"
            :key="index"
            class="row"
            :class="[row?.level, { odd: (row?.item ?? 0) % 2 === 1, said: row && roles[row.name] }]"
          >
            <span class="number">{{ index + 1 }}</span>
            <span class="role">{{ roleWord(row?.role) }}</span>
          </div>
        </div>
      </div>
      <textarea
        ref="field"
        v-model="text"
        :aria-label="label"
        :placeholder="placeholder"
        spellcheck="false"
        wrap="off"
        @paste="pasted"
        @keydown="decide"
        @scroll="scrolled = field?.scrollTop ?? 0"
      />
    </div>
    <p class="sum" role="status">
      <template v-if="preview">
        <strong>{{ preview.items }}</strong> {{ preview.items === 1 ? 'item' : 'items' }} so far<template
          v-if="preview.flagged"
          >, <span class="signal">{{ preview.flagged }} to look at</span></template
        ><template v-if="queries[0]">
          ·
          <button type="button" class="link-button" @click="goTo(queries[0].number)">
            line {{ queries[0].number }}: {{ queries[0].message }}
          </button>
        </template>
      </template>
      <span v-else class="faint">What each line is read as appears beside it.</span>
    </p>
    <!-- It keeps its place before there is anything to say: the buttons below must not move while they are pressed. -->
    <p class="legend faint" :class="{ away: !preview || gift }">
      Say what the line at the cursor is: <kbd>Alt</kbd> and
      <span v-for="entry in LEGEND" :key="entry.digit"
        ><kbd>{{ entry.digit }}</kbd> {{ entry.word }}</span
      ><span><kbd>0</kbd> as found</span>
    </p>
  </div>
</template>

<style scoped>
.panes {
  display: grid;
  grid-template-columns: 112px minmax(0, 1fr);
  border: 1px solid var(--rog-rule-strong);
  background: var(--rog-sheet);
}

.gutter {
  overflow: hidden;
  padding: 10px 0;
  border-right: 1px solid var(--rog-rule);
  background: var(--rog-well);
}

.row {
  display: flex;
  height: 20px;
  font: 11px/20px var(--rog-sans);
  color: var(--rog-ink-soft);
  border-left: 3px solid transparent;
}

.row.odd {
  border-left-color: var(--rog-rule-strong);
}

.row.error {
  background: var(--rog-signal-ground);
  color: var(--rog-signal);
  border-left-color: var(--rog-signal);
}

.row.warning {
  background: var(--rog-caution-ground);
  color: var(--rog-caution);
  border-left-color: var(--rog-caution);
}

.row.said .role {
  font-weight: 600;
  text-decoration: underline;
  text-underline-offset: 3px;
}

.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  margin: 2px 0 0;
  font-size: 12px;
}

.legend.away {
  visibility: hidden;
}

.number {
  width: 34px;
  padding-right: 8px;
  text-align: right;
  font-variant-numeric: tabular-nums;
}

textarea {
  min-width: 0;
  padding: 10px 12px;
  border: 0;
  resize: none;
  font: 13px/20px var(--rog-mono);
  color: var(--rog-ink);
  background: transparent;
  white-space: pre;
}

.sum {
  margin: 6px 0 0;
  min-height: 21px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.signal {
  color: var(--rog-signal);
  font-weight: 500;
}
</style>
