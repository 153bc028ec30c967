"""Patterns that are nothing but words to choose from, for formats that have no patterns."""

from __future__ import annotations

import re

from rogatum.core.items import TextAnswer

_SPECIAL = re.compile(r"[\\.^$*+?{}\[\]()]")


def as_words(answers: list[TextAnswer]) -> list[TextAnswer]:
    """The answers with each pattern that only lists words, "(loam|clay)", as these words; each word once, the best first."""
    found: dict[tuple[str, str], TextAnswer] = {}
    for answer in sorted(answers, key=lambda a: -a.weight):
        for text in (words_of(answer.text) or [answer.text]) if answer.match == "regex" else [answer.text]:
            told = answer if text == answer.text and answer.match != "regex" else _word(answer, text)
            found.setdefault((told.match, told.text), told)
    return list(found.values())


def words_of(pattern: str) -> list[str]:
    """The words that a pattern lists; none where it is more than a list."""
    inner = pattern[1:-1] if pattern.startswith("(") and pattern.endswith(")") else pattern
    return [] if _SPECIAL.search(inner) or not inner.strip() else inner.split("|")


def _word(answer: TextAnswer, text: str) -> TextAnswer:
    plain = bool(words_of(answer.text))
    return answer.model_copy(update={"text": text, "match": "exact" if plain else "regex"})
