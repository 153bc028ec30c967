import { watch, type Ref } from 'vue'
import { useRouter } from 'vue-router'

import type { Schemas } from '@/api/client'
import { say } from '@/ui/say'

/** Goes to the reading that has taken the place of the one that is shown, as soon as nothing is being typed in this one. */
export function useNewest(course: Ref<number>, reading: Ref<Schemas['ReadingOut'] | undefined>, typing: Ref<boolean>) {
  const router = useRouter()
  watch(
    () => (typing.value ? null : reading.value?.newer),
    (newer) => {
      if (!newer) return
      say('The source was read again in the meantime. This is how it reads now.')
      const { query } = router.currentRoute.value
      void router.replace({ name: 'reading', params: { course: course.value, reading: newer }, query })
    },
    { immediate: true },
  )
}
