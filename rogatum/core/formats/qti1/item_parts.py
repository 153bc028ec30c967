"""QTI 1.2 items with several parts: orders, rows to be matched, groups, blanks; each part's key is found beside the others."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping

from rogatum.core.findings.keys import NO_KEY_FOUND
from rogatum.core.formats.qti1.item_reading import ItemReading, is_numeric
from rogatum.core.formats.qti1.presentation import Response
from rogatum.core.formats.shared.keys import (
    WRONG,
    PartKey,
    Parts,
    Picks,
    Responses,
    TypedSlot,
    choice_weights,
    key_by_parts,
    lowest_of_blanks,
    numbers,
    pair_shares,
    scoring_of_order,
    shares,
    texts,
    typed_candidates,
)
from rogatum.core.items import Blank, ChoiceBlank, Cloze, Item, Matching, NumericBlank, Ordering, Pair, TextBlank
from rogatum.core.items.content import blank_marker
from rogatum.core.items.parts import rights
from rogatum.core.quizzes.marking import Response as Answer
from rogatum.core.quizzes.marking import index_in

_SEPARATORS = re.compile(r"[,.\s:|]+")


# Orders


def ordering(form: ItemReading, stem: str, response: Response) -> Item:
    labels = {label.ident: label for label in response.labels}
    order = _order(form, response, list(labels))
    give = _giver_of_orders(form, response, order)
    earned = form.prober.score(give(order))
    if earned <= 0:
        form.prober.note(NO_KEY_FOUND, detail="no order of the entries earns points.")
    item = Ordering(
        id=form.id,
        stem=stem,
        sequence=[form.context.content(labels[i].markup) for i in order],
        scoring=scoring_of_order(order, lambda entries: form.prober.score(give(entries))),
    )
    form.set_points(item, form.prober.scale(earned))

    def given(answer: Answer) -> Responses:
        places = [index_in(text, len(order)) for text in answer] if isinstance(answer, list) else []
        return give([order[place] for place in places if place is not None])

    form.given = given
    form.plain_feedback(item, give(order), [give(order[::-1]), give([]), {response.ident: [WRONG]}])
    return item


def _giver_of_orders(form: ItemReading, response: Response, order: list[str]) -> Callable[[list[str]], Responses]:
    """An order as a response: as its entries, or as one value that lists them where the conditions name it so ("B,C,A")."""
    named = [n.value for n in form.processing.named if n.response == response.ident and not n.negated]
    listed = next((v for v in named if re.split(r"[,\s]+", v.strip()) == order and len(order) > 1), None)
    if listed is None or form.prober.score({response.ident: order}) >= form.prober.score({response.ident: [listed]}):
        return lambda entries: {response.ident: entries}
    between = re.search(r"[,\s]+", listed.strip())
    return lambda entries: {response.ident: [(between[0] if between else ",").join(entries)]}


def _order(form: ItemReading, response: Response, idents: list[str]) -> list[str]:
    """The order that the conditions name by index, else the first named list that holds all entries."""
    named = [n for n in form.processing.named if n.response == response.ident]
    by_index: dict[int, str] = {}
    for name in sorted(named, key=lambda n: n.negated):
        if name.index and name.value in idents:
            by_index.setdefault(name.index, name.value)
    order = [by_index[i] for i in sorted(by_index)]
    if len(set(order)) == len(idents):
        return order
    for name in form.processing.named:
        listed = [part.strip() for part in re.split(r"[,\s]+", name.value) if part.strip()]
        if sorted(listed) == sorted(idents):
            return listed
    values = [n.value for n in named if n.value in idents]
    return list(dict.fromkeys([*order, *values, *idents]))


# Rows and groups


def same_options(responses: list[Response]) -> bool:
    first = sorted(label.markup for label in responses[0].labels)
    return all(sorted(label.markup for label in r.labels) == first for r in responses)


def _named_first(form: ItemReading, response: Response, idents: list[str]) -> list[str]:
    """The labels of a response, those first that conditions name, and of these first what they name without `not`."""
    named = sorted((n for n in form.processing.named if n.response == response.ident), key=lambda n: n.negated)
    return list(dict.fromkeys([*(n.value for n in named if n.value in idents), *idents]))


def _as_responses(picks: Picks) -> Responses:
    return {ident: [value] for ident, value in picks.items()}


def matching(form: ItemReading, responses: list[Response]) -> Item:
    candidates = {r.ident: _named_first(form, r, [label.ident for label in r.labels]) for r in responses}
    key = key_by_parts(Parts(candidates, _as_responses, form.prober.score))
    markups = {r.ident: {label.ident: label.markup for label in r.labels} for r in responses}
    item = Matching(id=form.id, stem=form.context.content(form.parts.stem()), shuffle=responses[0].shuffle, scoring=key.scoring)
    for response in responses:
        right = markups[response.ident][key.picks[response.ident]]
        item.pairs.append(Pair(left=form.context.content(response.prompt), right=form.context.content(right)))
    used = {markups[ident][pick] for ident, pick in key.picks.items()}
    item.distractors = [form.context.content(label.markup) for label in responses[0].labels if label.markup not in used]
    texts_of = {r.ident: {form.context.content(label.markup): label.ident for label in r.labels} for r in responses}
    slots = {str(n): r.ident for n, r in enumerate(responses)}
    _finish_matching(form, item, key, lambda left, right: (slots[left], texts_of[slots[left]].get(right, WRONG)), _as_responses)
    return item


def _finish_matching(
    form: ItemReading,
    item: Matching,
    key: PartKey,
    named: Callable[[str, str], tuple[str, str]],
    assemble: Callable[[Picks], Responses],
) -> None:
    """What matchings share; `named` says what a left (by its index) and a right (by its content) are to the source."""
    form.prober.needs_a_key(key.whole)
    for pair, share in zip(item.pairs, pair_shares(key), strict=True):
        pair.share = share
    form.set_points(item, form.prober.scale(key.whole))

    def given(answer: Answer) -> Responses:
        options = rights(item)
        picks = answer.items() if isinstance(answer, dict) else ()
        return assemble(dict(named(left, options[int(right)]) for left, right in picks))

    form.given = given
    form.plain_feedback(item, assemble(key.picks), [assemble(dict.fromkeys(key.picks, WRONG)), {}])


def group(form: ItemReading, stem: str, response: Response) -> Item:
    """A `response_grp`: labels with a match_group are the lefts, what they name the rights (ASI 1.2, 3.3.5.5)."""
    lefts = {label.ident: label for label in response.labels if label.match_group}
    offered = {label.ident: label for label in response.labels if not label.match_group}
    named = [n for n in form.processing.named if n.response == response.ident]
    between = next((m[0] for n in named if (m := _SEPARATORS.search(n.value))), ",")

    def assemble(picks: Picks) -> Responses:
        return {response.ident: [f"{left}{between}{right}" for left, right in picks.items()]}

    candidates = {left: _partners(form, response, left, list(offered)) for left in lefts}
    if not lefts or not offered or not all(candidates.values()):
        return form.preserved("its groups could not be matched.")
    key = key_by_parts(Parts(candidates, assemble, form.prober.score))
    item = Matching(id=form.id, stem=stem, scoring=key.scoring)
    for left, right in key.picks.items():
        item.pairs.append(Pair(left=form.context.content(lefts[left].markup), right=form.context.content(offered[right].markup)))
    used = set(key.picks.values())
    item.distractors = [form.context.content(label.markup) for ident, label in offered.items() if ident not in used]
    idents = {form.context.content(label.markup): ident for ident, label in offered.items()}
    sides = list(lefts)
    _finish_matching(form, item, key, lambda left, right: (sides[int(left)], idents[right]), assemble)
    return item


def _partners(form: ItemReading, response: Response, left: str, offered: list[str]) -> list[str]:
    """What a left may be matched with, first what conditions name together with it."""
    found: list[str] = []
    for name in sorted(form.processing.named, key=lambda n: n.negated):
        parts = [part for part in _SEPARATORS.split(name.value) if part]
        if name.response == response.ident and left in parts:
            found += [part for part in parts if part in offered]
    return list(dict.fromkeys([*found, *offered]))


# Blanks


def cloze(form: ItemReading, responses: list[Response]) -> Item:
    numbers_of = {response.ident: f"b{n}" for n, response in enumerate(responses, 1)}
    markup = ""
    for part in form.parts.parts:
        text = part if isinstance(part, str) else part.prompt
        markup += f" {text}" if markup.endswith("</span>") and text[:1].isalnum() else text
        if not isinstance(part, str):
            markup += (" " if markup[-1:].isalnum() else "") + blank_marker(numbers_of[part.ident])
    slots = {f"b{n}": response for n, response in enumerate(responses, 1)}

    def assemble(picks: Picks) -> Responses:
        return {slots[slot].ident: [value] for slot, value in picks.items()}

    return _cloze_of(form, form.context.content(markup), slots, assemble)


def blanks_of_one(form: ItemReading, stem: str, response: Response) -> Item:
    """One response with several labels to fill in: each is a blank, told apart by its index."""
    slots = {f"b{index}": response for index in range(1, len(response.labels) + 1)}

    def assemble(picks: Picks) -> Responses:
        return {response.ident: [picks.get(slot, "") for slot in slots]}

    marked = stem + "".join(f" {blank_marker(slot)}" for slot in slots)
    return _cloze_of(form, marked, slots, assemble, by_index=True)


def _cloze_of(
    form: ItemReading,
    stem: str,
    slots: Mapping[str, Response],
    assemble: Callable[[Picks], Responses],
    by_index: bool = False,
) -> Item:
    """The cloze of its slots, by the ids of their blanks."""
    names = {
        slot: [
            n for n in form.processing.named if n.response == response.ident and (not by_index or n.index in (int(slot[1:]), None))
        ]
        for slot, response in slots.items()
    }
    candidates = {}
    for slot, response in slots.items():
        if response.renderer == "choice":
            candidates[slot] = _named_first(form, response, [label.ident for label in response.labels])
        else:
            candidates[slot] = typed_candidates(names[slot])
    key = key_by_parts(Parts(candidates, assemble, form.prober.score))
    item = Cloze(id=form.id, stem=stem, scoring=key.scoring)
    gains = []
    for slot, response in slots.items():

        def give(value: str, slot: str = slot) -> Responses:
            return assemble({**key.picks, slot: value})

        blank, best = _blank(form, response, slot, TypedSlot(names[slot], give))
        item.blanks.append(blank)
        gains.append(best)
    for blank, share in zip(item.blanks, shares(gains), strict=True):
        blank.share = share
    form.prober.needs_a_key(key.whole)
    form.set_points(item, form.prober.scale(key.whole))
    idents = {
        b.id: dict(zip((c.id for c in b.choices), (lb.ident for lb in slots[b.id].labels), strict=True))
        for b in item.blanks
        if isinstance(b, ChoiceBlank)
    }

    def given(answer: Answer) -> Responses:
        picks = answer.items() if isinstance(answer, dict) else ()
        return assemble({slot: idents.get(slot, {}).get(value, value) for slot, value in picks})

    form.given = given
    item.lowest = lowest_of_blanks(item, lambda picks: form.prober.score(given(dict(picks))), key.whole)
    form.plain_feedback(item, assemble(key.picks), [assemble(dict.fromkeys(slots, WRONG)), {}])
    return item


def _blank(form: ItemReading, response: Response, blank_id: str, slot: TypedSlot) -> tuple[Blank, float]:
    """One blank and what it gains beside the right values of the others."""
    prober = form.prober
    if response.renderer == "choice":
        scores = [prober.score(slot.give(label.ident)) for label in response.labels]
        weights, best = choice_weights(scores, prober.score(slot.give(WRONG)))
        return ChoiceBlank(id=blank_id, choices=form.choice_list(response, weights)), best
    if is_numeric(form, response):
        intervals, best = numbers(prober, slot)
        if intervals:
            return NumericBlank(id=blank_id, answers=intervals), best
    key = texts(prober, slot)
    return TextBlank(id=blank_id, answers=key.answers, case_sensitive=key.case_sensitive), key.best
