import type { Editor } from '@tiptap/core'
import { inject, provide, shallowRef, type InjectionKey, type ShallowRef } from 'vue'

/** What the toolbar works on: the rich field that was last written in. */
export interface Field {
  label: string
  editor: Editor
  blanks: boolean
  formula: () => void
  blank: () => void
  files: (files: FileList | null) => void
}

const FIELD: InjectionKey<ShallowRef<Field | undefined>> = Symbol('rich field')

/** One toolbar for all rich fields within a component: it stays where it is, whichever of them is written in. */
export function provideField(): ShallowRef<Field | undefined> {
  const field = shallowRef<Field>()
  provide(FIELD, field)
  return field
}

export const useField = (): ShallowRef<Field | undefined> => inject(FIELD, shallowRef<Field>())
