import { casual, GB, type ParsedResult } from 'chrono-node/en'

import { momentOf, wallOf } from './zoned'

const twoDigits = (number: number | null) => String(number ?? 0).padStart(2, '0')

/** Days stand before months, as the field writes them, but for those whose browser says otherwise. */
const reader = () => (navigator.language === 'en-US' ? casual : GB)

/**
 * The moment that a text means by the clocks of a zone: “7 Dec 2026, 14:00”, “next friday 5pm”. A day alone means its last minute
 * with `end`, else its first. Nothing for a text of which a part is not understood.
 */
export function readMoment(text: string, zone: string, end = false, now = new Date()): string | undefined {
  const off = Math.round((Date.parse(`${wallOf(now.toISOString(), zone)}:00Z`) - now.getTime()) / 60_000)
  const found = reader().parse(text, { instant: now, timezone: off }, { forwardDate: true })
  const [told] = found
  if (found.length !== 1 || !told || told.end || !isWhole(text, told)) return undefined
  const { start } = told
  if (start.isCertain('timezoneOffset')) return start.date().toISOString().replace('.000Z', 'Z')
  const time = start.isCertain('hour')
    ? `${twoDigits(start.get('hour'))}:${twoDigits(start.get('minute'))}`
    : end
      ? '23:59'
      : '00:00'
  const day = `${start.get('year')}-${twoDigits(start.get('month'))}-${twoDigits(start.get('day'))}`
  return momentOf(`${day}T${time}`, zone) ?? undefined
}

/** Whether a text is what was read of it, but for its signs and small words. */
function isWhole(text: string, told: ParsedResult): boolean {
  const rest = text.slice(0, told.index) + text.slice(told.index + told.text.length)
  return !/[\p{L}\p{N}]/u.test(rest.replace(/\b(?:on|at|by|until|the)\b/gi, ''))
}
