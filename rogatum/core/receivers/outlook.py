"""What a forecast says: notes, items and the whole, as values with their sums."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from rogatum.core.fidelity import OWN_FACETS, Verdict
from rogatum.core.fidelity.items import Facet
from rogatum.core.fidelity.judging import SEVERITY, worst_of
from rogatum.core.fidelity.quizzes import LedgerQuiz
from rogatum.core.items import ItemType
from rogatum.core.receivers.by_receiver import Excess

# Who changes something: the format, the receiver, or the version that a person made for the receiver.
Hand = Literal["format", "receiver", "version"]
# A verdict as in the ledger, or not taken at all.
Standing = Verdict | Literal["refused"]
STANDINGS: tuple[Standing, ...] = (*SEVERITY, "refused")
RANK = {verdict: rank for rank, verdict in enumerate(SEVERITY)}


@dataclass(frozen=True, slots=True)
class ForecastNote:
    """Why a facet will not be the same, by format or receiver; `seen` is what will stand there, where that can be told."""

    facet: Facet
    verdict: Verdict
    message: str
    by: Hand
    seen: str = ""
    excess: Excess | None = None


@dataclass(frozen=True, slots=True)
class ForecastItem:
    """What an item will be there. One that is refused is not there at all; `notes` say why."""

    id: str
    title: str
    type: ItemType
    facets: Mapping[Facet, Verdict]
    notes: tuple[ForecastNote, ...] = ()
    refused: bool = False
    passage_gone: bool = False

    @property
    def why(self) -> str:
        """Why it is as it is, each reason once."""
        return " ".join(dict.fromkeys(note.message for note in self.notes))

    @property
    def standing(self) -> Standing:
        """How it stands there by the worst of all its facets."""
        return self._standing(self.facets.values())

    @property
    def for_students(self) -> Standing:
        """How it stands there by what students see and are marked by."""
        seen = [verdict for facet, verdict in self.facets.items() if facet not in OWN_FACETS]
        return self._standing([*seen, "lost"] if self.passage_gone else seen)

    @property
    def for_you(self) -> Standing:
        """How it stands there by what only the instructor sees."""
        return self._standing(self.facets[facet] for facet in OWN_FACETS)

    def _standing(self, verdicts: Iterable[Verdict]) -> Standing:
        return "refused" if self.refused else worst_of(verdicts)


@dataclass(frozen=True)
class Forecast:
    """Of a bank for a receiver in one of its formats; `files` is in how many files it has to come."""

    receiver: str
    title: str
    format: str
    items: list[ForecastItem]
    quizzes: list[LedgerQuiz] = field(default_factory=list)
    files: int = 1

    @cached_property
    def sums(self) -> Sums:
        return sums_of(self.items)

    @property
    def totals(self) -> Mapping[Standing, int]:
        """How many items stand how, by all of their facets."""
        return self.sums["totals"]


# How many items stand how: by all of their facets, by what students see and are marked by, and by what only the instructor sees.
Sums = Mapping[Literal["totals", "for_students", "for_you"], Mapping[Standing, int]]


def sums_of(items: Sequence[ForecastItem]) -> Sums:
    """The sums that a forecast, and a hand-off made by it, are told by."""
    return {
        "totals": _counts(item.standing for item in items),
        "for_students": _counts(item.for_students for item in items),
        "for_you": _counts(item.for_you for item in items),
    }


def _counts(standings: Iterable[Standing]) -> Mapping[Standing, int]:
    found = Counter(standings)
    return {name: found[name] for name in STANDINGS}
