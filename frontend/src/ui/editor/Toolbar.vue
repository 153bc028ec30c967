<script setup lang="ts">
import type { Editor } from '@tiptap/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'

import type { Field } from './tools'

/** What can be done to the text of the field that was last written in; the arrow keys go along it. */
const props = defineProps<{ field: Field | undefined }>()
const home = ref<HTMLElement>()
const chooser = ref<HTMLInputElement>()

const run = (change: (chain: ReturnType<Editor['chain']>) => ReturnType<Editor['chain']>) =>
  props.field && change(props.field.editor.chain().focus()).run()
interface Tool {
  name: string
  sign: string
  active?: string
  run: () => unknown
}
const MARKS: Tool[] = [
  { name: 'Bold (Ctrl+B)', sign: 'B', active: 'bold', run: () => run((chain) => chain.toggleBold()) },
  { name: 'Italic (Ctrl+I)', sign: 'I', active: 'italic', run: () => run((chain) => chain.toggleItalic()) },
  { name: 'Underlined (Ctrl+U)', sign: 'U', active: 'underline', run: () => run((chain) => chain.toggleUnderline()) },
  { name: 'Struck out', sign: 'S', active: 'strike', run: () => run((chain) => chain.toggleStrike()) },
  { name: 'Lowered (Ctrl+,)', sign: 'x₂', active: 'subscript', run: () => run((chain) => chain.toggleSubscript()) },
  { name: 'Raised', sign: 'x²', active: 'superscript', run: () => run((chain) => chain.toggleSuperscript()) },
  { name: 'Code (Ctrl+E)', sign: '{ }', active: 'code', run: () => run((chain) => chain.toggleCode()) },
]
const BLOCKS: Tool[] = [
  { name: 'List', sign: '•', active: 'bulletList', run: () => run((chain) => chain.toggleBulletList()) },
  { name: 'Numbered list', sign: '1.', active: 'orderedList', run: () => run((chain) => chain.toggleOrderedList()) },
  { name: 'Block of code', sign: '</>', active: 'codeBlock', run: () => run((chain) => chain.toggleCodeBlock()) },
  {
    name: 'Table',
    sign: '▦',
    active: 'table',
    run: () => run((chain) => chain.insertTable({ rows: 2, cols: 2, withHeaderRow: true })),
  },
]
const IN_TABLE: Tool[] = [
  { name: 'Row below', sign: '+ row', run: () => run((chain) => chain.addRowAfter()) },
  { name: 'Column to the right', sign: '+ column', run: () => run((chain) => chain.addColumnAfter()) },
  { name: 'Remove the row', sign: '− row', run: () => run((chain) => chain.deleteRow()) },
  { name: 'Remove the column', sign: '− column', run: () => run((chain) => chain.deleteColumn()) },
  { name: 'Remove the table', sign: '− table', run: () => run((chain) => chain.deleteTable()) },
]
// What is active changes with every key: the editor's own state is not reactive, so each of its steps is counted.
const steps = ref(0)
const counted = () => (steps.value += 1)
watch(
  () => props.field?.editor,
  (now, before) => {
    before?.off('transaction', counted)
    now?.on('transaction', counted)
  },
  { immediate: true },
)
onBeforeUnmount(() => props.field?.editor.off('transaction', counted))
const isActive = (name: string | undefined) => Boolean(steps.value >= 0 && name && props.field?.editor.isActive(name))
const inTable = computed(() => isActive('table'))
const tools = computed<Tool[]>(() => [
  ...MARKS,
  ...BLOCKS,
  ...(inTable.value ? IN_TABLE : []),
  { name: 'Formula (Ctrl+M)', sign: '∑', run: () => props.field?.formula() },
  { name: 'Picture', sign: 'Picture', run: () => chooser.value?.click() },
  ...(props.field?.blanks ? [{ name: 'Blank (Ctrl+.)', sign: 'Blank', run: () => props.field?.blank() }] : []),
])

function go(event: KeyboardEvent, step: number): void {
  const buttons = [...(home.value?.querySelectorAll('button') ?? [])]
  const at = buttons.indexOf(event.target as HTMLButtonElement)
  buttons[(at + step + buttons.length) % buttons.length]?.focus()
}
function chosen(event: Event): void {
  const field = event.target as HTMLInputElement
  props.field?.files(field.files)
  field.value = ''
}
</script>

<template>
  <div
    ref="home"
    class="tools"
    role="toolbar"
    :aria-label="field ? `Formatting of ${field.label}` : 'Formatting'"
    @keydown.right.prevent="go($event, 1)"
    @keydown.left.prevent="go($event, -1)"
    @mousedown.prevent
  >
    <button
      v-for="(tool, index) in tools"
      :key="tool.name"
      type="button"
      :title="tool.name"
      :aria-pressed="tool.active ? isActive(tool.active) : undefined"
      :disabled="!field"
      :tabindex="index ? -1 : 0"
      @click="tool.run()"
    >
      <span aria-hidden="true">{{ tool.sign }}</span><span class="visually-hidden">{{ tool.name }}</span>
    </button>
    <input
      ref="chooser"
      class="visually-hidden"
      type="file"
      accept="image/*"
      multiple
      tabindex="-1"
      aria-label="Pictures"
      @change="chosen"
    />
    <slot />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  position: sticky;
  top: -12px;
  z-index: 3;
  padding: 2px 4px;
  border: 1px solid var(--rog-rule);
  background: var(--rog-well);
}

button:disabled {
  opacity: 0.45;
  cursor: default;
}

.tools :slotted(button),
button {
  min-width: 27px;
  height: 25px;
  padding: 0 6px;
  border: 0;
  background: none;
  color: var(--rog-ink-soft);
  font: 500 12.5px var(--rog-sans);
  cursor: pointer;
}

button:hover,
button[aria-pressed='true'] {
  background: var(--rog-joined);
  color: var(--rog-ink);
}
</style>
