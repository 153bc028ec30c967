import { afterEach } from 'vitest'

import { cleared } from './testing'

// The files of tests share their modules, which spares loading them anew; each test cleans up behind itself.
afterEach(cleared)

// What the DOM of these tests has not: nothing is laid out there, so nothing is scrolled.
Element.prototype.scrollTo ??= () => undefined
