import { expect, it } from 'vitest'

import { day, when, zone } from './words'
import { moment, momentOf, wallOf } from './zoned'

const ZONE = 'America/Chicago'

it.each([
  ['2026-12-07T14:00', '2026-12-07T20:00:00Z'],
  ['2026-07-07T14:00', '2026-07-07T19:00:00Z'],
  // Around the change of the clocks.
  ['2027-03-14T01:59', '2027-03-14T07:59:00Z'],
  ['2027-03-14T03:00', '2027-03-14T08:00:00Z'],
  ['2026-11-01T03:00', '2026-11-01T09:00:00Z'],
])('knows the moment of %s', (wall, iso) => {
  expect(momentOf(wall, ZONE)).toBe(iso)
  expect(wallOf(iso, ZONE)).toBe(wall)
})

it('takes an hour that the clocks leave out for the one after it', () => {
  expect(wallOf(momentOf('2027-03-14T02:30', ZONE), ZONE)).toBe('2027-03-14T03:30')
  expect([momentOf('', ZONE), momentOf('soon', ZONE), wallOf(null, ZONE)]).toEqual([null, null, ''])
})

it('tells a moment by the clocks of its zone', () => {
  expect(moment('2026-12-08T02:30:00Z', ZONE)).toBe('Mon 7 Dec 2026, 20:30')
})

it('tells every moment by the clocks of the course that is open', () => {
  zone.value = ZONE
  expect([when('2026-12-08T02:30:00Z'), day('2026-12-08T02:30:00Z')]).toEqual(['7 Dec, 20:30', '7 December'])
  zone.value = 'Asia/Tokyo'
  expect(when('2026-12-08T02:30:00Z')).toBe('8 Dec, 11:30')
  zone.value = undefined
})
