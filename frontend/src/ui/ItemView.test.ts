import { expect, it } from 'vitest'

import { item, shown } from '@/testing'

import ItemView from './ItemView.vue'

async function text(fields: Parameters<typeof item>[0], more = {}): Promise<string> {
  const { view } = await shown(ItemView, { item: item(fields), ...more })
  return view.text().replace(/\s+/g, '')
}
// Parts that stand apart on the page have no space between them in its text.
const squeezed = (words: string) => words.replace(/\s+/g, '')
const choices = [
  { id: 'a', content: 'clay', weight: 1, feedback: 'Yes.' },
  { id: 'b', content: 'sand', weight: 0.5, feedback: null },
  { id: 'c', content: 'loam', weight: -0.25, feedback: null },
  { id: 'd', content: 'peat', weight: 0, feedback: null },
]

it('shows choices with the key, their shares and feedback', async () => {
  const { view } = await shown(ItemView, { item: item({ type: 'multiple_choice', choices } as never) })
  const rows = view.findAll('.choices li')
  expect(rows.map((row) => row.classes('key'))).toEqual([true, true, false, false])
  expect(rows.map((row) => row.text().replace(/\s+/g, ''))).toEqual(['✓AclayYes.', '✓Bsand50%', 'Cloam-25%', 'Dpeat'])
})

it('says how several choices are scored', async () => {
  expect(await text({ type: 'multiple_response', choices, scoring: 'all_or_nothing' } as never)).toContain(
    'allornothing',
  )
  expect(await text({ type: 'multiple_response', choices, scoring: 'per_choice' } as never)).toContain(
    'eachchoicecounts',
  )
})

const SHOWN: [string, Record<string, unknown>, string[]][] = [
  ['true_false', { answer: true, choice_feedback: { false: 'Look again.' } }, ['Key True', 'If false: Look again.']],
  ['true_false', { answer: null }, ['Key none']],
  [
    'fill_in',
    {
      answers: [
        { text: 'clay', weight: 1 },
        { text: 'argil', weight: 0.5 },
      ],
    },
    ['clay', 'argil 50 %'],
  ],
  [
    'fill_in',
    {
      answers: [
        { text: 'clay', weight: 1 },
        { text: 'silt', weight: 0, feedback: 'Silt is coarser.' },
      ],
    },
    ['Accepted clay If silt: Silt is coarser.'],
  ],
  [
    'cloze',
    {
      blanks: [
        {
          id: 'b1',
          kind: 'numeric',
          answers: [
            { value: 5, weight: 1 },
            { max: 4, weight: 0, feedback: 'Too low.' },
          ],
        },
        { id: 'b2', kind: 'choice', choices: [{ id: 'a', content: '<em>fine</em>', weight: 0, feedback: 'Not so.' }] },
      ],
    },
    ['Blank 1, if 4 or less: Too low.', 'Blank 2, if fine: Not so.'],
  ],
  ['fill_in', { answers: [], case_sensitive: true }, ['(case counts)', 'nothing']],
  ['numeric', { answers: [{ value: 25, tolerance: 0.5, weight: 1 }], unit: '%' }, ['25 ± 0.5 %']],
  ['numeric', { answers: [{ min: 2, max: null, weight: 1 }] }, ['2 or more']],
  ['numeric', { answers: [{ min: 2, max: 3, include_max: false, weight: 1 }] }, ['2 to less than 3']],
  ['numeric', { answers: [{ value: 3.1, figures: 2, rounding: 'significant', weight: 1 }] }, ['3.1 to 2 significant']],
  ['numeric', { answers: [{ value: 50, relative: 2, weight: 1 }] }, ['50 ± 2 %']],
  ['ordering', { sequence: ['clay'], scoring: 'per_part' }, ['each place counts']],
  [
    'matching',
    { pairs: [{ left: 'sand', right: 'coarse' }], distractors: ['blue'] },
    ['sand', 'goes with', 'coarse', 'no partner', 'blue'],
  ],
  ['ordering', { sequence: ['clay', 'silt', 'sand'] }, ['clay', 'silt', 'sand']],
  ['essay', { sample_answer: 'Because.', rubric: 'Two reasons.' }, ['Model answer: Because.', 'Rubric: Two reasons.']],
  ['preserved', { reason: 'A slider.', original: '<sliderInteraction/>' }, ['A slider.', '<sliderInteraction/>']],
  [
    'cloze',
    {
      blanks: [
        { id: 'b1', kind: 'text', answers: [{ text: 'clay' }] },
        { id: 'b2', kind: 'numeric', answers: [{ value: 2, tolerance: 0 }] },
        { id: 'b3', kind: 'choice', choices: [{ id: 'x', content: 'one', weight: 1 }] },
      ],
    },
    ['Blank 1', 'clay', 'Blank 2', '2', 'Blank 3', 'one'],
  ],
]

it.each(SHOWN)('shows what a %s item has of its own', async (type, fields, words) => {
  const found = await text({ type, ...fields } as never)
  let at = 0
  for (const word of words.map(squeezed)) {
    expect(found.slice(at)).toContain(word)
    at = found.indexOf(word, at) + word.length
  }
})

it('shows the passage, points, feedback and metadata that items share', async () => {
  const fields = {
    type: 'essay',
    title: 'T1',
    points: null,
    feedback: { correct: 'Good.' },
    metadata: { outcome: ['2.1', '2.3'] },
  }
  const found = await text(fields as never, { stimulus: '<p>Field notes</p>' })
  for (const word of ['Field notes', 'no points', 'T1', 'If right: Good.', 'outcome', '2.1; 2.3'])
    expect(found).toContain(squeezed(word))
})
