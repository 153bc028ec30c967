import { ref, type Ref } from 'vue'

const MARK = '✓ '

interface Page {
  hidden: boolean
  title: string
  addEventListener: (name: string, run: () => void) => void
}
type Notices = Pick<typeof Notification, 'permission' | 'requestPermission'> &
  (new (title: string, options?: NotificationOptions) => unknown)

/** Tells of work that ends while the page is not in view: in the title of the tab, and by the browser where that is allowed. */
export function useJobNotice(
  page: Page = document,
  notices: Notices | undefined = typeof Notification === 'undefined' ? undefined : Notification,
): { tell: (words: string) => void; ask: () => Promise<void>; canAsk: Ref<boolean> } {
  let before = ''
  const canAsk = ref(notices?.permission === 'default')

  function tell(words: string): void {
    if (!page.hidden) return
    before ||= page.title
    page.title = MARK + words
    if (notices?.permission === 'granted') new notices('Rogatum', { body: words, tag: 'rogatum-job' })
  }
  page.addEventListener('visibilitychange', () => {
    if (page.hidden || !before) return
    page.title = before
    before = ''
  })
  async function ask(): Promise<void> {
    await notices?.requestPermission()
    canAsk.value = notices?.permission === 'default'
  }
  return { tell, ask, canAsk }
}
