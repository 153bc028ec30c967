import DOMPurify from 'dompurify'
import katex from 'katex'

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
  fragment.querySelectorAll('math').forEach(setFormula)
  fragment.querySelectorAll('[data-blank]').forEach((element) => {
    element.className = 'blank'
    element.setAttribute('aria-label', 'blank')
    element.setAttribute('role', 'img')
  })
  return fragment
}

function address(element: Element, course: number): void {
  const known = MEDIA.exec(element.getAttribute('src') ?? '')
  if (known) {
    element.setAttribute('src', `/api/courses/${course}/media/${known[1]}`)
    return
  }
  // Nothing is fetched from outside: a picture that did not come along is named instead.
  const missing = document.createElement('span')
  missing.className = 'missing-media'
  missing.textContent = `Picture missing: ${element.getAttribute('src') || 'no address'}`
  element.replaceWith(missing)
}

/** A formula with its TeX is set by KaTeX; one without stays MathML, which the browser sets. */
function setFormula(math: Element): void {
  const tex = math.querySelector('annotation')?.textContent
  if (!tex) return
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
