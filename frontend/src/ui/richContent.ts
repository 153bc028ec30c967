import DOMPurify from 'dompurify'

const MEDIA = /^media\/([0-9a-f]{64}(?:\.\w+)?)$/

/** Content made safe for the page: sanitised again, media addressed within the course, formulas set. */
export function contentNodes(content: string, course: number): DocumentFragment {
  const fragment = DOMPurify.sanitize(content, {
    RETURN_DOM_FRAGMENT: true,
    ADD_TAGS: ['semantics', 'annotation'],
    ADD_ATTR: ['encoding', 'data-blank'],
    FORBID_TAGS: ['style', 'form', 'input', 'button'],
    FORBID_ATTR: ['style', 'class', 'id'],
  })
  fragment.querySelectorAll('img, audio, video').forEach((element) => address(element, course))
  fragment.querySelectorAll('math').forEach((math) => void setFormula(math))
  fragment.querySelectorAll('[data-blank]').forEach((element) => {
    element.className = 'blank'
    element.setAttribute('aria-label', 'blank')
    element.setAttribute('role', 'img')
  })
  return fragment
}

/** Where a medium of the course is shown, by its ref in content; nothing for any other address. */
export function addressOf(ref: string | null | undefined, course: number): string {
  const known = MEDIA.exec(ref ?? '')
  return known ? `/api/courses/${course}/media/${known[1]}` : ''
}

function address(element: Element, course: number): void {
  const known = addressOf(element.getAttribute('src'), course)
  if (known) {
    element.setAttribute('src', known)
    return
  }
  // Nothing is fetched from outside: a picture that did not come along is named instead.
  const missing = document.createElement('span')
  missing.className = 'missing-media'
  const named = element.getAttribute('src') || element.getAttribute('title')?.replace(/^Missing: /, '')
  missing.textContent = `Picture missing: ${named || element.getAttribute('alt') || 'no address'}`
  element.replaceWith(missing)
}

type Katex = (typeof import('katex'))['default']
let setter: Promise<Katex> | undefined

/** What sets formulas comes with the first formula: most pages have none, and the browser shows the MathML until then. */
function formulaSetter(): Promise<Katex> {
  setter ??= Promise.all([import('katex'), import('katex/dist/katex.min.css')]).then(([module]) => module.default)
  return setter
}

/** A formula with its TeX is set by KaTeX; one without stays MathML, which the browser sets. */
async function setFormula(math: Element): Promise<void> {
  const tex = math.querySelector('annotation')?.textContent
  if (!tex) return
  let katex: Katex
  try {
    katex = await formulaSetter()
  } catch {
    return
  }
  const target = document.createElement('span')
  try {
    katex.render(tex, target, {
      displayMode: math.getAttribute('display') === 'block',
      output: 'htmlAndMathml',
      throwOnError: true,
      trust: false,
    })
    math.replaceWith(target)
  } catch {
    return
  }
}
