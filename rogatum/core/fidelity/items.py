"""The facets of an item: how each is judged. `marking` is how answers share the points out, `points` what full marks are worth."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Literal

from rogatum.core.fidelity.judging import SAME, Judgement, compared
from rogatum.core.fidelity.probes import Disagreement, Origin, against_origin, disagreements
from rogatum.core.items import Bank, Cloze, FillIn, Item, MultipleResponse, Numeric, Preserved, parts
from rogatum.core.items.coarser import formulas_as
from rogatum.core.items.content import alt_texts, comparable, formulas_of, media_refs, plain_text, skeleton

Facet = Literal[
    "type", "stem", "formatting", "math", "media", "choices", "key", "marking", "points", "feedback", "metadata", "grouping"
]


class Sides:
    """What facets need of the two banks: media by hash, pools and stimuli of items."""

    def __init__(self, a: Bank, b: Bank, no_pools_in: str = "", origins: Mapping[str, Origin] | None = None) -> None:
        """`no_pools_in` names the format that was written, where it has no place for pools.

        `origins` say how items of `a` were marked where they came from, for those that could not hold it.
        """
        self.no_pools_in, self.origins = no_pools_in, origins or {}
        self.media = [{entry.ref: entry.sha256 for entry in bank.media} for bank in (a, b)]
        self.pools = [bank.pool_paths() for bank in (a, b)]
        self.stimuli = [{s.id: s.content for s in bank.stimuli} for bank in (a, b)]
        self._contents: dict[int, list[str]] = {}
        self._differing: tuple[Item, Item, list[Disagreement]] | None = None

    def contents(self, item: Item) -> list[str]:
        """All contents of an item; several facets ask for them, so they are collected once."""
        if id(item) not in self._contents:
            self._contents[id(item)] = parts.content_fields(item)
        return self._contents[id(item)]

    def disagreements(self, a: Item, b: Item) -> list[Disagreement]:
        """The probes that the two mark differently; several facets ask for those of one pair, one after the other."""
        last = self._differing
        if last is None or last[0] is not a or last[1] is not b:
            # Sides may be asked by several threads at once: what is kept is taken as a whole.
            last = self._differing = (a, b, disagreements(a, b))
        return last[2]

    def forget(self, item: Item) -> None:
        """Must be called of an item that does not outlive these sides: another may come to lie in its place."""
        self._contents.pop(id(item), None)

    def hashes(self, side: int, item: Item) -> list[str]:
        found = [ref for content in self.contents(item) for ref in media_refs(content)]
        return sorted(self.media[side].get(ref, ref) for ref in found)

    def original(self, side: int, item: Preserved) -> str:
        """The own markup of a preserved item, with what its files are in the place of their addresses, however it is set out."""
        markup = re.sub(r">\s+<", "><", item.original)
        for address, content in item.media.items():
            for ref in media_refs(content):
                markup = markup.replace(address, self.media[side].get(ref, ref))
        return markup

    def stimulus(self, side: int, item: Item) -> str:
        return comparable(self.stimuli[side].get(item.stimulus or "", ""))


def _shown(value: object) -> str:
    if isinstance(value, list):
        return "; ".join(map(str, value))[:300]
    if isinstance(value, dict):
        return "; ".join(f"{k}: {_shown(v)}" for k, v in value.items())[:300]
    return str(value)[:300]


def _type(a: Item, b: Item, sides: Sides) -> Judgement:
    if a.type == b.type:
        return SAME
    names = a.type.replace("_", " "), b.type.replace("_", " ")
    if not isinstance(a, Preserved) and not sides.disagreements(a, b) and parts.key(a):
        return Judgement("recast", "type-recast", f"A {names[0]} became a {names[1]} that marks alike.", *names)
    return Judgement("changed", "type-changed", f"A {names[0]} became a {names[1]}.", *names)


def _stem(a: Item, b: Item, _sides: Sides) -> Judgement:
    text_a, text_b = comparable(a.stem), comparable(b.stem)
    if text_a != text_b and _squeezed(text_a) == _squeezed(text_b):
        return Judgement("recast", "stem-spacing", "Only spaces differ.", text_a[:300], text_b[:300])
    return compared(text_a, text_b, "The stem", "stem", _shown)


def _squeezed(text: str) -> str:
    return re.sub(r"[\s_]+", "", text)


def _formatting(a: Item, b: Item, sides: Sides) -> Judgement:
    tags_a = [skeleton(content) for content in sides.contents(a)]
    tags_b = [skeleton(content) for content in sides.contents(b)]
    # Contents are compared as a whole where their number differs: that is another facet's matter.
    flat_a, flat_b = [t for tags in tags_a for t in tags], [t for tags in tags_b for t in tags]
    # The order of contents is another facet's matter too.
    if sorted(filter(None, tags_a)) == sorted(filter(None, tags_b)):
        return SAME
    names_a, names_b = _named(flat_a), _named(flat_b)
    if flat_a and len(flat_b) < len(flat_a) and set(flat_b) <= set(flat_a):
        return Judgement("lost", "formatting-lost", "Formatting did not come over.", _shown(names_a), _shown(names_b))
    return compared(flat_a, flat_b, "Formatting", "formatting", lambda v: _shown(_named(v)))  # type: ignore[arg-type]


def _named(tags: list[str]) -> list[str]:
    return [f"<{tag}>" for tag in dict.fromkeys(tag for tag in tags if not tag.startswith("/"))]


def _math(a: Item, b: Item, sides: Sides) -> Judgement:
    found_a = [tex for content in sides.contents(a) for tex in formulas_of(content)]
    found_b = [tex for content in sides.contents(b) for tex in formulas_of(content)]
    if found_a and len(found_b) < len(found_a):
        return Judgement("lost", "math-lost", "A formula did not come over.", _shown(found_a), _shown(found_b))
    return compared(sorted(found_a), sorted(found_b), "A formula", "math", _shown)


def _media(a: Item, b: Item, sides: Sides) -> Judgement:
    found_a, found_b = sides.hashes(0, a), sides.hashes(1, b)
    if found_a and len(found_b) < len(found_a):
        return Judgement("lost", "media-lost", "A picture or sound did not come over.", f"{len(found_a)}", f"{len(found_b)}")
    judged = compared(found_a, found_b, "A picture or sound", "media", lambda v: str(len(v)))  # type: ignore[arg-type]
    if judged.verdict != "same":
        return judged
    alts = [sorted(alt for content in sides.contents(item) for alt in alt_texts(content) if alt) for item in (a, b)]
    return compared(alts[0], alts[1], "A picture's alternative text", "alt", _shown)


def _choices(a: Item, b: Item, _sides: Sides) -> Judgement:
    texts_a = [comparable(content) for content in parts.options(a)]
    texts_b = [comparable(content) for content in parts.options(b)]
    if texts_a != texts_b and sorted(texts_a) == sorted(texts_b):
        return Judgement("recast", "choices-order", "The choices stand in another order.", _shown(texts_a), _shown(texts_b))
    if texts_a and len(texts_b) < len(texts_a):
        return Judgement("lost", "choices-lost", "Choices did not come over.", _shown(texts_a), _shown(texts_b))
    judged = compared(texts_a, texts_b, "The choices", "choices", _shown)
    return judged if judged.verdict != "same" else _may_be_shuffled(a, b)


_MAY = {None: "not set", True: "they may be shuffled", False: "they stay in this order"}


def _may_be_shuffled(a: Item, b: Item) -> Judgement:
    """Whether the choices may stand in another order for each student: not set is not the same as no."""
    said = [parts.own_order(item) for item in (a, b)]
    if said[0] == said[1] or not {a.type, b.type} <= set(parts.WITH_ORDER):
        return SAME
    shown = [_MAY[value] for value in said]
    if said[0] is None:
        return Judgement("added", "shuffling-added", "Whether the choices may be shuffled was not set, and is.", *shown)
    if said[1] is None:
        return Judgement("lost", "shuffling-lost", "Whether the choices may be shuffled did not come over.", *shown)
    return Judgement("changed", "shuffling-changed", "Whether the choices may be shuffled differs.", *shown)


def _key(a: Item, b: Item, sides: Sides) -> Judgement:
    if isinstance(a, Preserved) and isinstance(b, Preserved) and sides.original(0, a) == sides.original(1, b):
        return SAME
    units = [item.unit or "" if isinstance(item, Numeric) else "" for item in (a, b)]
    if parts.key(a) == parts.key(b) and units[0] != units[1]:
        return compared(units[0], units[1], "The unit of the number", "unit", _shown)
    judged = compared(parts.key(a), parts.key(b), "The key", "key", _shown)
    if judged.verdict == "changed" and isinstance(a, FillIn | Cloze) and a.type == b.type and not sides.disagreements(a, b):
        return replace(judged, verdict="recast", code="key-recast", message="The key is written in another way and marks alike.")
    return judged


def _marking(a: Item, b: Item, sides: Sides) -> Judgement:
    if isinstance(a, Preserved) and isinstance(b, Preserved):
        alike = sides.original(0, a) == sides.original(1, b)
        return SAME if alike else Judgement("changed", "original-changed", "The preserved original differs.")
    found = sides.disagreements(a, b)
    if found:
        return _disagreed(found)
    origin = sides.origins.get(a.id)
    differing = against_origin(origin, a, b) if origin is not None else []
    if differing:
        return _disagreed(
            differing, "marks-differ-from-source", "In the source, {response} earned {a}, and now it earns {b}{more}."
        )
    if isinstance(a, MultipleResponse) and isinstance(b, MultipleResponse) and a.scoring != b.scoring:
        return Judgement("recast", "scoring-recast", "The scoring is written in another way and marks alike.", a.scoring, b.scoring)
    return SAME


def _points(a: Item, b: Item, _sides: Sides) -> Judgement:
    """What full marks are worth. No points and 0 points are not the same."""
    if a.points == b.points:
        return SAME
    shown = ["none" if points is None else f"{points:g}" for points in (a.points, b.points)]
    if b.points is None:
        return Judgement("lost", "points-lost", "The points did not come over.", *shown)
    if a.points is None:
        return Judgement("added", "points-added", "The points were added.", *shown)
    return Judgement("changed", "points-changed", "The points differ.", *shown)


def _disagreed(
    found: list[Disagreement], code: str = "marks-differ", words: str = "{response} earned {a} and now earns {b}{more}."
) -> Judgement:
    def shown(value: float | None) -> str:
        return "cannot be marked" if value is None else f"{value * 100:.0f} %"

    first = found[0]
    more = f" ({len(found)} probes differ)" if len(found) > 1 else ""
    sides = [
        "; ".join(f"{d.label}: {shown(value)}" for d, value in ((d, getattr(d, side)) for d in found[:6])) for side in ("a", "b")
    ]
    response = first.label if words[0] != "{" else first.label.capitalize()
    message = words.format(response=response, a=shown(first.a), b=shown(first.b), more=more)
    return Judgement("changed", code, message, *sides)


def _feedback(a: Item, b: Item, _sides: Sides) -> Judgement:
    found_a = {slot: comparable(text) for slot, text in parts.feedback(a).items()}
    found_b = {slot: comparable(text) for slot, text in parts.feedback(b).items()}
    if found_a == found_b:
        return SAME
    texts_a, texts_b = sorted(found_a.values()), sorted(found_b.values())
    if texts_a == texts_b or _squeezed("".join(texts_a)) == _squeezed("".join(texts_b)):
        return Judgement("recast", "feedback-moved", "Feedback stands in another place.", _shown(found_a), _shown(found_b))
    if found_a and len(texts_b) < len(texts_a):
        gone = [slot for slot, text in found_a.items() if text not in texts_b]
        message = f"Feedback did not come over: {', '.join(gone)}."
        return Judgement("lost", "feedback-lost", message, _shown(found_a), _shown(found_b))
    return compared(found_a, found_b, "Feedback", "feedback", _shown)


def _metadata(a: Item, b: Item, _sides: Sides) -> Judgement:
    found_a, found_b = dict(a.metadata), dict(b.metadata)
    if a.title or b.title:
        # Where each item has a title, one without its own is called by its first words: those that it has, or had before.
        told = [item.title or (other.title if _is_made_up(other.title, item, other) else "") for item, other in ((a, b), (b, a))]
        found_a["title"], found_b["title"] = [plain_text(told[0])], [plain_text(told[1])]
    if found_a == found_b:
        return SAME
    gone = [label for label, values in found_a.items() if any(values) and not any(found_b.get(label, []))]
    if gone and _moved(found_a, found_b):
        message = f"Stands elsewhere now: {', '.join(gone)}."
        return Judgement("recast", "metadata-moved", message, _shown(found_a), _shown(found_b))
    if gone:
        return Judgement("lost", "metadata-lost", f"Did not come over: {', '.join(gone)}.", _shown(found_a), _shown(found_b))
    kept = {label: values for label, values in found_b.items() if label in found_a and any(found_a[label])}
    if kept == {label: values for label, values in found_a.items() if any(values)}:
        return Judgement("added", "metadata-added", "Metadata were added.", _shown(found_a), _shown(found_b))
    return compared(found_a, found_b, "Metadata", "metadata", _shown)


def _is_made_up(title: str, *items: Item) -> bool:
    """Whether a title is the first words of one of these: with their formulas, or without where these were pictures."""
    stems = [stem for item in items for stem in (item.stem, formulas_as(item.stem, lambda _tex: ""))]
    words = (parts.title_of(items[0].model_copy(update={"title": "", "stem": stem})) for stem in stems)
    return any(_bare(title) == _bare(told) for told in words)


def _bare(title: str) -> str:
    """A title without what blanks and formulas are set off with, which are written in one way or another."""
    return re.sub(r"\\[()]", "", _squeezed(title))


def _moved(a: Mapping[str, list[str]], b: Mapping[str, list[str]]) -> bool:
    """Whether all that was said is said still: under its label, as another value of one that stays, or within the title."""
    others, title = {value for values in b.values() for value in values}, " ".join(b.get("title", []))

    def said(label: str, value: str) -> bool:
        return not value or value in b.get(label, []) or value in others or value in title

    return all(said(label, value) for label, values in a.items() for value in values)


def _grouping(a: Item, b: Item, sides: Sides) -> Judgement:
    stimuli = sides.stimulus(0, a), sides.stimulus(1, b)
    judged = compared(stimuli[0], stimuli[1], "The shared passage", "stimulus", _shown)
    if judged.verdict != "same":
        return judged
    path_a, path_b = sides.pools[0].get(a.id, ()), sides.pools[1].get(b.id, ())
    if path_a != path_b and " / ".join(path_a) == " / ".join(path_b):
        return Judgement(
            "recast", "pool-flattened", "Nested pools became one whose name has all names.", _shown(path_a), _shown(path_b)
        )
    if path_a != path_b and path_a and sides.no_pools_in:
        message = f"{sides.no_pools_in} has no place for pools."
        return Judgement("lost", "pool-not-carried", message, _shown(path_a), _shown(path_b))
    return compared(list(path_a), list(path_b), "The pool", "pool", _shown)


JUDGES: dict[Facet, Callable[[Item, Item, Sides], Judgement]] = {
    "type": _type,
    "stem": _stem,
    "formatting": _formatting,
    "math": _math,
    "media": _media,
    "choices": _choices,
    "key": _key,
    "marking": _marking,
    "points": _points,
    "feedback": _feedback,
    "metadata": _metadata,
    "grouping": _grouping,
}
