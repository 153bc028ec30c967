"""Lines: what every document is flattened to before its questions are looked for. Emphasis and objects keep their places."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Literal

from rogatum.core.finding import OtherReading
from rogatum.core.items.content import escape, plain_text

Role = Literal[
    "blank",
    "title",
    "heading",
    "direction",
    "use",
    "passage",
    "stem",
    "choice",
    "truth",
    "key",
    "key list",
    "points",
    "feedback",
    "label",
    "left",
    "more",
    "aside",
    "outside",
]
# What stands in a text for a picture, a formula or a table.
OBJECT = "\ufffc"
# A tab as spaces: wide enough to part columns wherever it stands.
TAB = "    "
# Kinds of emphasis, and the elements that show them; a mark (highlight, colour, shading) has none, it only tells.
_ELEMENTS = {"bold": "strong", "italic": "em", "underline": "u", "strike": "s", "sup": "sup", "sub": "sub", "code": "code"}


@dataclass(frozen=True)
class Piece:
    """A stretch of a line with one emphasis. `html` is the content of an object, whose text is OBJECT."""

    text: str
    marks: frozenset[str] = frozenset()
    html: str = ""


@dataclass
class Line:
    """One line of a document.

    `text` is its text, with labels of automatic lists as the word processor shows them; `role` what it was read as, `start` and
    `end` the stretch that is left when the role's own marks are taken off. `order` is its turn in reading: the columns of a table
    may be read one after another. `label` is the number of a stem, the letter of a choice, or the name of a label; `marked` says
    that a choice carries a key mark, `odd` that its sign is not a known one; `item` is the position of the item it belongs to;
    `file` is the document that a list of keys stands in, where that is another one; `name` tells the line from others wherever it
    moves (see `decisions`); `level` that of a heading, `depth` that of an automatic list (0: none), `auto` that the list's own
    label begins the text, `paragraph` that it is one of a document. `entries` are the keys that a line of a list holds, as
    (number, key); `fill` is what is written on a blank before it, `token` its label as it stands; `other` is another way to read
    the question that begins here, `grid` the cells of a table.
    """

    number: int
    text: str
    role: Role = "blank"
    order: int = 0
    label: str = ""
    marked: bool = False
    item: int | None = None
    level: int = 0
    depth: int = 0
    pieces: list[Piece] = field(default_factory=list)
    paragraph: bool = False
    heading: bool = False
    after_blank: bool = False
    start: int = 0
    end: int | None = None
    where: str = ""
    name: str = ""
    file: str = ""
    auto: bool = False
    fill: str = ""
    other: OtherReading | None = None
    odd: bool = False
    token: str = ""
    entries: tuple[tuple[str, str], ...] = ()
    grid: list[list[list[Line]]] | None = None

    def __post_init__(self) -> None:
        self.blank = not self.text.strip()

    @property
    def value(self) -> str:
        """The text of the stretch that is left."""
        return self.text[self.start : self.end].strip()

    @property
    def spoken(self) -> str:
        """The stretch that is left, with a power of ten that stands raised written as 10^23."""
        found = ""
        for piece, _ in _within(self.pieces, self.start, len(self.text) if self.end is None else self.end):
            found += f"^{piece.text}" if "sup" in piece.marks and found.endswith("10") else piece.text
        return found.strip() or self.value

    @property
    def shown(self) -> str:
        """The whole text, with what an object says in its place."""
        if OBJECT not in self.text:
            return self.text
        return "".join(plain_text(piece.html) or "[picture]" if piece.html else piece.text for piece in self.pieces)

    def page(self, content: Callable[[str], str]) -> str:
        """The whole line as HTML, as it stands in its document; `content` makes that of an object. Empty for plain text."""
        if not self.pieces or not any(piece.marks or piece.html for piece in self.pieces):
            return ""
        shown = ""
        for piece in self.pieces:
            markup = content(piece.html) if piece.html else _html(piece, "")
            shown += f"<mark>{markup}</mark>" if "mark" in piece.marks and piece.text.strip() else markup
        return shown

    def keep(self, start: int, end: int | None = None) -> None:
        """Sets the stretch that is left, without spaces at its ends."""
        stretch = self.text[start:end]
        rest = stretch.lstrip()
        self.start = start + len(stretch) - len(rest)
        self.end = self.start + len(rest.rstrip())

    def placed(self, role: Role, start: int = 0, end: int | None = None, label: str = "", item: int | None = None) -> Line:
        """This line in a role: a new one, of which the stretch from `start` to `end` is left."""
        part = object.__new__(Line)
        part.__dict__.update(self.__dict__)
        part.role, part.label, part.item = role, label, item
        part.keep(start, end)
        return part

    def cut(self, start: int, end: int) -> Line:
        """A line of its own made of a stretch of this one."""
        part = Line(
            self.number, self.text[start:end].rstrip(), paragraph=self.paragraph, depth=self.depth, where=self.where, name=self.name
        )
        part.after_blank, part.order = self.after_blank, self.order
        part.file = self.file
        part.pieces = [piece for piece, _ in _within(self.pieces, start, start + len(part.text))]
        return part

    def content(self, without: str = "") -> str:
        """The stretch that is left as HTML; `without` names an emphasis that only tells the key."""
        end = len(self.text) if self.end is None else self.end
        if not self.pieces:
            return escape(self.text[self.start : end])
        return "".join(_html(piece, without) for piece, _ in _within(self.pieces, self.start, end)).strip()

    def marks(self) -> frozenset[str]:
        """The kinds of emphasis that the whole of the stretch that is left has."""
        if not self.pieces:
            return frozenset()
        end = len(self.text) if self.end is None else self.end
        found = [piece.marks for piece, _ in _within(self.pieces, self.start, end) if piece.text.strip() and not piece.html]
        return frozenset.intersection(*found) if found else frozenset()

    def label_marks(self) -> frozenset[str]:
        """The kinds of emphasis of the label before the stretch that is left."""
        found = [piece.marks for piece, _ in _within(self.pieces, 0, self.start) if piece.text.strip()]
        return frozenset.intersection(*found) if found else frozenset()


def _within(pieces: list[Piece], start: int, end: int) -> Iterator[tuple[Piece, int]]:
    """The pieces of a stretch, cut to it."""
    at = 0
    for piece in pieces:
        first, last = max(start, at), min(end, at + len(piece.text))
        if first < last:
            yield Piece(piece.text[first - at : last - at], piece.marks, piece.html), first
        at += len(piece.text)


def _html(piece: Piece, without: str) -> str:
    if piece.html:
        return piece.html
    markup = escape(piece.text)
    for mark, tag in _ELEMENTS.items():
        if mark in piece.marks and mark != without and piece.text.strip():
            markup = f"<{tag}>{markup}</{tag}>"
    return markup


def line_of(number: int, pieces: list[Piece], **more: object) -> Line:
    """A line of a document from its pieces."""
    # Gathered first and joined once: a paragraph may have very many pieces.
    runs: list[list[Piece]] = []
    for piece in pieces:
        last = runs[-1][-1] if runs else None
        if last is not None and not piece.html and not last.html and (piece.marks == last.marks or not piece.text):
            runs[-1].append(piece)
        else:
            runs.append([piece])
    merged = [run[0] if len(run) == 1 else Piece("".join(piece.text for piece in run), run[-1].marks) for run in runs]
    return Line(number, "".join(piece.text for piece in merged), pieces=merged, paragraph=True, **more)  # type: ignore[arg-type]


def lines_of(text: str) -> list[Line]:
    """The lines of plain text."""
    return [Line(number, line.replace("\t", TAB).rstrip()) for number, line in enumerate(text.split("\n"), 1)]


def joined_text(lines: Iterable[Line]) -> str:
    return " ".join(line.value for line in lines).strip()
