/** Moments as the clocks of a time zone show them. A wall time is “2026-12-07T14:00”, without a zone. */

const parts = new Map<string, Intl.DateTimeFormat>()

function clock(zone: string): Intl.DateTimeFormat {
  const known = parts.get(zone)
  if (known) return known
  const made = new Intl.DateTimeFormat('en-CA', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
  })
  parts.set(zone, made)
  return made
}

/** The wall time of a moment in a zone. */
export function wallOf(iso: string | null | undefined, zone: string): string {
  if (!iso) return ''
  const found = Object.fromEntries(
    clock(zone)
      .formatToParts(new Date(iso))
      .map(({ type, value }) => [type, value]),
  )
  return `${found.year}-${found.month}-${found.day}T${found.hour}:${found.minute}`
}

/** The moment of a wall time in a zone; one that its clocks leave out is the one an hour later. */
export function momentOf(wall: string | null | undefined, zone: string): string | null {
  if (!wall || !/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(wall)) return null
  const wanted = Date.parse(`${wall.slice(0, 16)}:00Z`)
  const off = (moment: number) => Date.parse(`${wallOf(new Date(moment).toISOString(), zone)}:00Z`) - moment
  // The offset at the moment itself is that of the guess, but for the hours around a change of the clocks.
  const first = wanted - off(wanted)
  const second = wanted - off(first)
  const hit = [second, first].find((moment) => moment + off(moment) === wanted)
  return new Date(hit ?? Math.max(first, second)).toISOString().replace('.000Z', 'Z')
}

/** “Mon 7 Dec 2026, 14:00”, in a zone. */
export function moment(iso: string, zone: string): string {
  const said = Object.fromEntries(
    new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      year: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
    })
      .formatToParts(new Date(iso))
      .map(({ type, value }) => [type, value]),
  )
  return `${said.weekday} ${said.day} ${said.month} ${said.year}, ${said.hour}:${said.minute}`
}
