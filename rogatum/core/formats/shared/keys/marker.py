"""What every interpreter of response processing offers, and the words that finding a key needs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

CLOSE = 0.006
WRONG = "\u2042"

Responses = Mapping[str, Sequence[str]]


@dataclass
class Outcome:
    """The variables after processing, and the ids of the feedback shown, in order."""

    scores: dict[str, float] = field(default_factory=dict)
    feedback: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Tolerance:
    """How near a number has to be: within a per cent of the value (`relative`), or the same when rounded to figures."""

    kind: str
    amount: float


@dataclass
class Named:
    """A value that a condition names: a candidate for probing. `test` is how it is compared, in QTI 1.2's words."""

    response: str
    value: str
    test: str
    index: int | None = None
    case: bool = False
    negated: bool = False
    tolerance: Tolerance | None = None


class Marker(Protocol):
    """The response processing of one item, whatever its dialect."""

    @property
    def named(self) -> list[Named]: ...

    @property
    def undecided(self) -> list[str]: ...

    @property
    def maximum(self) -> float | None: ...

    @property
    def minimum(self) -> float | None: ...

    def run(self, responses: Responses) -> Outcome: ...

    def earned(self, responses: Responses) -> float: ...


class Pick(Protocol):
    """Something that can be picked."""

    @property
    def ident(self) -> str: ...


class Asked(Protocol):
    """A response that is asked for, with what can be picked for it."""

    @property
    def ident(self) -> str: ...

    @property
    def labels(self) -> Sequence[Pick]: ...


def folded(text: str, case: bool) -> str:
    text = " ".join(text.split())
    return text if case else text.casefold()


@dataclass
class Scale:
    """From scores to shares: `full` is the score of a fully right response; `points` what the item is worth, if said."""

    full: float
    points: float | None

    def share(self, score: float) -> float:
        return max(-1.0, min(1.0, round(score / self.full, 6))) if self.full else 0.0
