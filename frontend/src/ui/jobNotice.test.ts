import { expect, it } from 'vitest'

import { useJobNotice } from './jobNotice'

/** A tab that can be looked away from. */
function tab(hidden: boolean) {
  let looked: () => void = () => undefined
  const page = { hidden, title: 'Rogatum', addEventListener: (_: string, run: () => void) => (looked = run) }
  const told: (string | undefined)[] = []
  const permission = { now: 'granted' as NotificationPermission }
  const notices = Object.defineProperty(
    function (_title: string, options?: NotificationOptions) {
      told.push(options?.body)
    },
    'permission',
    { get: () => permission.now },
  ) as unknown as typeof Notification
  notices.requestPermission = async () => (permission.now = 'denied')
  return { page, told, notices, permission, look: () => looked() }
}

it('tells of what ended while the page is not in view, until it is', () => {
  const { page, told, notices, look } = tab(true)
  const notice = useJobNotice(page, notices)
  notice.tell('69 items taken.')
  notice.tell('Read a.zip.')
  expect(page.title).toBe('✓ Read a.zip.')
  expect(told).toEqual(['69 items taken.', 'Read a.zip.'])
  page.hidden = false
  look()
  expect(page.title).toBe('Rogatum')
})

it('says nothing to who looks at the page, and asks only where it was not decided', async () => {
  const { page, told, notices, permission } = tab(false)
  useJobNotice(page, notices).tell('Done.')
  expect([page.title, told]).toEqual(['Rogatum', []])
  permission.now = 'default'
  const notice = useJobNotice(page, notices)
  expect(notice.canAsk.value).toBe(true)
  await notice.ask()
  expect(notice.canAsk.value).toBe(false)
})
