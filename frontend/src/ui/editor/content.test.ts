import { Editor } from '@tiptap/core'
import { describe, expect, it } from 'vitest'

import { shown } from '@/testing'

import { formulaOf, markupOf, parsed, texOf, toContent, toEditor } from './content'
import RichInput from './RichInput.vue'

const MATH =
  '<math xmlns="http://www.w3.org/1998/Math/MathML"><semantics><mi>n</mi><annotation encoding="application/x-tex">n</annotation></semantics></math>'

/** Content as it comes out of the real editor when nothing was changed. */
async function through(content: string): Promise<string> {
  const { view } = await shown(RichInput, { modelValue: content, label: 'Stem' })
  const home = view.find('.ProseMirror').element as HTMLElement & { editor?: Editor }
  const html = home.editor?.getHTML() ?? ''
  view.unmount()
  return toContent(html)
}

describe('what the editor does not change comes out as it went in', () => {
  it.each([
    ['words', 'Which <strong>soil</strong> is <em>finest</em>?'],
    ['all marks', '<u>a</u><s>b</s>H<sub>2</sub>O, 10<sup>2</sup>, <code>x &lt; y</code>'],
    ['signs', 'a &amp; b &lt; c'],
    ['a line break', 'one<br/>two'],
    ['paragraphs', '<p>one</p><p>two</p>'],
    ['lists', '<p>These:</p><ul><li>one</li><li>two</li></ul><ol><li>first</li></ol>'],
    ['a table', '<table><tbody><tr><th>Core</th><th>Moist</th></tr><tr><td>P</td><td>150 g</td></tr></tbody></table>'],
    ['a block of code', '<pre>for x in y:\n  pass</pre>'],
    ['a formula', `The porosity ${MATH} is`],
    ['a blank', 'The finest is <span data-blank="b1"></span>.'],
    ['a picture', 'See <img src="media/a.png" alt="profile" width="40"/>.'],
    ['a missing picture', '<img alt="" title="Missing: a.png"/> What?'],
    ['a sound', 'Hear <audio src="media/a.mp3" controls=""></audio>.'],
    ['a word in another language', 'the <span lang="fr">vigne</span> here'],
  ])('%s', async (_, content) => {
    expect(await through(content)).toBe(content)
  })
})

it('keeps a table with a caption whole, as one piece', async () => {
  const table = '<table><caption>Cores</caption><tbody><tr><td>P</td></tr></tbody></table>'
  expect(toEditor(table)).toContain('rog-kept')
  expect(await through(table)).toBe(table)
})

it('lets nothing out that is not of the subset', () => {
  expect(toContent('<p onclick="x()">a<script>x()</script><font color="red">b</font></p>')).toBe('ax()b')
  expect(toContent('<div><b>a</b> <i>b</i></div>')).toBe('<strong>a</strong> <em>b</em>')
})

it('sets TeX as MathML that keeps it, and says what cannot be set', async () => {
  const made = await formulaOf('\\frac{m}{V}', false)
  expect(made.problem).toBe('')
  expect(made.mathml).toContain('<mfrac>')
  expect(texOf(parsed(made.mathml).querySelector('math') as Element)).toBe('\\frac{m}{V}')
  const broken = await formulaOf('\\frac{m', false)
  expect(broken.mathml).toBe('')
  expect(broken.problem).not.toBe('')
})

it('writes markup well-formed, with its signs escaped', () => {
  expect(markupOf(parsed('a &amp; b<br><img src="x" alt="&quot;">').firstChild as Node)).toBe('a &amp; b')
  expect([...parsed('<img src="x" alt="a&quot;b">').childNodes].map(markupOf).join('')).toBe(
    '<img src="x" alt="a&quot;b"/>',
  )
})
