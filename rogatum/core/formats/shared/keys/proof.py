"""Whether an item that was read marks as its source does: its probes go through the source's processing and the model's marking."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from rogatum.core.fidelity.probes import NO_NUMBER, TOLERATED, Disagreement, Probe, probes_of
from rogatum.core.formats.shared.keys.marker import Marker, Responses
from rogatum.core.items import Item
from rogatum.core.quizzes.marking import Response, mark

_SHOWN = 3


@dataclass(frozen=True)
class SourceMarking:
    """How the source marks an item: its processing, a response of the model's as the source's, and the score of a right one."""

    processing: Marker
    given: Callable[[Response], Responses]
    full: float

    def share(self, response: Response) -> float:
        """The share of the points that a response earns in the source."""
        return min(1.0, self.processing.earned(self.given(response)) / self.full)


def differences(item: Item, source: SourceMarking, more: Iterable[Probe] = ()) -> list[Disagreement]:
    """The probes on which the source (a) and the item (b) mark differently."""
    if source.full <= 0:
        return []
    found: dict[str, Disagreement] = {}
    for probe in [*probes_of(item), *more]:
        if _is_no_number(probe.response):
            continue  # where a number is asked for, a source need not say what another text earns
        theirs, ours = source.share(probe.response), mark(item, probe.response)
        if ours is not None and abs(theirs - ours) >= TOLERATED:
            found.setdefault(probe.label, Disagreement(probe.label, theirs, ours))
    return list(found.values())


def _is_no_number(response: Response) -> bool:
    return NO_NUMBER in (response.values() if isinstance(response, dict) else [response])


def in_words(found: list[Disagreement]) -> str:
    """The first differences: which response earns what there, and what here."""
    told = [f"{d.label} earns {_per_cent(d.a)} there and {_per_cent(d.b)} here" for d in found[:_SHOWN]]
    more = f", and {len(found) - _SHOWN} more responses differ" if len(found) > _SHOWN else ""
    return "; ".join(told) + more + "."


def _per_cent(share: float | None) -> str:
    return "nothing" if not share else f"{share * 100:.3g} %"
