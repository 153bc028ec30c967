"""What stands beside the question in a QTI 1.2 `item`: metadata, objectives, feedback texts, solutions, hints, rubrics."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from lxml import etree

from rogatum.core.accounting import XmlClaims
from rogatum.core.formats.qti1.material import MaterialReader
from rogatum.core.formats.qti1.processing import Processing
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.formats.shared.keys import Shapes
from rogatum.core.formats.shared.vocabulary import POINTS, TYPE, meaning_of, number_in
from rogatum.core.items import Essay, Item
from rogatum.core.items.content import plain_text

# The weighting of an item (ASI 1.2, 5.4), by which a test multiplies its score where its score model is a weighted one.
WEIGHTING = "qmd_weighting"


@dataclass
class ItemContext:
    """What reading one item needs: where to put findings and claims, and how to read material."""

    builder: BankBuilder
    claims: XmlClaims
    item_id: str
    where: str
    material: MaterialReader
    resolve: Callable[[str], str | None]
    # The files that a piece of markup names, as content that shows each.
    named_media: Callable[[str], dict[str, str]]
    shapes: Shapes[Processing] = field(default_factory=Shapes)
    percent_scores: bool = False
    # Whether the test multiplies what the item is worth by its weighting, and that weighting.
    weighted: bool = False
    weight: float | None = None
    metadata: dict[str, list[str]] = field(default_factory=dict)
    declared_points: float | None = None
    declared_type: str = ""

    def content(self, markup: str) -> str:
        return self.builder.content(markup, self.where, self.item_id, self.resolve)


def read_metadata(element: etree._Element, context: ItemContext) -> None:
    """The fields of `itemmetadata` and the objectives; points and type that they state go to the context."""
    claims = context.claims
    for entry in element.iterfind(".//qtimetadatafield"):
        label_element, value_element = entry.find("fieldlabel"), entry.find("fieldentry")
        if label_element is None or value_element is None:
            continue
        label = " ".join(claims.text(label_element).split())
        value = " ".join(claims.text(value_element).split())
        _take_metadata(context, label, value)
    for container in element.iterfind("itemmetadata"):
        for child in container:
            tag = str(child.tag)
            if tag.startswith("qmd_") and (child.text or "").strip():
                _take_metadata(context, tag, " ".join(claims.text(child).split()))
    for objective in element.iterfind("objectives"):
        text = plain_text(context.content(context.material.children(objective)))
        if text:
            context.metadata.setdefault("outcome", []).append(text)


def _take_metadata(context: ItemContext, label: str, value: str) -> None:
    meaning = meaning_of(label)
    number = number_in(value) if meaning == POINTS else None
    if number is not None and context.weighted and label.lower() == WEIGHTING:
        context.weight = number
    elif number is not None:
        context.declared_points = number
    elif meaning == TYPE:
        context.declared_type = value
    elif value:
        context.metadata.setdefault(meaning, []).append(value)


def feedback_texts(element: etree._Element, context: ItemContext) -> dict[str, str]:
    """The feedback that processing can show, by id, as content."""
    texts: dict[str, str] = {}
    for feedback in element.iterfind("itemfeedback"):
        markup = "".join(context.material.markup(child) for child in feedback if child.tag in ("material", "flow_mat"))
        content = context.content(markup)
        if content:
            texts[feedback.get("ident", "")] = content
    return texts


def read_solutions(element: etree._Element, context: ItemContext, item: Item) -> None:
    """Solutions and hints: an essay's solution is its sample answer, another item's is general feedback."""
    for solution in element.iterfind(".//solution"):
        content = context.content("".join(context.material.children(part) for part in solution))
        if not content:
            continue
        if isinstance(item, Essay) and item.sample_answer is None:
            item.sample_answer = content
        else:
            item.feedback["general"] = "".join(filter(None, [item.feedback.get("general"), f"<p>{content}</p>"]))
    for hint in element.iterfind(".//hint"):
        text = plain_text(context.content("".join(context.material.children(part) for part in hint)))
        if text:
            item.metadata.setdefault("hint", []).append(text)
    for rubric in [*element.iterfind("rubric"), *element.iterfind("itemrubric")]:
        content = context.content(context.material.children(rubric))
        if isinstance(item, Essay) and content:
            item.rubric = content
        elif content:
            item.metadata.setdefault("rubric", []).append(plain_text(content))
