import { say } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

interface Deeds {
  step: (direction: 1 | -1) => void
  pick: (by: number) => void
  mend: (all: boolean) => void
  readOther: (all: boolean) => void
  readAsBefore: () => void
  dismiss: () => void
  edit: () => void
  drop: () => void
  correct: () => void
  take: () => void
  leave: () => void
  key: (choice: number) => void
  proof: () => void
  mendMany: () => void
  startSample: () => void
  sample: (right: boolean) => void
}

/** The keys of Check: one key is one decision. */
export function useCheckKeys(deeds: Deeds): void {
  const { mayEdit } = useRole(useCourse())
  const group = 'Check'
  /** What changes something is done by those who may, and said to others. */
  const acts = (run: () => void) => () =>
    mayEdit.value ? run() : say('You may look at this course, not change it.', 'problem')
  const digits = [1, 2, 3, 4, 5, 6, 7, 8, 9].map((digit) => ({
    keys: String(digit),
    label: digit === 1 ? 'The first choice is the key, or not (1 to 9)' : '',
    group,
    run: acts(() => deeds.key(digit)),
  }))
  useShortcuts([
    { keys: 'n', label: 'Next item that needs a look, in the next source too', group, run: () => deeds.step(1) },
    { keys: 'b', label: 'Back to the one before', group, run: () => deeds.step(-1) },
    { keys: 'ArrowDown', label: 'Next item', group, run: () => deeds.pick(1) },
    { keys: 'ArrowUp', label: 'Item before', group, run: () => deeds.pick(-1) },
    ...digits,
    { keys: 'r', label: 'Repair this item', group, run: acts(() => deeds.mend(false)) },
    { keys: 'R', label: 'Repair all that have this finding', group, run: acts(() => deeds.mend(true)) },
    { keys: 'M', label: 'Mend many at once', group, run: acts(deeds.mendMany) },
    { keys: 'o', label: 'Read it the other way', group, run: acts(() => deeds.readOther(false)) },
    { keys: 'O', label: 'The same for all that differ so', group, run: acts(() => deeds.readOther(true)) },
    { keys: 'p', label: 'Read it as before', group, run: acts(deeds.readAsBefore) },
    { keys: 'd', label: 'It is right so', group, run: acts(deeds.dismiss) },
    { keys: 'e', label: 'Edit the item', group, run: acts(deeds.edit) },
    { keys: 'x', label: 'Leave the item out, or let it in', group, run: acts(deeds.drop) },
    { keys: 'c', label: 'Correct the text', group, run: acts(deeds.correct) },
    { keys: 'v', label: 'As a proof, or beside the source', group, run: deeds.proof },
    { keys: 's', label: 'Look at a sample of the rest', group, run: acts(deeds.startSample) },
    { keys: '+', label: 'Of the sample, this is right', group, run: acts(() => deeds.sample(true)) },
    { keys: '-', label: 'Of the sample, this is wrong', group, run: acts(() => deeds.sample(false)) },
    { keys: 't', label: 'Take into pools', group, run: acts(deeds.take) },
    { keys: 'Escape', label: 'Leave the editor', group, run: deeds.leave, inFields: true },
  ])
}
