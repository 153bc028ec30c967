"""What a document as a whole does: how it shows the key. Emphasis is a key only where most items use it as one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rogatum.core.documents.lines import Line

# The plainer the sign, the sooner it is taken for the key.
KINDS = ("mark", "bold", "underline", "italic", "strike")
NAMES = {
    "mark": "highlight or colour",
    "bold": "bold type",
    "underline": "underlining",
    "italic": "italics",
    "strike": "striking out",
}
SHARE = 0.5


@dataclass(frozen=True)
class EmphasisHabit:
    """The kind of emphasis that shows the key, on how many of the items with choices."""

    kind: str
    items: int
    of: int

    @property
    def name(self) -> str:
        return NAMES[self.kind]


def emphasised(choices: Sequence[Line], kind: str) -> list[Line]:
    """The choices that are wholly in an emphasis, where some are and some are not."""
    hits = [line for line in choices if kind in line.marks()]
    if not hits:
        hits = [line for line in choices if kind in line.label_marks()]
    return hits if 0 < len(hits) < len(choices) else []


def count_of_marks(choices: Sequence[Line], habit: EmphasisHabit | None) -> int:
    """How many choices a sign or the document's emphasis shows as right; none where all have the sign."""
    signed = sum(line.marked for line in choices)
    if 0 < signed < len(choices):
        return signed
    return len(emphasised(choices, habit.kind)) if habit and not signed else 0


def emphasis_habit(items: Sequence[Sequence[Line]], keyed: int) -> EmphasisHabit | None:
    """The habit over the choices of all items; None where none holds, or where most items (`keyed`) are keyed otherwise."""
    asked = [choices for choices in items if len(choices) > 1]
    if not any(line.pieces for choices in asked for line in choices):
        return None
    counts = {kind: sum(1 for choices in asked if len(emphasised(choices, kind)) in (1, 2, 3)) for kind in KINDS}
    kind = max(KINDS, key=lambda k: (counts[k], -KINDS.index(k)))
    if counts[kind] < max(1, SHARE * len(asked)) or keyed > counts[kind]:
        return None
    return EmphasisHabit(kind, counts[kind], len(asked))


def stated_habit(items: Sequence[Sequence[Line]], kind: str) -> EmphasisHabit | None:
    """The habit that a person names; None for "none"."""
    if kind not in KINDS:
        return None
    asked = [choices for choices in items if len(choices) > 1]
    return EmphasisHabit(kind, sum(bool(emphasised(choices, kind)) for choices in asked), len(asked))
