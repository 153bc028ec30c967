/** A receiver sheet as sentences: what is fixed are words, what can be chosen are fields, by their place in the sheet. */

export type Sheet = Record<string, unknown>

export interface Choice {
  kind: 'choice'
  path: string
  label: string
  options: [value: string, words: string][]
}
export interface Amount {
  kind: 'amount'
  path: string
  label: string
  none: string
  /** Bytes are told in kilobytes. */
  scale?: number
}
export interface Words {
  kind: 'words'
  path: string
  label: string
  wide?: boolean
}
export interface Several {
  kind: 'several'
  path: string
  label: string
  options: [value: string, words: string][]
}
export type Piece = string | Choice | Amount | Words | Several
export type Sentence = Piece[]

const choice = (path: string, label: string, ...options: [string, string][]): Choice => ({
  kind: 'choice',
  path,
  label,
  options,
})
const kept = (path: string, label: string) => choice(path, label, ['takes', 'kept'], ['drops', 'dropped'])
const amount = (path: string, label: string, none: string, scale?: number): Amount => ({
  kind: 'amount',
  path,
  label,
  none,
  scale,
})
const beyond = (path: string, label: string) => choice(path, label, ['refuses', 'not taken'], ['cuts', 'cut'])

export function sections(settings: [string, string][]): { title: string; sentences: Sentence[] }[] {
  return [
    {
      title: 'What it shows',
      sentences: [
        ['Formatting is ', kept('content.formatting', 'Formatting'), '.'],
        [
          'Formulas are shown ',
          choice(
            'content.formulas',
            'Formulas',
            ['as they are', 'as they are'],
            ['TeX', 'from their TeX'],
            ['pictures', 'as pictures'],
            ['text', 'as the text of their TeX'],
          ),
          '.',
        ],
        [
          'Pictures are ',
          kept('content.pictures', 'Pictures'),
          ', and the texts that stand for them ',
          kept('content.alternative_texts', 'Alternative texts'),
          '.',
        ],
        [
          'A picture may have ',
          amount('limits.pictures.bytes', 'Kilobytes of a picture', 'any size', 1000),
          ' kB; with a larger one ',
          choice(
            'limits.pictures.beyond',
            'Larger pictures',
            ['drops', 'the picture is dropped'],
            ['refuses', 'the item is not taken'],
          ),
          '.',
        ],
      ],
    },
    {
      title: 'How long things may be',
      sentences: [
        [
          'A stem may have ',
          amount('limits.stem.most', 'Characters of a stem', 'any number of'),
          ' characters; a longer one is ',
          beyond('limits.stem.beyond', 'Longer stems'),
          '.',
        ],
        [
          'A choice may have ',
          amount('limits.choice.most', 'Characters of a choice', 'any number of'),
          ' characters; a longer one is ',
          beyond('limits.choice.beyond', 'Longer choices'),
          '.',
        ],
        [
          'An item may have ',
          amount('limits.choices.most', 'Choices of an item', 'any number of'),
          ' choices; with more it is ',
          beyond('limits.choices.beyond', 'More choices'),
          '.',
        ],
        [
          'A file may have ',
          amount('limits.items_per_file', 'Items of a file', 'any number of'),
          ' items and ',
          amount('limits.file_bytes', 'Kilobytes of a file', 'any size', 1000),
          ' kB.',
        ],
        [
          'A name may have ',
          amount('names.length', 'Characters of a name', 'any number of'),
          ' characters, and none of these signs: ',
          { kind: 'words', path: 'names.without', label: 'Signs that names cannot have' },
          '.',
        ],
      ],
    },
    {
      title: 'How it marks',
      sentences: [
        [
          'Marks for a part of an answer are ',
          kept('marking.part_marks', 'Part marks'),
          ', marks below 0 ',
          kept('marking.below_zero', 'Marks below 0'),
          '.',
        ],
        [
          'Points are ',
          kept('points.points', 'Points'),
          ', times ',
          amount('points.scale', 'Points are multiplied by', 'one'),
          ', in steps of ',
          amount('points.step', 'Steps of points', 'any size'),
          ', at least ',
          amount('points.least', 'Least points', 'none'),
          ' and at most ',
          amount('points.most', 'Most points', 'any number'),
          '.',
        ],
        ['What has no points is worth ', amount('points.default', 'Points where there are none', 'nothing said'), '.'],
        [
          'It takes feedback ',
          {
            kind: 'several',
            path: 'feedback.takes',
            label: 'Feedback that is taken',
            options: [
              ['general', 'in general'],
              ['correct', 'when right'],
              ['incorrect', 'when wrong'],
              ['choice', 'for choices'],
              ['answer', 'for typed answers'],
              ['rubric', 'rubrics'],
            ],
          },
          '; model answers are ',
          kept('feedback.model_answers', 'Model answers'),
          '.',
        ],
      ],
    },
    {
      title: 'How it sorts',
      sentences: [
        [
          'Pools are ',
          choice(
            'grouping.pools',
            'Pools',
            ['takes', 'kept as a tree'],
            ['joins names', 'joined into one name each'],
            ['file name', 'named after the file'],
            ['drops', 'dropped'],
          ),
          ', with ',
          amount('grouping.nesting', 'Levels of pools', 'any number of'),
          ' levels.',
        ],
        [
          'Passages are ',
          choice(
            'grouping.passages',
            'Passages',
            ['takes', 'kept'],
            ['into the stem', 'put into each stem'],
            ['drops', 'dropped'],
          ),
          '.',
        ],
        [
          'Outcomes are ',
          choice(
            'labels.outcomes',
            'Outcomes',
            ['takes', 'kept'],
            ['tags', 'turned into tags'],
            ['titles', 'put into titles'],
            ['drops', 'dropped'],
          ),
          ', titles ',
          kept('labels.titles', 'Titles'),
          ', tags ',
          kept('labels.tags', 'Tags'),
          ', and all else that is said of items ',
          kept('labels.others', 'Other metadata'),
          '.',
        ],
      ],
    },
    {
      title: 'What it makes of a quiz',
      sentences: [
        [
          'A quiz is ',
          choice('quiz.quizzes', 'Quizzes', ['takes', 'kept'], ['drops', 'not taken: its items stand alone']),
          ', its parts ',
          kept('quiz.parts', 'Parts'),
          ', instructions ',
          kept('quiz.instructions', 'Instructions'),
          ', page breaks ',
          kept('quiz.page_breaks', 'Page breaks'),
          ', and points of the quiz ',
          kept('quiz.points', 'Points in quizzes'),
          '.',
        ],
        [
          'Draws are ',
          choice(
            'quiz.draws',
            'Draws',
            ['takes', 'kept'],
            ['a fixed draw', 'drawn once and fixed'],
            ['all items', 'turned into all of their items'],
          ),
          '.',
        ],
        [
          'Of the settings it takes ',
          { kind: 'several', path: 'quiz.settings', label: 'Settings that are taken', options: settings },
          '.',
        ],
      ],
    },
  ]
}

/** What stands at a place of a sheet; undefined where nothing does. */
export function at(sheet: Sheet, path: string): unknown {
  return path.split('.').reduce<unknown>((part, name) => (part as Sheet | null | undefined)?.[name], sheet)
}

/** The sheet with something else at a place. A limit without its number is none. */
export function having(sheet: Sheet, path: string, value: unknown): Sheet {
  const [name, ...rest] = path.split('.') as [string, ...string[]]
  const inner = rest.length ? having((sheet[name] as Sheet | null) ?? {}, rest.join('.'), value) : value
  const changed = { ...sheet, [name]: inner }
  if (name === 'stem' || name === 'choice' || name === 'choices') {
    const limit = inner as Sheet | null
    if (limit && (limit.most === null || limit.most === undefined)) changed[name] = null
  }
  if (name === 'pictures' && rest.length) {
    const limit = inner as Sheet
    if (limit.bytes === null && !limit.kinds) changed[name] = null
  }
  return changed
}
