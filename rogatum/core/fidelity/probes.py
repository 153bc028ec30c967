"""Probes: the responses that show how an item marks.

Two forms of an item mark alike when every probe earns the same share in both. Probes are made from the first form and
carried over to the second by content, so that identifiers and order may differ.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from rogatum.core.items import (
    Blank,
    Choice,
    ChoiceBlank,
    Cloze,
    FillIn,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    Ordering,
    TextAnswer,
    TrueFalse,
)
from rogatum.core.items.by_type import ByBlank, ByType
from rogatum.core.items.content import comparable, plain_text
from rogatum.core.items.parts import rights
from rogatum.core.quizzes.marking import Response, mark

TOLERATED = 0.006
NO_NUMBER = "no number"
MOST_PAIRS = 12


@dataclass(frozen=True)
class Probe:
    label: str
    response: Response


@dataclass(frozen=True)
class Disagreement:
    """A probe whose marks differ; shares of the points, None where a form cannot be marked."""

    label: str
    a: float | None
    b: float | None


def probes_of(item: Item) -> list[Probe]:
    """The probe responses of an item; none for a type that only a person can mark."""
    maker = _MAKERS.of(item)
    return [Probe("nothing", None), *maker(item)] if maker else []


def disagreements(a: Item, b: Item) -> list[Disagreement]:
    """The probes of `a` (and of `b`, where it accepts texts or numbers of its own) on which the two mark differently."""
    probes = [(probe, carried(a, b, probe.response)) for probe in probes_of(a)]
    if a.type == b.type and isinstance(a, FillIn | Numeric | Cloze):
        probes += [(Probe(probe.label, carried(b, a, probe.response)), probe.response) for probe in probes_of(b)]
    found: dict[str, Disagreement] = {}
    for probe, other in probes:
        share_a, share_b = mark(a, probe.response), mark(b, other)
        if not _alike(share_a, share_b):
            found.setdefault(probe.label, Disagreement(probe.label, share_a, share_b))
    return list(found.values())


@dataclass(frozen=True)
class Origin:
    """How an item was marked where it came from: the item as it was read there, and the share that a response to it earns."""

    item: Item
    share: Callable[[Response], float]


def against_origin(origin: Origin, a: Item, b: Item) -> list[Disagreement]:
    """The probes on which `b` marks otherwise than the origin of `a`; none where `a` is another than was read there."""
    if origin.item.type != a.type or disagreements(origin.item, a):
        return []
    found: dict[str, Disagreement] = {}
    for probe in probes_of(a):
        theirs, ours = origin.share(carried(a, origin.item, probe.response)), mark(b, carried(a, b, probe.response))
        if not _alike(theirs, ours):
            found.setdefault(probe.label, Disagreement(probe.label, theirs, ours))
    return list(found.values())


def _alike(a: float | None, b: float | None) -> bool:
    return a == b or (a is not None and b is not None and abs(a - b) < TOLERATED)


# Carrying a response from one form of an item to another


def carried(a: Item, b: Item, response: Response) -> Response:
    """The response to `b` that means what `response` means to `a`."""
    if response is None:
        return None
    if isinstance(a, Cloze) != isinstance(b, Cloze):
        return _into_blanks(a, b, response) if isinstance(b, Cloze) else _out_of_blanks(a, b, response)  # type: ignore[arg-type]
    if isinstance(a, Ordering) and isinstance(b, Matching):
        return _places_as_pairs(a, b, response)
    options_a, options_b = _options(a), _options(b)
    if options_a is None or options_b is None:
        return _carried_parts(a, b, response)
    table = _table(options_a, options_b)
    if isinstance(response, list):
        return [table.get(value, value) for value in response]
    if isinstance(response, str):
        picked = table.get(response, response)
        return [picked] if isinstance(b, MultipleResponse) else picked
    return response


def _options(item: Item) -> list[tuple[str, str]] | None:
    """What can be picked, as (id, text)."""
    told = _PICKED.of(item)
    return told(item) if told else None


def _named_choices(part: MultipleChoice | MultipleResponse | ChoiceBlank) -> list[tuple[str, str]]:
    return [(choice.id, comparable(choice.content)) for choice in part.choices]


_PICKED: ByType[Callable[[Any], list[tuple[str, str]]] | None] = ByType(
    "what can be picked, as (id, text); None where a response is something else",
    {
        "multiple_choice": _named_choices,
        "multiple_response": _named_choices,
        "true_false": lambda _item: [("true", "True"), ("false", "False")],
        "fill_in": None,
        "numeric": None,
        "cloze": None,
        "matching": None,
        "ordering": lambda item: _numbered(item.sequence),
        "essay": None,
        "information": None,
        "preserved": None,
    },
)


def _table(options_a: list[tuple[str, str]], options_b: list[tuple[str, str]]) -> dict[str, str]:
    """Which option of b is which of a: by text, then by position."""
    left = list(options_b)
    table: dict[str, str] = {}
    for key, text in options_a:
        hit = next((option for option in left if option[1] == text), None)
        if hit is not None:
            table[key] = hit[0]
            left.remove(hit)
    for position, (key, _) in enumerate(options_a):
        if key not in table and position < len(options_b):
            table[key] = options_b[position][0]
    return table


def _carried_parts(a: Item, b: Item, response: Response) -> Response:
    if not isinstance(response, dict):
        return response
    if isinstance(a, Matching) and isinstance(b, Matching):
        lefts = _table(_numbered([p.left for p in a.pairs]), _numbered([p.left for p in b.pairs]))
        right_table = _table(_numbered(rights(a)), _numbered(rights(b)))
        return {lefts.get(key, key): right_table.get(value, value) for key, value in response.items()}
    if isinstance(a, Cloze) and isinstance(b, Cloze):
        return _carried_blanks(a, b, response)
    return response


def _places_as_pairs(a: Ordering, b: Matching, response: Response) -> Response:
    """What was put into each place of an order, as what belongs beside each place."""
    table = _table(_numbered(a.sequence), _numbered(rights(b)))
    return {str(place): table.get(value, value) for place, value in enumerate(response or [])}


def _into_blanks(a: Item, b: Cloze, response: Response) -> Response:
    """The response to a cloze that means what one to another type means: the answer in its only blank, or each right in its own."""
    if isinstance(a, Matching):
        values = response if isinstance(response, dict) else {}
        names = _numbered(rights(a))
        return {
            blank.id: _table(names, _picks(blank)).get(values[str(place)], values[str(place)])
            for place, blank in enumerate(b.blanks)
            if str(place) in values
        }
    if len(b.blanks) != 1 or not isinstance(response, str):
        return response
    blank, options = b.blanks[0], _options(a) or []
    return {blank.id: _table(options, _picks(blank)).get(response, response)}


def _out_of_blanks(a: Cloze, b: Item, response: Response) -> Response:
    """The response to another type that means what one to a cloze means."""
    if not isinstance(response, dict):
        return response
    if isinstance(b, Matching):
        names = _numbered(rights(b))
        return {
            str(place): _table(_picks(blank), names).get(response[blank.id], response[blank.id])
            for place, blank in enumerate(a.blanks)
            if blank.id in response
        }
    if len(a.blanks) != 1:
        return response
    blank = a.blanks[0]
    value = response.get(blank.id)
    if value is None:
        return None
    picked = _table(_picks(blank), _options(b) or []).get(value, value)
    return [picked] if isinstance(b, MultipleResponse) else picked


def _picks(blank: Blank) -> list[tuple[str, str]]:
    return _named_choices(blank) if isinstance(blank, ChoiceBlank) else []


def _numbered(texts: list[str]) -> list[tuple[str, str]]:
    return [(str(index), comparable(text)) for index, text in enumerate(texts)]


def _carried_blanks(a: Cloze, b: Cloze, response: dict[str, str]) -> Response:
    result = {}
    for blank_a, blank_b in zip(a.blanks, b.blanks, strict=False):
        value = response.get(blank_a.id)
        if value is None:
            continue
        if isinstance(blank_a, ChoiceBlank) and isinstance(blank_b, ChoiceBlank):
            value = _table(_named_choices(blank_a), _named_choices(blank_b)).get(value, value)
        result[blank_b.id] = value
    return result


# Making probes


def _name(choice: Choice) -> str:
    return plain_text(choice.content)[:40] or choice.id


def _choice_probes(item: MultipleChoice) -> list[Probe]:
    return [Probe(f"picks “{_name(choice)}”", choice.id) for choice in item.choices]


def _response_probes(item: MultipleResponse) -> list[Probe]:
    ids = [choice.id for choice in item.choices]
    key = [choice.id for choice in item.choices if choice.weight > 0]
    names = {choice.id: _name(choice) for choice in item.choices}
    probes = [Probe("the whole key", key), Probe("every choice", ids)]
    probes += [Probe(f"only “{names[i]}”", [i]) for i in ids]
    probes += [Probe(f"the key without “{names[i]}”", [k for k in key if k != i]) for i in key if len(key) > 1]
    wrong = [i for i in ids if i not in key]
    probes += [Probe(f"the key and “{names[i]}”", [*key, i]) for i in wrong]
    probes += [Probe("every wrong choice", wrong)] if len(wrong) > 1 else []
    pairs = [(x, y) for n, x in enumerate(ids) for y in ids[n + 1 :]][:MOST_PAIRS]
    return probes + [Probe(f"“{names[x]}” and “{names[y]}”", [x, y]) for x, y in pairs]


def _true_false_probes(_item: TrueFalse) -> list[Probe]:
    return [Probe("True", "true"), Probe("False", "false")]


def text_probes(answers: list[TextAnswer]) -> list[tuple[str, str]]:
    """Texts to try, as (label, text): each answer, with its case swapped, within more text, and with text behind."""
    found = []
    for answer in answers:
        text = answer.text
        found += [
            (f"“{text}”", text),
            (f"“{text}” in other case", text.swapcase()),
            (f"“{text}” within more", f"xx {text} xx"),
            (f"“{text}” and more", f"{text}x"),
        ]
    return [*found, ("something else", "\u2042 none of these")]


def number_probes(answers: list[NumericAnswer]) -> list[tuple[str, str]]:
    """Numbers to try, as (label, text): the middle of each interval, and just inside and outside of its bounds."""
    found = []
    for answer in answers:
        low, high = answer.bounds()
        finite = [bound for bound in (low, high) if abs(bound) != float("inf")]
        step = max(1e-6, abs(high - low) * 1e-3) if len(finite) == 2 else 1e-3
        if len(finite) == 2:
            found.append((f"{(low + high) / 2:g}", (low + high) / 2))
        for bound in finite:
            found += [
                (f"{bound:g}", bound),
                (f"just under {bound:g}", bound - step),
                (f"just over {bound:g}", bound + step),
            ]
    return [(label, repr(float(f"{value:.12g}"))) for label, value in found] + [("no number", NO_NUMBER)]


def _fill_in_probes(item: FillIn) -> list[Probe]:
    return [Probe(label, text) for label, text in text_probes(item.answers)]


def _numeric_probes(item: Numeric) -> list[Probe]:
    return [Probe(label, text) for label, text in number_probes(item.answers)]


def _choice_values(blank: ChoiceBlank) -> list[tuple[str, str]]:
    return [(f"“{_name(choice)}”", choice.id) for choice in blank.choices]


def _best_choice(blank: ChoiceBlank) -> str:
    best = max(blank.choices, key=lambda choice: choice.weight, default=None)
    return best.id if best else ""


_VALUES: ByBlank[Callable[[Any], list[tuple[str, str]]]] = ByBlank(
    "the values to try in a blank, as (label, value)",
    {
        "text": lambda blank: text_probes(blank.answers),
        "numeric": lambda blank: number_probes(blank.answers),
        "choice": _choice_values,
    },
)
_RIGHT: ByBlank[Callable[[Any], str]] = ByBlank(
    "the right value of a blank",
    {
        "text": lambda blank: text_probes(blank.answers)[0][1],
        "numeric": lambda blank: number_probes(blank.answers)[0][1],
        "choice": _best_choice,
    },
)


def _cloze_probes(item: Cloze) -> list[Probe]:
    """Each value of a blank beside right ones, where all count together, and each right one alone and left out."""
    key = {blank.id: _RIGHT.of(blank)(blank) for blank in item.blanks}
    probes = [Probe("the whole key", key)]
    for number, blank in enumerate(item.blanks, 1):
        values = _VALUES.of(blank)(blank)
        probes += [Probe(f"the key with blank {number}: {label}", {**key, blank.id: value}) for label, value in values]
        if len(item.blanks) > 1:
            probes.append(Probe(f"blank {number} alone", {blank.id: key[blank.id]}))
            probes.append(Probe(f"the key without blank {number}", _but(key, blank.id)))
    wrong = {blank.id: _VALUES.of(blank)(blank)[-1][1] for blank in item.blanks}
    return [*probes, Probe("something else in every blank", wrong)]


def _but(key: dict[str, str], left_out: str) -> dict[str, str]:
    return {name: value for name, value in key.items() if name != left_out}


def _matching_probes(item: Matching) -> list[Probe]:
    texts = rights(item)
    key = {str(index): str(texts.index(pair.right)) for index, pair in enumerate(item.pairs)}
    probes = [Probe("the whole key", key)]
    for index, pair in enumerate(item.pairs):
        name, place = plain_text(pair.left)[:40], str(index)
        wrong = str((int(key[place]) + 1) % len(texts))
        probes.append(Probe(f"only “{name}” right", {place: key[place]}))
        probes.append(Probe(f"all but “{name}” right", _but(key, place)))
        probes.append(Probe(f"“{name}” wrong, the others right", {**key, place: wrong}))
    if len(item.pairs) > 1:
        probes.append(Probe("the first two swapped", {**key, "0": key["1"], "1": key["0"]}))
    return probes


def _ordering_probes(item: Ordering) -> list[Probe]:
    order = [str(index) for index in range(len(item.sequence))]
    probes = [Probe("the right order", order), Probe("reversed", order[::-1]), Probe("the first entry last", order[1:] + order[:1])]
    for i in range(len(order) - 1):
        swapped = [*order[:i], order[i + 1], order[i], *order[i + 2 :]]
        probes.append(Probe(f"places {i + 1} and {i + 2} swapped", swapped))
    return probes


_MAKERS: ByType[Callable[[Any], list[Probe]] | None] = ByType(
    "the responses that show how an item marks; None where a person marks it",
    {
        "multiple_choice": _choice_probes,
        "multiple_response": _response_probes,
        "true_false": _true_false_probes,
        "fill_in": _fill_in_probes,
        "numeric": _numeric_probes,
        "cloze": _cloze_probes,
        "matching": _matching_probes,
        "ordering": _ordering_probes,
        "essay": None,
        "information": None,
        "preserved": None,
    },
)
