"""Documents that hold nothing but the keys of another one, and which one that is."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.keys.lists import is_key_heading, read_list
from rogatum.core.documents.keys.values import is_short_key
from rogatum.core.documents.lines import Line

FEWEST_KEYS = 2
_NAMED = re.compile(r"(?:^|[\W_])(?:keys?|answers?|solutions?|lösung(?:en)?|corrigés?|respuestas|soluzioni)(?:[\W_]|$)", re.I)
_WORDS = re.compile(r"[^\W_]+")
# A number in a cell of its own: “1,B”, “1 | B”.
_CELLS = re.compile(r"^(\s*\d{1,3})[.)]?\s*[,;|\t]\s*")
_COMMON = frozenset(
    ("key", "keys", "answer", "answers", "solution", "solutions", "test", "exam", "quiz", "questions", "student", "version")
)


def is_named_as_keys(name: str) -> bool:
    return bool(_NAMED.search(posixpath.basename(name)))


def keys_in(texts: Sequence[str], name: str) -> dict[int, str]:
    """The lines that hold keys, by position, where a document holds little else; else none.

    Answers in words look like short questions; they are taken for keys only where a heading or the file's name says so.
    """
    lines = [Line(number, _CELLS.sub(r"\1. ", text)) for number, text in enumerate(texts, 1)]
    filled = [line for line in lines if not line.blank]
    said = is_named_as_keys(name) or any(is_key_heading(line.text) for line in filled[:3])
    found = read_list(lines, range(len(lines)), [])
    keyed = {n for n, entries in found.entries.items() if said or all(is_short_key(key) for _, key in entries)}
    others = [n for n in [*found.others, *(set(found.entries) - keyed)] if not p.PAGE_FURNITURE.match(texts[n])]
    headed = [n for n in others if _is_heading(texts[n])]
    # A title or two, and the headings of a table, are no questions.
    few = len(others) - len(headed) <= max(2, len(keyed) // 10)
    if not few or sum(len(found.entries[n]) for n in keyed) < FEWEST_KEYS:
        return {}
    return {n: lines[n].text for n in sorted({*keyed, *others})}


def _is_heading(text: str) -> bool:
    return is_key_heading(text) or p.names_a_part(text)


def test_of_keys(name: str, tests: Sequence[str]) -> int | None:
    """The position of the test that a document of keys is for, by their names; the only one in any case."""
    if len(tests) == 1:
        return 0
    own = _telling(name)
    likeness = [len(own & _telling(test)) - 0.1 * len(own ^ _telling(test)) for test in tests]
    best = max(likeness, default=0.0)
    return likeness.index(best) if best > 0 and likeness.count(best) == 1 else None


def _telling(name: str) -> set[str]:
    base = posixpath.splitext(posixpath.basename(name))[0].casefold()
    return {word for word in _WORDS.findall(re.sub(r"(?<=\D)(?=\d)", " ", base)) if word not in _COMMON}
