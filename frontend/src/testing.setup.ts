import { afterEach } from 'vitest'

import { cleared } from './testing'

// The files of tests share their modules, which spares loading them anew; each test cleans up behind itself.
afterEach(cleared)
