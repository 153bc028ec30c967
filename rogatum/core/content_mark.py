"""The mark by which walkers know which texts of the model are rich content."""

from __future__ import annotations

from typing import Annotated


class ContentMark:
    """Marks a text as rich content, wherever it stands in a field's annotation."""


Content = Annotated[str, ContentMark()]
