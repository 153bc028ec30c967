"""Questions without the usual numbers: letters or bare numbers, blocks parted by blank lines, or stems known by how they end."""

from __future__ import annotations

import re

from rogatum.core.documents import patterns as p
from rogatum.core.documents.lines import Line

_STEM_END = re.compile(r"[?:]\s*+(?:[(\[][^()\[\]]*[)\]])?\s*+$|(?<!_)_{3,}+\W*+$")


_LETTERED = re.compile(r"^\s*(?P<n>[A-Z])[.)]\s+(?P<rest>\S.*)$")
_BARE = re.compile(r"^\s*(?P<n>\d{1,3})\s+(?P<rest>[A-Z“\"¿(\ufffc].*)$")
_BARE_CHOICE = re.compile(rf"^\s*+(?P<mark>[{re.escape(p.KEY_MARKS)}]?)\s*+(?P<l>[A-Ha-h])\s+(?P<rest>\S.*)$")


def number_lines(lines: list[Line]) -> bool | None:
    """Gives the lines roles as if their questions were numbered.

    Whether they had numbers after all, of another kind; None where no questions can be told.
    """
    starts = _by_roman(lines) or _by_bare_numbers(lines) or _by_blocks(lines) or _by_endings(lines)
    return _numbered(lines, starts) if starts else None


def number_letters(lines: list[Line]) -> bool | None:
    """Gives the lines roles where letters stand before the questions and numbers before their choices; else None."""
    starts: list[int] = []
    for index, line in enumerate(lines):
        match = _LETTERED.match(line.text)
        if match and match["n"] == chr(ord("A") + len(starts)):
            starts.append(index)
    blocks = [[line.text for line in lines[a + 1 : b]] for a, b in zip(starts, [*starts[1:], len(lines)], strict=False)]
    listed = [[int(m["n"]) for text in block if (m := p.NUMBERED_CHOICE.match(text))] for block in blocks]
    if len(starts) < 2 or not all(len(run) > 1 and run == list(range(1, len(run) + 1)) for run in listed):
        return None
    return _numbered(lines, starts)


def _numbered(lines: list[Line], starts: list[int]) -> bool:
    from_to = [*starts, len(lines)]
    roles = dict.fromkeys(range(starts[0]), "aside")
    for number, (first, after) in enumerate(zip(from_to, from_to[1:], strict=False), 1):
        _place(lines, first, after, number)
    for index in roles:
        line = lines[index]
        if not line.blank and line.role not in ("heading", "title"):
            line.role = "aside"
    return _without_numbers([lines[index] for index in starts])


def _without_numbers(stems: list[Line]) -> bool:
    """Takes numbers of other kinds off the stems, where all have them; whether that was so."""
    for pattern in (p.ROMAN, p.OTHER_NUMBER, _BARE, _LETTERED):
        matches = [pattern.match(line.text) for line in stems]
        if all(matches):
            for line, match in zip(stems, matches, strict=True):
                line.keep(match.start("rest") if match else 0)
            return True
    return False


def _by_roman(lines: list[Line]) -> list[int]:
    """Lines with Roman numbers that count from I on, each with lettered choices or a key below it."""
    starts: list[int] = []
    for index, line in enumerate(lines):
        match = p.ROMAN.match(line.text)
        if match and p.roman_value(match["n"]) == len(starts) + 1:
            starts.append(index)
    texts = [[line.text for line in lines[a + 1 : b]] for a, b in zip(starts, [*starts[1:], len(lines)], strict=False)]
    asked = [block for block in texts if any(p.CHOICE.match(text) or p.LABEL.match(text) for text in block)]
    return starts if len(starts) > 1 and len(asked) == len(starts) else []


def _by_bare_numbers(lines: list[Line]) -> list[int]:
    """Lines that begin with a number without any sign, which count on, each with choices or a key below it."""
    starts: list[int] = []
    for index, line in enumerate(lines):
        match = _BARE.match(line.text)
        if match and line.role != "key list" and int(match["n"]) == len(starts) + 1:
            starts.append(index)
    blocks = [[line.text for line in lines[a + 1 : b]] for a, b in zip(starts, [*starts[1:], len(lines)], strict=False)]
    asked = [
        block for block in blocks if any(p.CHOICE.match(t) or p.LABEL.match(t) for t in block) or len(_bare_letters(block)) > 1
    ]
    return starts if len(starts) > 1 and len(asked) == len(starts) else []


def _bare_letters(texts: list[str]) -> list[str]:
    """The letters without any sign that begin lines from A on."""
    found: list[str] = []
    for text in texts:
        match = _BARE_CHOICE.match(text)
        if match and match["l"].lower() == chr(ord("a") + len(found)):
            found.append(match["l"])
    return found


def _by_blocks(lines: list[Line]) -> list[int]:
    """The first lines of blocks of a stem with choices, where blank lines part the blocks."""
    if any(line.paragraph for line in lines):
        return []
    blocks: list[list[int]] = [[]]
    for index, line in enumerate(lines):
        if line.blank:
            blocks.append([])
        else:
            blocks[-1].append(index)
    asked = [block for block in blocks if len(block) >= 3 and _looks_asked(lines, block)]
    full = [block for block in blocks if block]
    return [block[0] for block in asked] if len(asked) >= 2 and len(asked) >= 0.6 * len(full) else []


def _looks_asked(lines: list[Line], block: list[int]) -> bool:
    texts = [lines[index].text for index in block]
    labelled = sum(bool(p.CHOICE.match(text) or p.BULLET.match(text) or p.LABEL.match(text)) for text in texts[1:])
    marked = any(re.match(r"\s*[*✓✔]", text) or p.MARK_BEHIND.search(text) for text in texts[1:])
    return labelled >= 2 or marked or any(_STEM_END.search(text) for text in texts[:-1])


def _by_endings(lines: list[Line]) -> list[int]:
    """Lines that end as questions do, each with two to eight shorter lines below it."""
    filled = [index for index, line in enumerate(lines) if not line.blank and line.role != "heading"]
    stems = [index for index in filled if _STEM_END.search(lines[index].text)]
    if len(stems) < 2:
        return []
    gaps = [sum(1 for i in filled if a < i < b) for a, b in zip(stems, [*stems[1:], len(lines)], strict=False)]
    good = [stem for stem, gap in zip(stems, gaps, strict=True) if 2 <= gap <= 9]
    return good if len(good) >= 0.8 * len(stems) else []


def _place(lines: list[Line], first: int, after: int, number: int) -> None:
    """Gives the lines of one block their roles: the stem to where it ends, then choices and labels."""
    item = number - 1
    opened = "stem"
    position = 0
    bare = len(_bare_letters([line.text for line in lines[first + 1 : after]])) > 1
    for index in range(first, after):
        line = lines[index]
        if line.blank or line.role in ("heading", "key list"):
            continue
        line.item, line.start, line.end = item, 0, None
        label = p.LABEL.match(line.text)
        choice = p.NUMBERED_CHOICE.match(line.text) or p.CHOICE.match(line.text) or p.BULLET.match(line.text)
        if choice is None and bare:
            choice = _BARE_CHOICE.match(line.text)
        line.keep(0)
        if index == first:
            line.role, line.label = "stem", str(number)
        elif label and p.MEANING[label["label"].lower()] and label["rest"].strip():
            meaning = p.MEANING[label["label"].lower()]
            line.role = {"key": "key", "points": "points", "feedback": "feedback"}.get(meaning, "label")  # type: ignore[assignment]
            line.label = meaning
            line.keep(label.start("rest"), label.end("rest"))
            opened = meaning
        elif choice and any(choice.groupdict().get(name) for name in ("mark", "bullet", "l1", "l2", "n", "l")):
            position += 1
            line.role, line.label, line.marked = "choice", chr(96 + position), bool(choice["mark"])
            line.keep(choice.start("rest"), choice.end("rest"))
            opened = "choice"
        else:
            line.role, line.label = "more", opened
