/** What was typed as a number above 0, with a comma or a point; null for anything else. */
export function positiveOf(typed: string): number | null {
  const value = Number(typed.replace(',', '.'))
  return Number.isFinite(value) && value > 0 ? value : null
}

/** The same as a whole number, of at least 1. */
export function wholeOf(typed: string): number | null {
  const value = positiveOf(typed)
  return value === null ? null : Math.max(1, Math.round(value))
}
