"""Multiple choice and multiple response: keys by marks, letters, words or shares; feedback of each choice."""

from __future__ import annotations

import re

from rogatum.core import spaces
from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.values import compared, texts_of
from rogatum.core.documents.labels import roman_value
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.making.case import Case
from rogatum.core.findings.items import LABEL_SKIPPED, TYPE_GUESSED, TYPE_UNSURE
from rogatum.core.findings.keys import KEY_UNKNOWN, KEYS_DISAGREE
from rogatum.core.findings.numbering import FEEDBACK_BEHIND
from rogatum.core.items import Choice, Item, MultipleChoice, MultipleResponse

FEEDBACK_SIGN = " -- "
_SPOKEN = re.compile(r"^\(?[A-Za-z][.):]\s+(?P<text>\S.*)$")


def of_choices(case: Case, several: bool | None = None) -> Item | None:
    """An item with choices; `several` says whether more than one may be right, where that is known."""
    draft = case.draft
    if not draft.choices:
        return None
    order = _order_of(case.labels)
    if order:
        # Choices in two columns stand in another order than their labels.
        draft.choices.sort(key=lambda lines: order[lines[0].label])
    _check_labels(case)
    _feedback_behind(case)
    shares = _shares(case)
    keyed = [line.label for line in case.marked([lines[0] for lines in draft.choices])]
    named = _named(case)
    if keyed and named and set(keyed) != set(named):
        case.note(KEYS_DISAGREE, first=", ".join(keyed), second=", ".join(named))
    key = list(dict.fromkeys(keyed or named))
    several = _takes_several(case, several, key, keyed)
    weight = round(1 / len(key), 6) if several and key else 1.0
    without = case.habit.kind if case.habit else ""
    choices = [
        Choice(
            id=lines[0].label or f"c{n}",
            content=case.content(content_of(lines, without)),
            weight=weight if lines[0].label in key else 0.0,
            feedback=_feedback_of(case, lines[0].label),
        )
        for n, lines in enumerate(draft.choices, 1)
    ]
    for choice, share in zip(choices, shares, strict=False):
        choice.weight = share
    if shares and max(shares) < 1:
        return MultipleResponse(id=case.id, stem=case.stem, choices=choices, scoring="per_choice")
    if several and not shares:
        return MultipleResponse(id=case.id, stem=case.stem, choices=choices)
    return MultipleChoice(id=case.id, stem=case.stem, choices=choices)


def _order_of(labels: list[str]) -> dict[str, int]:
    """The place of each label among all, by the alphabet or as Roman numerals; empty where they are neither, or come twice."""
    if len(set(labels)) < len(labels):
        return {}
    if all(len(label) == 1 for label in labels):
        return {label: ord(label) for label in labels}
    values = {label: roman_value(label) for label in labels}
    return {label: value for label, value in values.items() if value} if all(values.values()) else {}


def _check_labels(case: Case) -> None:
    for before, after in zip(case.labels, case.labels[1:], strict=False):
        if len(before) == len(after) == 1 and ord(after) == ord(before) + 2:
            case.note(LABEL_SKIPPED, before=before, after=after)


def _feedback_behind(case: Case) -> None:
    """Feedback behind each choice on its own line: “sand -- No, it is coarse.”"""
    firsts = [lines[0] for lines in case.draft.choices]
    if not all(line.value.count(FEEDBACK_SIGN) == 1 for line in firsts):
        return
    for line in firsts:
        at = line.text.index(FEEDBACK_SIGN, line.start)
        feedback = line.cut(at + len(FEEDBACK_SIGN), len(line.text) if line.end is None else line.end)
        feedback.keep(0)
        case.draft.labels.setdefault(f"feedback:{line.label}", []).append(feedback)
        line.keep(line.start, at)
    case.note(FEEDBACK_BEHIND, sign=FEEDBACK_SIGN.strip())


def _shares(case: Case) -> list[float]:
    """What each choice earns, where each says so in per cent: one has all, or those that are right share it."""
    lasts = [lines[-1] for lines in case.draft.choices]
    matches = [p.SHARE_BEHIND.search(line.value) for line in lasts]
    if case.draft.keys or not all(matches):
        return []
    shares = [float(match["n"].replace("−", "-")) / 100 for match in matches if match]
    right = [share for share in shares if share > 0]
    if shares.count(1.0) != 1 and abs(sum(right) - 1) > 0.011 * max(1, len(right)):
        return []
    for line, match in zip(lasts, matches, strict=True):
        if match:
            line.keep(line.start, line.start + match.start())
    case.note(TYPE_GUESSED, detail="each choice says in per cent what it earns.")
    return shares


def _feedback_of(case: Case, label: str) -> str | None:
    """Feedback of one choice. Where the others have theirs, what stands behind the last choice is the last one's."""
    labels, name = case.draft.labels, f"feedback:{label}"
    others = sum(key.startswith("feedback:") for key in labels)
    last = case.draft.choices[-1][0].label == label
    if last and name not in labels and "feedback" in labels and others == len(case.draft.choices) - 1 > 1:
        labels[name] = labels.pop("feedback")
    return case.content(content_of(labels[name])) if name in labels else None


def _takes_several(case: Case, stated: bool | None, key: list[str], keyed: list[str]) -> bool:
    if stated is not None:
        return stated
    text = case.text
    told = bool(p.SEVERAL_CUE.search(text))
    asked = told or case.asks("multiple_response")
    several = len(key) > 1 and (asked or (not keyed and not p.ONE_CUE.search(text)) or (bool(keyed) and not _one_only(case)))
    if several and not asked:
        if keyed and case.lone:
            case.note(TYPE_UNSURE, detail=f"{len(key)} of its choices are marked as right, and one in every other question.")
        else:
            case.note(TYPE_GUESSED, detail=f"its key names {len(key)} choices.")
    return several or (asked and len(key) != 1) or (told and case.asks("multiple_response"))


def _one_only(case: Case) -> bool:
    """Whether a document says that one choice is right: then a second mark is a slip."""
    return bool(p.ONE_CUE.search(case.text)) or case.asks("multiple_choice") or case.draft.section.one_only


def _named(case: Case) -> list[str]:
    """The labels of the choices that keys name, by letter or by their text."""
    if not any(map(str.strip, case.draft.keys)):
        return []
    labels = case.labels
    texts = case.choice_texts()
    found: list[str] = []
    for key in case.draft.keys:
        if not key.strip():
            continue
        letters = case.named(key)
        by_text = _by_text(key, texts)
        if by_text and not (letters and compared(key) in labels):
            found += by_text
            continue
        _check_text(case, key, letters, texts)
        if letters:
            found += letters
        else:
            case.note(KEY_UNKNOWN, key=key[:40])
    return found


def _by_text(key: str, texts: dict[str, str]) -> list[str]:
    """The choices that a key gives in their own words, one or several."""
    whole = texts.get(compared(key))
    if whole is not None:
        return [whole]
    parts = texts_of(key)
    found = [texts.get(compared(part), "") for part in parts]
    if len(parts) > 1 and all(found):
        return found
    parts = re.split(spaces.BEFORE + r"(?:;|,|\band\b)\s*+", key)
    found = [texts.get(compared(part), "") for part in parts if part]
    return found if len(found) > 1 and all(found) else []


def _check_text(case: Case, key: str, letters: list[str], texts: dict[str, str]) -> None:
    """“B) clay”, where clay is another choice than B."""
    spoken = _SPOKEN.match(key.strip())
    other = texts.get(compared(spoken["text"])) if spoken else None
    if other is not None and letters and other != letters[0]:
        case.note(KEYS_DISAGREE, first=letters[0].upper(), second=other.upper())
