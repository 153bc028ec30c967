"""The forms that an item may take, in the order in which they are tried, and what all items have in common."""

from __future__ import annotations

from collections.abc import Callable

from rogatum.core.documents.drafts import take_brackets
from rogatum.core.documents.keys.values import letters_of, texts_of
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.making import choices, orders, pairs, texts, truths
from rogatum.core.documents.making.case import Case
from rogatum.core.documents.matching import Grouped
from rogatum.core.findings.keys import KEY_UNKNOWN
from rogatum.core.items import Information, Item, Matching, Pair, metadata
from rogatum.core.items.type_words import type_named

Form = Callable[[Case], Item | None]
FORMS: tuple[Form, ...] = (
    truths.of_options,
    pairs.by_labels,
    pairs.by_lines,
    orders.by_places,
    truths.of_choices,
    orders.by_key,
    choices.of_choices,
    texts.stated_essay,
    texts.of_answers_within,
    truths.of_statement,
    texts.cloze,
    texts.numeric,
    texts.of_key,
    texts.unkeyed,
)
STATED: dict[str, Form] = {
    "multiple_choice": lambda case: choices.of_choices(case, several=False),
    "multiple_response": lambda case: choices.of_choices(case, several=True),
    "information": lambda case: Information(id=case.id, stem=case.stem),
    "essay": texts.essay,
    "fill_in": lambda case: texts.fill_in(case, texts_of(case.key)),
    "ordering": lambda case: orders.by_key(case, stated=True),
}
_CONTENT_LABELS = (("general", "feedback"), ("correct", "correct"), ("incorrect", "incorrect"))
# Labels that say something else than metadata.
_NO_METADATA = frozenset(("key", "model", "rubric", "points", "feedback", "correct", "incorrect", "type", "title"))


def item_of(case: Case) -> Item:
    """The item that a draft makes: by the type that it states, or by its form."""
    _feedback_of_last_choice(case)
    if not case.draft.choices:
        texts.of_answer_space(case)
    stated = STATED.get(type_named(case.draft.label("type")) or "") if "type" in case.draft.labels else None
    item = (stated(case) if stated else None) or next(found for form in FORMS if (found := form(case)) is not None)
    return _common(case, item)


def _feedback_of_last_choice(case: Case) -> None:
    """Where every other choice has feedback below it, what stands below the last is its own too."""
    labels = case.labels
    others = all(f"feedback:{label}" in case.draft.labels for label in labels[:-1])
    if len(labels) > 1 and others and "feedback" in case.draft.labels:
        case.draft.labels.setdefault(f"feedback:{labels[-1]}", case.draft.labels.pop("feedback"))


def _common(case: Case, item: Item) -> Item:
    draft = case.draft
    item.points = draft.points if draft.points is not None else draft.section.points_each
    item.title = draft.label("title")
    item.stimulus = draft.stimulus
    for slot, label in _CONTENT_LABELS:
        if label in draft.labels:
            item.feedback[slot] = case.content(content_of(draft.labels[label]))  # type: ignore[index]
    for label, lines in draft.labels.items():
        if label not in _NO_METADATA and not label.startswith("feedback:"):
            parts = (v.strip() for line in lines for v in (line.value.split(";") if label in metadata.NAMES else [line.value]))
            item.metadata[label] = [part.replace("\xad", "") for part in parts if part]
    return item


def matching_of(case: Case, group: Grouped) -> Item:
    """Numbered questions that share a lettered list of answers are one matching."""
    rights = {lines[0].label: case.content(content_of(lines)) for lines in group.pool}
    for draft in group.drafts[1:]:
        case.draft.labels |= draft.labels
        case.draft.points = draft.points if case.draft.points is None else case.draft.points
    for line in group.stem[-1:]:
        take_brackets(case.draft, line)
    item = Matching(id=case.id, stem=case.content(content_of(group.stem)) if group.stem else "")
    used: set[str] = set()
    for draft in group.drafts:
        letters = letters_of(draft.keys[0]) if draft.keys else []
        if len(letters) != 1 or letters[0] not in rights:
            case.note(KEY_UNKNOWN, key=draft.keys[0][:40] if draft.keys else f"nothing for {draft.number}")
            continue
        used.add(letters[0])
        item.pairs.append(Pair(left=case.content(content_of(draft.stem)), right=rights[letters[0]]))
    item.distractors = [text for label, text in rights.items() if label not in used]
    section = case.draft.section
    _common(case, item)
    if case.draft.points is not None:
        return item
    if section.points_all is not None:
        item.points = section.points_all
    elif section.points_each is not None:
        item.points = section.points_each * len(group.drafts)
    return item
