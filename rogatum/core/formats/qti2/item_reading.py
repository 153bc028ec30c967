"""What every form of an item shares: stem, points, choices, right pairs, feedback; and the item that is only preserved."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core import spaces
from rogatum.core.accounting import XmlClaims
from rogatum.core.finding import FindingKind
from rogatum.core.findings.items import PRESERVED_KIND
from rogatum.core.findings.keys import MARKING_APPROXIMATED, MARKING_ASSUMED, TWO_RIGHT_VALUES
from rogatum.core.formats.qti2.body import Body, BodyReader, Interaction, Option
from rogatum.core.formats.qti2.declarations import Response
from rogatum.core.formats.qti2.feedback import FeedbackGiver
from rogatum.core.formats.qti2.processing import Compiled, FeedbackRule, Processing
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.formats.shared.keys import Prober, Responses, Scale, Shapes, SourceMarking
from rogatum.core.formats.shared.proving import prove
from rogatum.core.items import Choice, Essay, Item, MultipleChoice, MultipleResponse, Preserved, TrueFalse
from rogatum.core.items.content import blank_marker, plain_text
from rogatum.core.quizzes.marking import Response as Answer

_ALONE = re.compile(r"<(p|div)\b[^>]*>\s*" + re.escape(blank_marker("b1")) + r"\s*</\1>")
_WITHIN = re.compile(spaces.BEFORE + re.escape(blank_marker("b1")) + r"\s*+(?=(\w)?)")
_AT_END = re.compile(r"([.?:!])\s*" + re.escape(blank_marker("b1")) + r"\s*((?:</\w+>\s*)*)$")


@dataclass
class ItemContext:
    """What reading one item needs: where to put findings and claims, and how media are found."""

    builder: BankBuilder
    claims: XmlClaims
    item_id: str
    where: str
    resolve: Callable[[str], str | None]
    # The files that a piece of markup names, as content that shows each.
    named_media: Callable[[str], dict[str, str]]
    format: str
    original: str
    shapes: Shapes[Compiled] = field(default_factory=Shapes)
    metadata: dict[str, list[str]] = field(default_factory=dict)

    def content(self, markup: str) -> str:
        return self.builder.content(markup, self.where, self.item_id, self.resolve)

    def note(self, kind: FindingKind, **values: object) -> None:
        self.builder.note(kind.at(self.where, self.item_id, **values))


@dataclass
class ItemReading:
    """One item while it is read.

    `key` is the right response as it was found, `wrong` are others, `asked` the question whose choices have feedback; `given`
    gives a response of the model's to the source, and `full` is what a right one earns there.
    """

    context: ItemContext
    root: etree._Element
    body: Body
    processing: Processing
    prober: Prober
    key: Responses | None = None
    wrong: list[Responses] = field(default_factory=list)
    asked: Interaction | None = None
    given: Callable[[Answer], Responses] | None = None
    full: float = 0.0

    @property
    def id(self) -> str:
        return self.context.item_id

    def response(self, interaction: Interaction) -> Response | None:
        return self.processing.declared.responses.get(interaction.ident)

    def stem(self) -> str:
        return self.context.content(self.body.markup)

    def stem_with_blank(self) -> str:
        """The stem of an item with one blank: a blank that only follows the text goes, one within it stays to be seen."""
        markup = _AT_END.sub(r"\1\2", _ALONE.sub("", self.body.markup).strip())
        return self.context.content(_WITHIN.sub(_gap, markup))

    def set_points(self, item: Item, scale: Scale | None) -> None:
        if self.processing.assumed and self.processing.ruled:
            self.context.note(MARKING_ASSUMED)
        self.full = scale.full if scale is not None else 0.0
        # A mapping says what responses are worth; a right response alone does not.
        silent = self.processing.assumed and not self.processing.mapped
        item.points = self.processing.maximum if silent or scale is None else scale.points

    # Feedback and rubrics

    def feedback_texts(self, reader: BodyReader) -> dict[str, str]:
        """Modal, inline and block feedback by a number, as content; their rules go to the processing."""
        found = [(e, reader.children(e)) for e in self.root.iterfind("modalFeedback")]
        texts: dict[str, str] = {}
        for element, markup in [*found, *self.body.feedback]:
            content = self.context.content(markup)
            ident = f"f{len(self.processing.feedback)}"
            rule = FeedbackRule(
                ident,
                element.get("outcomeIdentifier", ""),
                element.get("identifier", ""),
                element.get("showHide", "show") != "hide",
            )
            self.processing.feedback.append(rule)
            texts[ident] = content
            self.context.claims.subtree(element)
        return texts

    def finish(self, item: Item, texts: dict[str, str]) -> None:
        """Feedback, rubrics, and what probing had to say."""
        for response in self.processing.declared.responses.values():
            if response.cardinality == "single" and len(set(response.correct)) > 1:
                self.context.note(TWO_RIGHT_VALUES, count=len(response.correct), values=", ".join(response.correct)[:120])
        if not isinstance(item, Preserved):
            asked = self.asked if isinstance(item, MultipleChoice | MultipleResponse | TrueFalse) else None
            FeedbackGiver(item, self.processing, texts, self.key, self.wrong).give(asked, self.given)
            if self.given:
                source = SourceMarking(self.processing, self.given, self.full)
                prove(item, source, self.prober, self.context.builder, lambda: self.context.original, self.context.format)
        for view, markup in self.body.rubrics:
            content = self.context.content(markup)
            if isinstance(item, Essay) and item.rubric is None:
                item.rubric = content
            elif plain_text(content):
                item.metadata.setdefault("rubric" if "scorer" in view else f"note for {view}", []).append(plain_text(content))
        for kind, values in dict.fromkeys((kind, tuple(values.items())) for kind, values in self.prober.notes):
            self.context.note(kind, **dict(values))
        if self.root.get("adaptive") == "true":
            self.context.note(MARKING_APPROXIMATED, detail="it is adaptive: it is marked over several attempts.")

    def choice_list(self, options: list[Option], weights: list[float]) -> list[Choice]:
        return [
            Choice(
                id=option.ident or f"c{n}",
                content=self.context.content(option.markup),
                weight=weight,
                feedback=self.context.content(option.feedback) or None,
            )
            for n, (option, weight) in enumerate(zip(options, weights, strict=True), 1)
        ]

    def right_pairs(self, response: Response) -> list[tuple[str, str]]:
        """The pairs of the right response, else those that a mapping gives points for, else those that conditions name."""
        texts = response.correct or [e.key for e in (response.mapping.entries if response.mapping else []) if e.value > 0]
        texts = texts or list(dict.fromkeys(n.value for n in self.processing.named if n.response == response.ident))
        return [(parts[0], parts[1]) for text in texts if len(parts := text.split()) == 2]

    def is_numeric(self, response: Response) -> bool:
        if response.base in ("float", "integer"):
            return True
        compared = {"varlt", "varlte", "vargt", "vargte", "bound"}
        return any(n.response == response.ident and n.test in compared for n in self.processing.named)

    def preserved(self, reason: str) -> Item:
        self.context.note(PRESERVED_KIND, detail=reason)
        self.context.claims.subtree(self.root)
        item = Preserved(
            id=self.id,
            stem=self.stem(),
            original=self.context.original,
            original_format=self.context.format,
            reason=reason,
            media=self.context.named_media(self.context.original),
        )
        item.points = self._preserved_points()
        return item

    def _preserved_points(self) -> float | None:
        """What a preserved item is worth: its declared maximum, or what its right response earns."""
        if self.processing.maximum is not None:
            return self.processing.maximum
        responses = self.processing.declared.responses.values()
        earned = self.processing.earned({response.ident: response.correct for response in responses})
        return round(earned, 6) if earned > 0 else None


def _gap(match: re.Match[str]) -> str:
    """A line to write on, with a space before what is a word."""
    return " _____ " if match[1] else " _____"
