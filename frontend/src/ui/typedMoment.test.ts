import { expect, it } from 'vitest'

import { readMoment } from './typedMoment'

// A Wednesday; in Chicago it is still Tuesday evening.
const NOW = new Date('2026-12-02T02:00:00Z')
const CHICAGO = 'America/Chicago'

it.each([
  ['7 Dec 2026, 14:00', '2026-12-07T20:00:00Z'],
  ['Mon 7 Dec 2026, 14:00', '2026-12-07T20:00:00Z'],
  ['2026-12-07 14:00', '2026-12-07T20:00:00Z'],
  ['2026-12-07T14:00', '2026-12-07T20:00:00Z'],
  ['next friday 5pm', '2026-12-11T23:00:00Z'],
  ['tomorrow at noon', '2026-12-02T18:00:00Z'],
  ['in 3 days', '2026-12-04'],
  ['7 Dec 2026, 14:00 UTC', '2026-12-07T14:00:00Z'],
])('reads “%s” by the clocks of the course', (text, wanted) => {
  expect(readMoment(text, CHICAGO, false, NOW)?.startsWith(wanted)).toBe(true)
})

it('takes a day alone as its last minute where it is an end, else as its first', () => {
  expect(readMoment('11 December', CHICAGO, true, NOW)).toBe('2026-12-12T05:59:00Z')
  expect(readMoment('11 December', CHICAGO, false, NOW)).toBe('2026-12-11T06:00:00Z')
})

it.each(['soon', 'the 40th of May', '7 Dec 2026 maybe, room 12', '5 to 6 Dec', '31/31/2026', '!'])(
  'understands nothing of “%s”',
  (text) => {
    expect(readMoment(text, CHICAGO, false, NOW)).toBeUndefined()
  },
)
