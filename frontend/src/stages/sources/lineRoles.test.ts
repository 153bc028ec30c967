import { describe, expect, it } from 'vitest'

import { decided, DECIDABLE, roleOfKey, roleWord } from './lineRoles'

const press = (code: string, altKey = true) => new KeyboardEvent('keydown', { code, altKey })

describe('roles given by hand', () => {
  it('are kept line by line, and taken back by saying them again', () => {
    const once = decided({}, 'a', 'stem')
    expect(decided(once, 'b', 'key')).toEqual({ a: 'stem', b: 'key' })
    expect(decided(once, 'a', 'choice')).toEqual({ a: 'choice' })
    expect(decided(once, 'a', 'stem')).toEqual({})
    expect(decided(once, 'a', undefined)).toEqual({})
    expect(once).toEqual({ a: 'stem' })
  })

  it('have a digit each with Alt, and 0 takes back', () => {
    expect(DECIDABLE.map((_, index) => roleOfKey(press(`Digit${index + 1}`)))).toEqual(
      DECIDABLE.map(({ role }) => role),
    )
    expect(roleOfKey(press('Digit0'))).toBeNull()
    expect([roleOfKey(press('Digit1', false)), roleOfKey(press('Digit9')), roleOfKey(press('KeyA'))]).toEqual([
      undefined,
      undefined,
      undefined,
    ])
  })

  it('are named in words', () => {
    expect(['outside', 'aside', 'blank', 'stem', undefined].map(roleWord)).toEqual([
      'nothing',
      'set aside',
      '',
      'stem',
      '',
    ])
  })
})
