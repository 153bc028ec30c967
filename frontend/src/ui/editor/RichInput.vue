<script setup lang="ts">
import Subscript from '@tiptap/extension-subscript'
import Superscript from '@tiptap/extension-superscript'
import { TableKit } from '@tiptap/extension-table'
import StarterKit from '@tiptap/starter-kit'
import { EditorContent, useEditor } from '@tiptap/vue-3'
import { onBeforeUnmount, ref, watch } from 'vue'

import { uploadMedia } from '@/api/client'

import { useAsking } from '../asking'
import { useCourse } from '../useCourse'

import { toContent, toEditor } from './content'
import { BlankNode, FormulaNode, KeptBlock, KeptInline, PictureNode } from './pieces'
import { useField, type Field } from './tools'

/** A field of rich content. With `blanks`, places to fill in can be put into it: `newBlank` gives the identifier of the next. */
const model = defineModel<string>({ required: true })
const props = defineProps<{ label: string; newBlank?: () => string }>()
const course = useCourse()
const focused = ref(false)
const field = useField()
const { ask } = useAsking()
let given = model.value

const editor = useEditor({
  content: toEditor(model.value),
  extensions: [
    StarterKit.configure({ heading: false, horizontalRule: false, link: { openOnClick: false } }),
    Subscript,
    Superscript,
    TableKit.configure({ table: { resizable: false } }),
    FormulaNode,
    BlankNode,
    PictureNode,
    KeptInline,
    KeptBlock,
  ],
  editorProps: {
    attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': props.label, class: 'rich field' },
    handlePaste: (_view, event) => takeFiles(event.clipboardData?.files),
    handleDrop: (_view, event) => takeFiles((event as DragEvent).dataTransfer?.files),
  },
  onUpdate: ({ editor: now }) => {
    given = toContent(now.getHTML())
    model.value = given
  },
  onFocus: () => {
    focused.value = true
    field.value = own()
  },
  onBlur: () => (focused.value = false),
})

/** Pictures that are pasted, dropped or chosen; returns whether there were any. */
function takeFiles(files: FileList | undefined | null): boolean {
  const pictures = [...(files ?? [])].filter((file) => file.type.startsWith('image/'))
  if (!pictures.length) return false
  ask(
    () => uploadMedia(course.value, pictures),
    (added) => added.forEach(({ ref: src }) => insert({ type: 'picture', attrs: { src, alt: null } })),
  )
  return true
}
function insert(piece: Record<string, unknown>): void {
  editor.value?.chain().focus().insertContent(piece).run()
}
const insertFormula = () => insert({ type: 'formula', attrs: { tex: '', mathml: '', display: '' } })
function insertBlank(): void {
  const name = props.newBlank?.()
  if (name) insert({ type: 'blank', attrs: { blank: name } })
}

/** Ctrl+M puts in a formula, Ctrl+. a blank. */
function keyed(event: KeyboardEvent): void {
  if (!(event.ctrlKey || event.metaKey)) return
  const run = { m: insertFormula, '.': insertBlank }[event.key]
  if (!run) return
  event.preventDefault()
  run()
}
/** This field, as the toolbar works on it. */
function own(): Field | undefined {
  return (
    editor.value && {
      label: props.label,
      editor: editor.value,
      blanks: Boolean(props.newBlank),
      formula: insertFormula,
      blank: insertBlank,
      files: takeFiles,
    }
  )
}
onBeforeUnmount(() => {
  if (field.value?.editor === editor.value) field.value = undefined
})

watch(model, (now) => {
  if (now !== given) {
    given = now
    editor.value?.commands.setContent(toEditor(now), { emitUpdate: false })
  }
})
</script>

<template>
  <div class="rich-input" :class="{ focused }" @keydown="keyed">
    <EditorContent :editor="editor" />
  </div>
</template>

<style>
.rich-input {
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  min-width: 0;
}

.rich-input.focused {
  border-color: var(--rog-ink);
}

.rich-input .field {
  padding: 4px 9px;
  min-height: 30px;
  outline: none;
}

.rich-input .field p {
  margin: 0 0 4px;
}

.rich-input .field table {
  border-collapse: collapse;
}

.rich-input .field td,
.rich-input .field th {
  min-width: 44px;
  border: 1px solid var(--rog-rule-strong);
}

.rich-input .selectedCell {
  background: var(--rog-joined);
}
</style>
