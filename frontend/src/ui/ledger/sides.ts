/** The two sides of a ledger and of a forecast: what each is called, and where the core tells how an item stands there. */
export const SIDES = {
  students: { label: 'What students see and how it is marked', of: 'for_students' },
  you: { label: 'Only you see', of: 'for_you' },
} as const
export type Side = keyof typeof SIDES
