"""After a hand-off: what changed since, what is new, and two hand-offs side by side."""

from __future__ import annotations

from dataclasses import dataclass

from rogatum.core.fidelity import Ledger, compare
from rogatum.core.items import Bank
from rogatum.web.errors import NotPossible
from rogatum.web.files import HANDOFFS
from rogatum.web.handoffs.banks import chosen_by
from rogatum.web.handoffs.models import HandOff


@dataclass(frozen=True)
class Since:
    """The rows that changed since a hand-off, those that are new where it was chosen from, and how many are gone."""

    changed: list[int]
    new: list[int]
    gone: int

    @property
    def words(self) -> str:
        told = [
            f"{count} {'item' if count == 1 else 'items'} {word}"
            for count, word in ((len(self.changed), "changed"), (len(self.new), "new"), (self.gone, "gone"))
            if count
        ]
        return ", ".join(told)


def since(handoff: HandOff) -> Since:
    """What became of what was handed on; nothing is told of hand-offs that do not know what they held."""
    if not handoff.states:
        return Since([], [], 0)
    what = chosen_by(handoff.course, handoff.scope)
    now = {row.pk: row.digest for row in what.rows} if what else {}
    before = {int(key): digest for key, digest in handoff.states.items()}
    changed = [key for key, digest in now.items() if key in before and before[key] != digest]
    return Since(changed, [key for key in now if key not in before], len(before.keys() - now.keys()))


def compared(a: HandOff, b: HandOff) -> Ledger:
    """Two hand-offs by what was meant by them, the older first. Raises NotPossible where one does not know that any more."""
    if not (a.meant and b.meant):
        raise NotPossible("One of these does not know what it held.", "Choose hand-offs to receivers.", status=422)
    older, newer = sorted((a, b), key=lambda handoff: handoff.pk)
    banks = [Bank.model_validate_json(HANDOFFS.path(handoff.meant).read_bytes()) for handoff in (older, newer)]
    partners = {item.id: item.id for item in banks[0].items}
    return compare(banks[0], banks[1], partners=partners)
