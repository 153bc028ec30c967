import { expect, it, vi } from 'vitest'

import { contentNodes } from './richContent'

function shown(content: string): HTMLElement {
  const home = document.createElement('div')
  home.append(contentNodes(content, 3))
  return home
}

it('lets no script, handler or foreign picture through', () => {
  const home = shown('<p onclick="x()">a<script>y()</script><img src="https://elsewhere.example/p.png"></p>')
  expect(home.querySelector('script, img, [onclick]')).toBeNull()
  expect(home.textContent).toContain('Picture missing')
})

it('addresses media within the course', () => {
  const name = `${'0'.repeat(64)}.png`
  expect(shown(`<img src="media/${name}" alt="x">`).querySelector('img')?.getAttribute('src')).toBe(
    `/api/courses/3/media/${name}`,
  )
})

it('sets a formula from its TeX and names a blank', async () => {
  const tex = '<annotation encoding="application/x-tex">\\frac{a}{b}</annotation>'
  const home = shown(`<math><semantics><mi>a</mi>${tex}</semantics></math> <span data-blank="b1"></span>`)
  await vi.waitFor(() => expect(home.querySelector('.katex')).not.toBeNull(), 10_000)
  expect(home.querySelector('.blank')?.getAttribute('aria-label')).toBe('blank')
})
