"""An item in one line of a list: its words and formulas, without tables, pictures and what else does not lie in a line."""

from __future__ import annotations

import re

from rogatum.core.items.content import plain_text

_BLOCK = re.compile(r"<table\b.*?</table>|<img\b[^>]*>|<(?:audio|video|pre)\b.*?</(?:audio|video|pre)>", re.S)
_EDGE = re.compile(r"</?(?:p|br|li|ul|ol|blockquote)\b[^>]*>")


def line_of(content: str) -> str:
    """What one line shows of canonical rich content: rich content itself, of inline elements alone."""
    without = _BLOCK.sub(" ", content) if "<" in content else content
    return " ".join(_EDGE.sub(" ", without).split())


def line_text(content: str) -> str:
    """The same as text, with TeX for formulas."""
    return plain_text(line_of(content))
