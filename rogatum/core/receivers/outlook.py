"""What a forecast says: notes, items and the whole, as values with their sums."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from rogatum.core.fidelity import OWN_FACETS, Verdict
from rogatum.core.fidelity.items import Facet
from rogatum.core.fidelity.judging import SEVERITY
from rogatum.core.fidelity.quizzes import LedgerQuiz
from rogatum.core.items import ItemType
from rogatum.core.receivers.by_receiver import Excess

# Who changes something: the format, the receiver, or the version that a person made for the receiver.
Hand = Literal["format", "receiver", "version"]
Standing = Literal["kept", "recast", "changed", "lost", "refused"]
STANDINGS: tuple[Standing, ...] = ("kept", "recast", "changed", "lost", "refused")
RANK = {verdict: rank for rank, verdict in enumerate(SEVERITY)}
_STANDING: dict[Verdict, Standing] = {"same": "kept", "added": "kept", "recast": "recast", "changed": "changed", "lost": "lost"}


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
        return self._standing([self.facets[facet] for facet in OWN_FACETS])

    def _standing(self, verdicts: Iterable[Verdict]) -> Standing:
        return "refused" if self.refused else _STANDING[max(verdicts, key=RANK.__getitem__)]


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
    def totals(self) -> Mapping[Standing, int]:
        """How many items stand how, by all of their facets."""
        return _counts(item.standing for item in self.items)

    @cached_property
    def for_students(self) -> Mapping[Standing, int]:
        """How many stand how by what students see and are marked by."""
        return _counts(item.for_students for item in self.items)

    @cached_property
    def for_you(self) -> Mapping[Standing, int]:
        """How many stand how by what only the instructor sees."""
        return _counts(item.for_you for item in self.items)


def _counts(standings: Iterable[Standing]) -> Mapping[Standing, int]:
    found = Counter(standings)
    return {name: found[name] for name in STANDINGS}
