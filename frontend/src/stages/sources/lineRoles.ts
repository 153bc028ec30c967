import type { Schemas } from '@/api/client'

export type LineRole = Schemas['ReadingOut']['roles'][string]
export type Roles = Record<string, LineRole>

/** What a person may say that a line is, with the digit that says so together with Alt. */
export const DECIDABLE: { role: LineRole; label: string }[] = [
  { role: 'stem', label: 'a stem begins here' },
  { role: 'choice', label: 'a choice' },
  { role: 'key', label: 'the key' },
  { role: 'more', label: 'goes on with the line above' },
  { role: 'heading', label: 'a heading' },
  { role: 'aside', label: 'set aside' },
]

const SHOWN: Record<string, string> = { blank: '', more: '·', outside: 'nothing', aside: 'set aside' }

/** A role as a gutter names it. */
export function roleWord(role: string | undefined): string {
  return role === undefined ? '' : (SHOWN[role] ?? role)
}

/** The roles with one more decision; no role, or the same again, takes a decision back. */
export function decided(roles: Roles, name: string, role: LineRole | undefined): Roles {
  const rest = Object.fromEntries(Object.entries(roles).filter(([key]) => key !== name))
  return role === undefined || roles[name] === role ? rest : { ...rest, [name]: role }
}

/** The role that Alt and a digit stand for; 0 is "as it was found". */
export function roleOfKey(event: KeyboardEvent): LineRole | null | undefined {
  const digit = event.altKey ? /^Digit(\d)$/.exec(event.code)?.[1] : undefined
  if (digit === undefined) return undefined
  return digit === '0' ? null : DECIDABLE[Number(digit) - 1]?.role
}
