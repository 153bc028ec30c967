import { afterEach } from 'vitest'

import { cleared } from './testing'
import { WORDS } from './ui/words'

// The files of tests share their modules, which spares loading them anew; each test cleans up behind itself.
afterEach(cleared)

// What the core would say, as far as the tests look at it.
Object.assign(WORDS, {
  types: { multiple_choice: 'multiple choice', true_false: 'true/false', essay: 'essay', numeric: 'numeric' },
  formats: { 'qti-1.2': 'QTI 1.2', docx: 'Word document', 'marked-text': 'Marked text' },
  key_habits: { '': 'as found', bold: 'bold type', none: 'no emphasis' },
  columns: { stem: 'stem', key: 'key', points: 'points', '': 'set aside' },
  facets: ['type', 'stem', 'key', 'marking', 'points'],
  own_facets: ['metadata', 'grouping'],
  quiz_facets: { title: 'title', draws: 'draws', time_limit: 'the time limit' },
  verdicts: ['same', 'added', 'recast', 'changed', 'lost'],
  levels_to_look_at: ['error', 'warning'],
  advice: { 'key-longest': 'The key is the longest choice' },
  types_to_make: ['multiple_choice', 'multiple_response', 'true_false', 'essay', 'numeric'],
  metadata: { outcome: 'Outcome', page: 'Page' },
})

// What the DOM of these tests has not: nothing is laid out there, so nothing is scrolled.
Element.prototype.scrollTo ??= () => undefined
