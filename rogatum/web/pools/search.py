"""Full text search among items, by SQLite's FTS5."""

from __future__ import annotations

import re

from django.db.models import QuerySet
from django.db.models.expressions import RawSQL

from rogatum.web.pools.models import Item

_WORD = re.compile(r"\w+", re.UNICODE)


def fts_query(text: str) -> str:
    """A user's words as an FTS5 query: all words, the last as a beginning. Nothing that a user types is FTS5 syntax."""
    words = _WORD.findall(text)
    return " ".join([*(f'"{word}"' for word in words[:-1]), f'"{words[-1]}"*']) if words else '""'


def matching(rows: QuerySet[Item], text: str) -> QuerySet[Item]:
    """The items whose text, title or choices have all words."""
    if not _WORD.search(text):
        return rows
    found = RawSQL("SELECT rowid FROM pools_item_fts WHERE pools_item_fts MATCH %s", [fts_query(text)])  # noqa: S611
    return rows.filter(pk__in=found)
