"""Documents that hold nothing but the keys of another one, and which one that is."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Sequence

from rogatum.core.documents import patterns as p
from rogatum.core.documents.key_lists import is_key_line, is_text_key_line, key_entries

FEWEST_KEYS = 2
_NAMED = re.compile(r"(?:^|[\W_])(?:keys?|answers?|solutions?|lösung(?:en)?|corrigés?|respuestas|soluzioni)(?:[\W_]|$)", re.I)
_WORDS = re.compile(r"[^\W_]+")
# A number in a cell of its own: “1,B”, “1 | B”.
_CELLS = re.compile(r"^(\s*\d{1,3}[.)]?)\s*[,;|\t]\s*")
_HEADINGS = (p.KEY_HEADING, p.NAMED_HEADING, p.TYPE_HEADING)
_COMMON = frozenset(
    ("key", "keys", "answer", "answers", "solution", "solutions", "test", "exam", "quiz", "questions", "student", "version")
)


def is_named_as_keys(name: str) -> bool:
    return bool(_NAMED.search(posixpath.basename(name)))


def keys_in(texts: Sequence[str], name: str) -> dict[int, str]:
    """The lines that hold keys, by position, where a document holds little else; else none.

    Answers in words look like short questions; they are taken for keys only where a heading or the file's name says so.
    """
    filled = {position: _CELLS.sub(r"\1 ", text) for position, text in enumerate(texts) if text.strip()}
    said = is_named_as_keys(name) or any(p.KEY_HEADING.match(text) for text in list(filled.values())[:3])
    keyed = {n: text for n, text in filled.items() if is_key_line(text) or (said and is_text_key_line(text))}
    others = {n: text for n, text in filled.items() if n not in keyed and not p.PAGE_FURNITURE.match(text)}
    headed = {n: text for n, text in others.items() if any(heading.match(text) for heading in _HEADINGS)}
    # A title or two, and the headings of a table, are no questions.
    few = len(others) - len(headed) <= max(2, len(keyed) // 10)
    if not few or sum(len(key_entries(text)) for text in keyed.values()) < FEWEST_KEYS:
        return {}
    return dict(sorted((keyed | headed).items()))


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
