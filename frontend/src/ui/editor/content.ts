/**
 * Between the model's rich content and what the editor works on.
 *
 * The editor sees HTML; the model wants its own subset, well-formed. What the editor does not know (a sound, a caption, a word in
 * another language) is kept whole as one piece and comes out as it went in.
 */

const MATH = 'http://www.w3.org/1998/Math/MathML'
const VOID = new Set(['br', 'img'])
/** What comes out, with the attributes that may stand on it; anything else is its text alone. */
const OUT: Record<string, readonly string[]> = {
  p: ['lang', 'dir'],
  br: [],
  strong: [],
  em: [],
  u: [],
  s: [],
  sub: [],
  sup: [],
  code: [],
  pre: [],
  blockquote: [],
  ul: [],
  ol: ['start'],
  li: [],
  table: [],
  caption: [],
  thead: [],
  tbody: [],
  tr: [],
  th: ['colspan', 'rowspan', 'scope'],
  td: ['colspan', 'rowspan'],
  a: ['href', 'title'],
  img: ['src', 'alt', 'title', 'width', 'height'],
  audio: ['src', 'controls'],
  video: ['src', 'controls', 'width', 'height'],
  span: ['data-blank', 'lang', 'dir'],
}
const RENAMED: Record<string, string> = { b: 'strong', i: 'em', strike: 's', del: 's', ins: 'u' }
/** Blocks that hold text of their own: a lone paragraph in them says no more than its text. */
const UNWRAPPED = new Set(['li', 'td', 'th', 'blockquote', 'caption'])
const KEPT = 'audio, video, span[lang], span[dir], caption, p[lang], p[dir]'
const NO_SPAN = new Set(['colspan=1', 'rowspan=1', 'start=1'])

const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')
const quoted = (text: string) => escaped(text).replace(/"/g, '&quot;')

export function parsed(html: string): HTMLElement {
  return new DOMParser().parseFromString(`<body>${html}</body>`, 'text/html').body
}

/** Well-formed markup of a tree as it stands, every element and attribute of it. */
export function markupOf(node: Node): string {
  if (node.nodeType === Node.TEXT_NODE) return escaped(node.textContent ?? '')
  if (!(node instanceof Element)) return ''
  const name = node.localName
  const attributes = [...node.attributes].map(({ name, value }) => ` ${name}="${quoted(value)}"`).join('')
  const inner = [...node.childNodes].map(markupOf).join('')
  return VOID.has(name) ? `<${name}${attributes}/>` : `<${name}${attributes}>${inner}</${name}>`
}

/** TeX of a formula, as the model keeps it beside its MathML. */
export function texOf(math: Element): string {
  const annotation = [...math.getElementsByTagName('annotation')].find((entry) =>
    entry.getAttribute('encoding')?.endsWith('x-tex'),
  )
  return annotation?.textContent?.trim() ?? ''
}

/** The model's content as the editor takes it: formulas, blanks and what it does not know become pieces of its own. */
export function toEditor(content: string): string {
  const body = parsed(content)
  for (const table of body.querySelectorAll('table')) {
    if (table.querySelector('caption')) table.replaceWith(piece('rog-kept', { html: markupOf(table), block: 'true' }))
  }
  for (const math of body.querySelectorAll('math')) {
    const display = math.getAttribute('display') === 'block' ? 'true' : ''
    math.replaceWith(piece('rog-formula', { tex: texOf(math), mathml: markupOf(math), display }))
  }
  for (const blank of body.querySelectorAll('span[data-blank]'))
    blank.replaceWith(piece('rog-blank', { blank: blank.getAttribute('data-blank') ?? '' }))
  for (const kept of body.querySelectorAll(KEPT)) {
    const block = kept.localName === 'p' ? 'true' : ''
    kept.replaceWith(piece('rog-kept', { html: markupOf(kept), block }))
  }
  return body.innerHTML
}

function piece(name: string, values: Record<string, string>): HTMLElement {
  const element = document.createElement(name)
  Object.entries(values).forEach(([key, value]) => element.setAttribute(key, value))
  return element
}

/** The editor's HTML as the model's content: of its subset, well-formed, a lone paragraph without its tags. */
export function toContent(html: string): string {
  const body = parsed(html)
  const blocks = [...body.childNodes].filter((node) => node.textContent?.trim() || node instanceof Element)
  const only = blocks.length === 1 ? blocks[0] : undefined
  if (only instanceof Element && only.localName === 'p') return inner(only)
  return [...body.childNodes].map(written).join('')
}

const inner = (element: Element): string => [...element.childNodes].map(written).join('')

function written(node: Node): string {
  if (node.nodeType === Node.TEXT_NODE) return escaped(node.textContent ?? '')
  if (!(node instanceof Element)) return ''
  const special = SPECIAL[node.localName]
  if (special) return special(node)
  const name = RENAMED[node.localName] ?? node.localName
  const allowed = OUT[name]
  if (!allowed) return inner(node)
  const attributes = allowed
    .filter((key) => node.hasAttribute(key) && !NO_SPAN.has(`${key}=${node.getAttribute(key)}`))
    .map((key) => ` ${key}="${quoted(node.getAttribute(key) ?? '')}"`)
    .join('')
  if (VOID.has(name)) return `<${name}${attributes}/>`
  return `<${name}${attributes}>${UNWRAPPED.has(name) ? unwrapped(node) : inner(node)}</${name}>`
}

/** The inside of a cell or an entry: without the paragraph around it, where it is the only one. */
function unwrapped(element: Element): string {
  const blocks = [...element.children]
  const first = blocks[0]
  const lone = first?.localName === 'p' && blocks.filter((block) => block.localName === 'p').length === 1
  if (!lone || !first) return inner(element)
  return inner(first) + blocks.slice(1).map(written).join('')
}

const SPECIAL: Record<string, (element: Element) => string> = {
  'rog-formula': (element) => element.getAttribute('mathml') ?? '',
  'rog-blank': (element) => `<span data-blank="${quoted(element.getAttribute('blank') ?? '')}"></span>`,
  'rog-kept': (element) => element.getAttribute('html') ?? '',
  pre: (element) => `<pre>${[...(element.querySelector('code') ?? element).childNodes].map(written).join('')}</pre>`,
  colgroup: () => '',
}

export interface Formula {
  mathml: string
  problem: string
}

/** TeX as MathML that keeps its TeX; where it cannot be set, what is the matter. */
export async function formulaOf(tex: string, display: boolean): Promise<Formula> {
  const { default: katex } = await import('katex')
  try {
    const set = katex.renderToString(tex, { output: 'mathml', displayMode: display, throwOnError: true, trust: false })
    const math = parsed(set).getElementsByTagNameNS(MATH, 'math')[0]
    return math ? { mathml: markupOf(math), problem: '' } : { mathml: '', problem: 'Nothing to set.' }
  } catch (error) {
    return {
      mathml: '',
      problem: String(error instanceof Error ? error.message : error).replace(/^KaTeX parse error: /, ''),
    }
  }
}
