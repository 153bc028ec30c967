import { onBeforeUnmount, shallowReactive } from 'vue'

export interface Shortcut {
  /** One key, or two keys pressed one after the other, parted by a space: "g p". */
  keys: string
  label: string
  group: string
  run: () => void
  /** Whether it works while a text field has the focus. */
  inFields?: boolean
}

const active = shallowReactive(new Map<string, Shortcut>())
let pending = ''
let pendingUntil = 0

export function activeShortcuts(): Shortcut[] {
  return [...active.values()]
}

/** Registers shortcuts for as long as the component lives. */
export function useShortcuts(shortcuts: Shortcut[]): void {
  shortcuts.forEach((shortcut) => active.set(shortcut.keys, shortcut))
  onBeforeUnmount(() =>
    shortcuts.forEach((shortcut) => {
      if (active.get(shortcut.keys) === shortcut) active.delete(shortcut.keys)
    }),
  )
}

export function keyName(event: KeyboardEvent): string {
  const control = event.ctrlKey || event.metaKey ? 'Ctrl+' : ''
  return control + (event.key === ' ' ? 'Space' : event.key)
}

/** Nothing is typed into a box that is ticked in a list: it keeps the keys that tick it and step among its like. */
const TICKED = new Set(['checkbox', 'radio'])
const TICKING = /^(Space|Enter|Arrow)/

function inField(target: EventTarget | null, name: string): boolean {
  if (!(target instanceof HTMLElement)) return false
  if (target instanceof HTMLInputElement && TICKED.has(target.type) && !target.form) return TICKING.test(name)
  return target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)
}

/** Runs the shortcut that a key press completes; returns whether there was one. */
export function handleKey(event: KeyboardEvent, now = Date.now()): boolean {
  if (event.defaultPrevented || event.altKey) return false
  const name = keyName(event)
  const typed = pending && now < pendingUntil ? `${pending} ${name}` : name
  pending = ''
  const shortcut = active.get(typed) ?? active.get(name)
  if (inField(event.target, name) && !shortcut?.inFields) return false
  if (
    document.querySelector('.el-overlay:not([style*="display: none"]) [role="dialog"]') &&
    name !== 'Escape' &&
    !shortcut?.inFields
  )
    return false
  if (shortcut) {
    event.preventDefault()
    shortcut.run()
    return true
  }
  if ([...active.keys()].some((keys) => keys.startsWith(`${name} `))) {
    pending = name
    pendingUntil = now + 1500
  }
  return false
}
