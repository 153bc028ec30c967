"""Full text search among items, by SQLite's FTS5."""

from __future__ import annotations

import re

from django.db.models import QuerySet
from django.db.models.expressions import RawSQL

from rogatum.web.pools.models import Item

_WORD = re.compile(r"\w+", re.UNICODE)
_PIECE = re.compile(r'"([^"]*)"|(\S+)')


def fts_query(text: str) -> str:
    """What somebody types as an FTS5 query: all words, “a phrase” as it stands, a beginning with a star.

    The last word may be one that is still being typed, so it is a beginning too. Nothing that is typed is FTS5 syntax.
    """
    pieces: list[str] = []
    for match in _PIECE.finditer(text.replace("“", '"').replace("”", '"').replace("„", '"')):
        words = _WORD.findall(match[1] if match[1] is not None else match[2])
        if match[1] is not None and words:
            pieces.append(_quoted(" ".join(words)))
        elif words:
            pieces += [_quoted(word) for word in words[:-1]]
            last = not text[match.end() :].strip()
            pieces.append(_quoted(words[-1]) + ("*" if last or match[2].endswith("*") else ""))
    return " ".join(pieces) or '""'


def _quoted(words: str) -> str:
    return f'"{words}"'


def matching(rows: QuerySet[Item], text: str) -> QuerySet[Item]:
    """The items whose text, title or choices have all words."""
    if not _WORD.search(text):
        return rows
    found = RawSQL("SELECT rowid FROM pools_item_fts WHERE pools_item_fts MATCH %s", [fts_query(text)])  # noqa: S611
    return rows.filter(pk__in=found)
