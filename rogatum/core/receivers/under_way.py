"""An item on its way to a receiver: what it is by now, what of it is still held, and the verdicts so far."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from rogatum.core.fidelity import Verdict
from rogatum.core.fidelity.items import Facet
from rogatum.core.fidelity.judging import Judgement
from rogatum.core.fidelity.ledger import FACETS
from rogatum.core.items import Item, parts
from rogatum.core.receivers.arriving import TOLD_BY_FEATURES, as_it_arrives
from rogatum.core.receivers.by_receiver import Effect, Excess
from rogatum.core.receivers.features import MODEL_ANSWER, Features
from rogatum.core.receivers.outlook import RANK, ForecastNote, Hand
from rogatum.core.receivers.sheet import FEEDBACK_KINDS, Sheet

_SLOTS = frozenset({*FEEDBACK_KINDS, MODEL_ANSWER})
ALL_SAME: dict[Facet, Verdict] = dict.fromkeys(FACETS, "same")


@dataclass(frozen=True)
class Passed:
    """What came through a format: the verdicts so far, and which features are still held."""

    facets: Mapping[Facet, Verdict]
    notes: tuple[ForecastNote, ...]
    held: frozenset[str]
    refused: bool = False


class State:
    """An item on its way: what it is by now, what of it is still held, and the verdicts so far."""

    def __init__(self, sheet: Sheet, item: Item, passed: Passed, features: Features) -> None:
        self.sheet, self.item, self.features = sheet, item, features
        self.held = passed.held
        # What was made of it, one after the other; and the facets that more than making has a say in.
        self.made_of: list[Item] = []
        self.told_otherwise: set[Facet] = set(passed.facets)
        self.rewritten: set[Facet] = set()
        self.facets: dict[Facet, Verdict] = dict(passed.facets)
        self.notes = list(passed.notes)

    def note(
        self,
        facet: Facet,
        verdict: Verdict,
        message: str,
        by: Hand,
        seen: str = "",
        excess: Excess | None = None,
    ) -> None:
        if verdict == "same":
            return
        # Choices that go are others than the order that came.
        if verdict == "lost" and self.facets.get(facet) == "added" and facet != "choices":
            # What had come with something else went again.
            del self.facets[facet]
            self.notes = [told for told in self.notes if told.facet != facet]
            return
        worsen(self.facets, facet, verdict)
        self.notes.append(ForecastNote(facet, verdict, message, by, seen, excess))

    def become(
        self,
        item: Item,
        features: Features,
        judged: Iterable[tuple[Facet, Judgement]],
        lacking: frozenset[str],
        excess: Excess | None = None,
    ) -> None:
        """The item is another from here on; what the format did not carry does not come back with it."""
        for facet, judgement in judged:
            message = f"{excess.words}: it is cut there." if excess and facet in ("stem", "choices") else judgement.message
            self.note(facet, judgement.verdict, message, "receiver", judgement.b[:160], excess)
            if facet == "key" and judgement.verdict == "changed":
                self.facets["key"] = "changed"  # where the key is another one, nobody asks for its unit
        self.made_of.append(self.item)
        self.item, self.features, self.held = item, features, features.held - lacking

    def written_otherwise(self, before: Item | None, judged: Iterable[tuple[Facet, Judgement]]) -> None:
        """The item is a version that a person made for the receiver, of another that it is held against."""
        if before is not None:
            self.made_of.append(before)
        for facet, judgement in judged:
            self.rewritten.add(facet)
            self.note(facet, judgement.verdict, judgement.message, "version", judgement.b[:160])

    def settle(self, verdict_of: Callable[[Facet, Item, Item], Verdict]) -> None:
        """Where several things were made of it, one after the other, the first is held against the last."""
        if len(self.made_of) < 2:
            return
        for facet in [facet for facet in self.facets if facet not in self.told_otherwise]:
            verdict = verdict_of(facet, self.made_of[0], self.item)
            del self.facets[facet]
            worsen(self.facets, facet, verdict)

    def settle_version(self, verdict_of: Callable[[Facet, Item, Item], Verdict]) -> None:
        """What is told by features is told of the version: where that is another in a facet too, both are judged together."""
        there = as_it_arrives(self.stripped(), self.features, self.held, self.sheet)
        for facet in TOLD_BY_FEATURES:
            if facet in self.rewritten and facet in self.facets:
                del self.facets[facet]
                worsen(self.facets, facet, verdict_of(facet, self.made_of[0], there))

    def stripped(self) -> Item:
        """The item without the feedback and the model answer that are gone by now: what is not there cannot change any more."""
        gone = _SLOTS.intersection(self.features.held) - self.held
        if not gone:
            return self.item
        kept = {kind: text for kind, text in self.item.feedback.items() if kind not in gone}
        item = parts.without_feedback(self.item.model_copy(update={"feedback": kept}), gone)
        fields = {name: None for name, slot in (("sample_answer", MODEL_ANSWER), ("rubric", "rubric")) if slot in gone}
        return item.model_copy(update=fields) if item.type == "essay" else item

    def take(self, effect: Effect) -> None:
        self.told_otherwise.update(effect.verdicts)
        for facet, verdict in effect.verdicts.items():
            self.note(facet, verdict, effect.message, "receiver", effect.seen)
        self.held = self.held - effect.gone

    def closed(self) -> Mapping[Facet, Verdict]:
        """The verdicts of all facets. Another form that marks alike is one only where it still does."""
        if not self.facets:
            return ALL_SAME
        if self.facets.get("marking") == "changed":
            for facet in ("type", "key"):
                if self.facets.get(facet) == "recast":
                    self.facets[facet] = "changed"
        return {**ALL_SAME, **self.facets}


def worsen(facets: dict[Facet, Verdict], facet: Facet, verdict: Verdict) -> None:
    if RANK[verdict] > RANK[facets.get(facet, "same")]:
        facets[facet] = verdict
