<script setup lang="ts">
import { foldGutter, foldKeymap, HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { xml } from '@codemirror/lang-xml'
import { EditorState, StateEffect, StateField } from '@codemirror/state'
import { Decoration, EditorView, keymap, lineNumbers, type DecorationSet } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

/** Markup to read: wrapped, folded at its elements, coloured; the lines of `spans` stand out. */
const props = defineProps<{ markup: string; first: number; spans: number[][] }>()
const home = ref<HTMLElement>()
let view: EditorView | undefined

const light = StateEffect.define<number[][]>()
const lit = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(found, transaction) {
    for (const effect of transaction.effects) if (effect.is(light)) return litLines(transaction.state, effect.value)
    return found.map(transaction.changes)
  },
  provide: (field) => EditorView.decorations.from(field),
})

function litLines(state: EditorState, spans: number[][]): DecorationSet {
  const lines = new Set<number>()
  for (const [first = 1, last = first] of spans)
    for (let line = Math.max(1, first); line <= Math.min(last, state.doc.lines); line += 1) lines.add(line)
  const marks = [...lines]
    .sort((a, b) => a - b)
    .map((line) => Decoration.line({ class: 'cm-lit' }).range(state.doc.line(line).from))
  return Decoration.set(marks)
}

const colours = HighlightStyle.define([
  { tag: tags.tagName, color: 'var(--rog-aside)' },
  { tag: tags.attributeName, color: 'var(--rog-caution)' },
  { tag: [tags.attributeValue, tags.string], color: 'var(--rog-key)' },
  { tag: tags.angleBracket, color: 'var(--rog-ink-faint)' },
  { tag: tags.comment, color: 'var(--rog-ink-faint)', fontStyle: 'italic' },
])
const look = EditorView.theme({
  '&': { height: '100%', fontSize: '12.5px', backgroundColor: 'transparent' },
  '.cm-scroller': { fontFamily: 'var(--rog-mono)', lineHeight: '20px' },
  '.cm-gutters': { backgroundColor: 'transparent', color: 'var(--rog-ink-faint)', border: '0' },
  '.cm-lit': { backgroundColor: 'var(--rog-joined)' },
  '.cm-foldPlaceholder': { backgroundColor: 'var(--rog-well)', border: '0', color: 'var(--rog-ink-soft)' },
  '&.cm-focused': { outline: 'none' },
})

function stateOf(markup: string, first: number): EditorState {
  return EditorState.create({
    doc: markup,
    extensions: [
      EditorState.readOnly.of(true),
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': 'Markup of the item', tabindex: '0' }),
      lineNumbers({ formatNumber: (line) => String(line + first - 1) }),
      foldGutter(),
      keymap.of(foldKeymap),
      xml(),
      syntaxHighlighting(colours),
      look,
      lit,
    ],
  })
}
function show(): void {
  view?.setState(stateOf(props.markup, props.first))
  lightUp()
}
function lightUp(): void {
  if (!view) return
  const effects: StateEffect<unknown>[] = [light.of(props.spans)]
  const first = props.spans[0]?.[0]
  if (first && first <= view.state.doc.lines)
    effects.push(EditorView.scrollIntoView(view.state.doc.line(first).from, { y: 'center' }))
  view.dispatch({ effects })
}
onMounted(() => {
  if (!home.value) return
  view = new EditorView({ parent: home.value, state: stateOf(props.markup, props.first) })
  lightUp()
})
onBeforeUnmount(() => view?.destroy())
watch(() => props.markup, show)
watch(() => props.spans, lightUp)
</script>

<template>
  <div ref="home" class="markup" />
</template>

<style scoped>
.markup {
  height: 100%;
  min-height: 0;
}
</style>
