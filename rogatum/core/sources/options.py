"""What a person says about how a source is to be read, where what was found by itself is not right."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

KeyHabit = Literal["", "none", "mark", "bold", "underline", "italic", "strike"]
# The emphasis that may show a key, in words.
KEY_HABITS: dict[KeyHabit, str] = {
    "": "as it was found",
    "mark": "highlight or colour",
    "bold": "bold type",
    "underline": "underlining",
    "italic": "italics",
    "strike": "striking through",
    "none": "no emphasis",
}


@dataclass(frozen=True)
class KeyLine:
    """A line of a document that holds the keys of another one."""

    file: str
    number: int
    text: str


@dataclass(frozen=True)
class ReadOptions:
    """`key_habit` is a kind of emphasis that shows the key, "none" where none does, or empty for what is found.

    `numbering` and `lettering` say how a document's questions are numbered and its choices labelled, `aside` “read” that nothing
    of its pages is set aside (see `documents.reading.Said`). `roles` says for lines of a document (by `ViewLine.name`) what they
    are: one of `documents.Decidable`.
    `columns` says for headings of a sheet (in lower case; "column 3" where there is none) what they mean; an empty meaning
    sets a column aside. `key_lines` are read as a list of keys at the end of the document.
    """

    key_habit: str = ""
    roles: Mapping[str, str] = field(default_factory=dict)
    numbering: str = ""
    lettering: str = ""
    aside: str = ""
    columns: Mapping[str, str] = field(default_factory=dict)
    key_lines: Sequence[KeyLine] = ()
