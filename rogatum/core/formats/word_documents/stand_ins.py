"""Signs of Unicode's private use that stand for what pandoc drops: tabs, runs of spaces, empty paragraphs, labels of lists."""

from __future__ import annotations

import re

# A tab, of which pandoc makes a mere space; one of several spaces; an empty paragraph; a list's label, with its depth before it.
TAB, SPACE, GAP = "\ue009", "\ue00b", "\ue00c"
LABEL_START, LABEL_END = "\ue00d", "\ue00e"
LABEL = re.compile(rf"^{LABEL_START}(?P<depth>\d):(?P<label>[^{LABEL_END}]*){LABEL_END}\s*")
# Signs of the symbol fonts, which sit in the private use area: ticks and crosses in a box or alone, empty boxes, bullets.
_SYMBOLS = str.maketrans(
    dict.fromkeys("\uf0fc\uf0fe\uf052\uf0fd\uf0fb\uf050", "✓")
    | dict.fromkeys("\uf0a8\uf06f\uf0a3\uf071\uf0a1", "☐")
    | dict.fromkeys("\uf0b7\uf0a7\uf0d8\uf076", "•")
)
CHECKED, UNCHECKED = "☒", "☐"
# Underlined spaces stand for a blank from this many on, which is then written as other blanks are.
SHORTEST_BLANK = 3
BLANK_TEXT = "________"
_SPACES = re.compile(r" {2,}")


def with_spaces(text: str) -> str:
    """A text whose runs of spaces stay."""
    return _SPACES.sub(lambda run: SPACE * len(run[0]), text)


def shown(text: str) -> str:
    """A text with tabs and spaces in the place of their stand-ins."""
    return text.translate(_SYMBOLS).replace(TAB, "    ").replace("\t", "    ").replace(SPACE, " ")
