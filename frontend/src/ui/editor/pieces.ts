import { mergeAttributes, Node } from '@tiptap/core'
import { VueNodeViewRenderer } from '@tiptap/vue-3'

import BlankPiece from './BlankPiece.vue'
import FormulaPiece from './FormulaPiece.vue'
import KeptPiece from './KeptPiece.vue'
import PicturePiece from './PicturePiece.vue'

/** An attribute of the same name in the editor's HTML. */
const text = (name: string, fallback: string | null = '') => ({
  default: fallback,
  parseHTML: (element: HTMLElement) => element.getAttribute(name) ?? fallback,
  renderHTML: (values: Record<string, string | null>) => (values[name] === null ? {} : { [name]: values[name] }),
})

/** A formula: its TeX, and the MathML that is kept as it came until the TeX is changed. */
export const FormulaNode = Node.create({
  name: 'formula',
  group: 'inline',
  inline: true,
  atom: true,
  addAttributes: () => ({ tex: text('tex'), mathml: text('mathml'), display: text('display') }),
  parseHTML: () => [{ tag: 'rog-formula' }],
  renderHTML: ({ HTMLAttributes }) => ['rog-formula', mergeAttributes(HTMLAttributes)],
  addNodeView: () => VueNodeViewRenderer(FormulaPiece),
})

/** A blank of a cloze, by the blank's identifier. */
export const BlankNode = Node.create({
  name: 'blank',
  group: 'inline',
  inline: true,
  atom: true,
  addAttributes: () => ({ blank: text('blank') }),
  parseHTML: () => [{ tag: 'rog-blank' }],
  renderHTML: ({ HTMLAttributes }) => ['rog-blank', mergeAttributes(HTMLAttributes)],
  addNodeView: () => VueNodeViewRenderer(BlankPiece),
})

/** A picture: its ref, its alternative text (empty where it is decorative), and what it is called where it is missing. */
export const PictureNode = Node.create({
  name: 'picture',
  group: 'inline',
  inline: true,
  atom: true,
  draggable: true,
  addAttributes: () => ({
    src: text('src', null),
    alt: text('alt', null),
    title: text('title', null),
    width: text('width', null),
    height: text('height', null),
  }),
  parseHTML: () => [{ tag: 'img' }],
  renderHTML: ({ HTMLAttributes }) => ['img', mergeAttributes(HTMLAttributes)],
  addNodeView: () => VueNodeViewRenderer(PicturePiece),
})

const kept = (name: string, group: 'inline' | 'block') =>
  Node.create({
    name,
    group,
    inline: group === 'inline',
    atom: true,
    addAttributes: () => ({ html: text('html'), block: text('block') }),
    parseHTML: () => [{ tag: group === 'block' ? 'rog-kept[block="true"]' : 'rog-kept[block=""]' }],
    renderHTML: ({ HTMLAttributes }) => ['rog-kept', mergeAttributes(HTMLAttributes)],
    addNodeView: () => VueNodeViewRenderer(KeptPiece),
  })

/** What the editor does not know, kept whole. */
export const KeptInline = kept('keptInline', 'inline')
export const KeptBlock = kept('keptBlock', 'block')
