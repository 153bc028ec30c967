<script setup lang="ts">
import type { Editor } from '@tiptap/core'
import { computed, ref } from 'vue'

/** What can be done to the text of a field; the arrow keys go along it. */
const props = defineProps<{ editor: Editor; label: string; blanks: boolean }>()
const emit = defineEmits<{ formula: []; blank: []; files: [FileList | null] }>()
const home = ref<HTMLElement>()
const chooser = ref<HTMLInputElement>()

const run = (change: (chain: ReturnType<Editor['chain']>) => ReturnType<Editor['chain']>) =>
  change(props.editor.chain().focus()).run()
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
const inTable = computed(() => props.editor.isActive('table'))
const tools = computed<Tool[]>(() => [
  ...MARKS,
  ...BLOCKS,
  ...(inTable.value ? IN_TABLE : []),
  { name: 'Formula (Ctrl+M)', sign: '∑', run: () => emit('formula') },
  { name: 'Picture', sign: 'Picture', run: () => chooser.value?.click() },
  ...(props.blanks ? [{ name: 'Blank (Ctrl+.)', sign: 'Blank', run: () => emit('blank') }] : []),
])

function go(event: KeyboardEvent, step: number): void {
  const buttons = [...(home.value?.querySelectorAll('button') ?? [])]
  const at = buttons.indexOf(event.target as HTMLButtonElement)
  buttons[(at + step + buttons.length) % buttons.length]?.focus()
}
function chosen(event: Event): void {
  const field = event.target as HTMLInputElement
  emit('files', field.files)
  field.value = ''
}
</script>

<template>
  <div
    ref="home"
    class="tools"
    role="toolbar"
    :aria-label="`Formatting of ${label}`"
    @keydown.right.prevent="go($event, 1)"
    @keydown.left.prevent="go($event, -1)"
    @mousedown.prevent
  >
    <button
      v-for="(tool, index) in tools"
      :key="tool.name"
      type="button"
      :title="tool.name"
      :aria-label="tool.name"
      :aria-pressed="tool.active ? editor.isActive(tool.active) : undefined"
      :tabindex="index ? -1 : 0"
      @click="tool.run()"
    >
      {{ tool.sign }}
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
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  padding: 2px 4px;
  border-bottom: 1px solid var(--rog-rule);
  background: var(--rog-well);
}

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
