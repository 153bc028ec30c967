"""What every form of a QTI 1.2 item shares: points, choices, feedback, and the proof that it marks as its source."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from lxml import etree

from rogatum.core.findings.items import PRESERVED_KIND
from rogatum.core.formats.qti1.item_metadata import ItemContext
from rogatum.core.formats.qti1.presentation import Presentation, Response
from rogatum.core.formats.qti1.shaped import AnyProcessing
from rogatum.core.formats.shared.feedback import plain_feedback, shown_by_owner
from rogatum.core.formats.shared.keys import Prober, Responses, Scale, SourceMarking, a_right_text
from rogatum.core.formats.shared.proving import prove
from rogatum.core.items import Choice, Item, NumericAnswer, Preserved, TextAnswer
from rogatum.core.quizzes.marking import Response as Answer

FORMAT = "qti-1.2"


@dataclass
class ItemReading:
    """One item while it is read. `given` gives a response of the model's to the source, `full` is what a right one earns there."""

    context: ItemContext
    element: etree._Element
    parts: Presentation
    processing: AnyProcessing
    prober: Prober
    feedback: dict[str, str]
    given: Callable[[Answer], Responses] | None = None
    full: float = 0.0

    @property
    def id(self) -> str:
        return self.context.item_id

    def set_points(self, item: Item, scale: Scale | None) -> None:
        """What the item is worth: what its metadata say, else the maximum of its score."""
        self.full = scale.full if scale is not None else 0.0
        declared = self.context.declared_points
        if declared is not None:
            item.points = declared
        elif self.context.percent_scores:
            # A cartridge's scores are per cent; an item without cc_weighting weighs 1.
            item.points = 1.0
        elif scale is not None:
            item.points = scale.points
        else:
            item.points = self.processing.maximum

    def choice_list(self, response: Response, weights: list[float]) -> list[Choice]:
        return [
            Choice(id=label.ident or f"c{n}", content=self.context.content(label.markup), weight=weight)
            for n, (label, weight) in enumerate(zip(response.labels, weights, strict=True), 1)
        ]

    def plain_feedback(self, item: Item, right: Responses | None, wrong: Iterable[Responses]) -> None:
        """The feedback of an item without choices: by what a right response, wrong ones and each single answer show."""
        on_wrong = {ident for responses in wrong for ident in self.prober.shown(responses)}
        given, shown = self.given, self.prober.shown
        by_owner = shown_by_owner(item, lambda answer: shown(given(answer))) if given and self.feedback else []
        plain_feedback(item, None if right is None else shown(right), on_wrong, self.feedback, by_owner)

    def typed_feedback(
        self, item: Item, answers: Sequence[TextAnswer] | Sequence[NumericAnswer], give: Callable[[str], Responses], wrong: str
    ) -> None:
        """The feedback of an item to type into."""
        best = a_right_text(answers)
        self.plain_feedback(item, None if best is None else give(best), (give(wrong), {}))

    def prove(self, item: Item) -> None:
        """Holds the item against its source, and says what probing had to say."""
        if self.given:
            source = SourceMarking(self.processing, self.given, self.full)
            prove(item, source, self.prober, self.context.builder, self.markup, FORMAT)
        for kind, values in self.prober.notes:
            self.context.builder.note(kind.at(self.context.where, self.id, **values))

    def markup(self) -> str:
        return etree.tostring(self.element, encoding="unicode", with_tail=False)

    def preserved(self, reason: str) -> Item:
        self.context.builder.note(PRESERVED_KIND.at(self.context.where, self.id, detail=reason))
        item = Preserved(
            id=self.id,
            stem=self.context.content(self.parts.stem() + "".join(r.prompt for r in self.parts.responses)),
            original=self.markup(),
            original_format=FORMAT,
            reason=reason,
            media=self.context.named_media(self.markup()),
        )
        self.set_points(item, None)
        self.context.claims.subtree(self.element)
        return item


def is_numeric(form: ItemReading, response: Response) -> bool:
    """Whether a response is a number: by its kind, or since it is compared like one."""
    if response.kind == "num" or response.fibtype in ("Integer", "Decimal", "Scientific"):
        return True
    compared = {"varlt", "varlte", "vargt", "vargte"}
    return any(n.response == response.ident and n.test in compared for n in form.processing.named)
