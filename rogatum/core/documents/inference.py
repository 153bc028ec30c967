"""What a document's own habits mean where no word is known: by what stands there, item after item."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.keys.marks import marks_behind
from rogatum.core.documents.keys.values import labels_in, pairs_in, truth_of
from rogatum.core.documents.lines import Line

MOST, FEWEST, LONG = 0.6, 3, 28
# What may stand behind a stem and give its points: a number in brackets or behind a sign, with a few letters at most.
_WORTH = re.compile(
    r"(?:^|(?<=[.?!:_…)])|(?<!\s)\s++)(?P<worth>[(\[{/<]\s?(?P<n>\d{1,2}(?:[.,]\d)?)\s?[^\W\d_]{0,8}\.?\s?[)\]}>]?|(?:worth\s)?(?P<m>\d{1,2})\s?"
    rf"{p.POINT_WORDS})\s*$",
    re.I,
)


def infer(drafts: Sequence[Draft]) -> None:
    """Reads labels, brackets and signs that are known nowhere by how they are used in this document."""
    _labels(drafts)
    points_behind(drafts)
    marks_behind(drafts)


def _labels(drafts: Sequence[Draft]) -> None:
    """A label whose values name choices is the key; one whose values are sentences is feedback, or the model of a text."""
    values: dict[str, list[tuple[Draft, Line]]] = {}
    for draft in drafts:
        for name, lines in draft.labels.items():
            if name not in p.LABELS and not name.startswith("feedback:"):
                values.setdefault(name, []).append((draft, lines[0]))
    for name, found in values.items():
        asked = [(draft, line) for draft, line in found if draft.choices or draft.truths or truth_of(line.value) is not None]
        named = sum(_names_choices(draft, line.value) for draft, line in asked)
        # Pairs are no less than two keys.
        enough = len(asked) >= 2 or any(pairs_in(line.value) for _, line in asked)
        if enough and named >= 0.8 * len(asked) and not any(draft.keys for draft, _ in asked):
            for draft, _ in found:
                draft.keys += [line.spoken for line in draft.labels.pop(name)]
        elif sum(len(line.value) for _, line in found) > LONG * len(found) and all(" " in line.value for _, line in found):
            texts = sum(not (draft.choices or draft.truths or draft.keys) for draft, _ in found)
            for draft, _ in found:
                # How a text is marked stands behind what it should say.
                slot = "feedback" if texts < len(found) else "rubric" if "model" in draft.labels else "model"
                draft.labels.setdefault(slot, []).extend(draft.labels.pop(name))


def _names_choices(draft: Draft, value: str) -> bool:
    """Whether a value is a key of a question: labels of its choices, a truth, or pairs of numbers and letters."""
    return bool(pairs_in(value) or labels_in(value, _names(draft))) or truth_of(value) is not None


def _names(draft: Draft) -> list[str]:
    return [(lines[0].token or lines[0].label).casefold() for lines in draft.choices]


def _notation(match: re.Match[str]) -> str:
    """How points are written: the signs around a number, or that a known word follows it."""
    return re.sub(r"\d+(?:[.,]\d)?", "#", match["worth"]) if match["n"] else "# points"


def points_behind(drafts: Sequence[Draft]) -> None:
    """Numbers in one notation behind most stems are their points."""
    lines = [(draft, line) for draft in drafts if draft.points is None for line in draft.stem]
    found = [(draft, line, match) for draft, line in lines if (match := _WORTH.search(line.text[: line.end]))]
    shapes = Counter(_notation(match) for _, _, match in found)
    shape, count = max(shapes.items(), key=lambda entry: entry[1], default=("", 0))
    if count < max(FEWEST, MOST * len(drafts)) or not re.search(r"[^\W\d_]|/|[(\[{<]#[)\]}>]", shape):
        return
    for draft, line, match in found:
        if _notation(match) == shape:
            draft.points = float((match["n"] or match["m"]).replace(",", "."))
            line.keep(line.start, match.start())
    for draft, line, _ in found:
        if not line.value and len(draft.stem) > 1:
            draft.stem = [other for other in draft.stem if other is not line]
