"""What identifiers of QTI 1.2 stand for: in their own document, else in the first that uses them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Generic, Literal, TypeVar

from rogatum.core.formats.shared.quiz_drafts import PartDraft

# A document, counted, and an identifier that it uses.
Name = tuple[int, str]
T = TypeVar("T")


@dataclass
class Scoped(Generic[T]):
    _own: dict[Name, T] = field(default_factory=dict)
    _first: dict[str, T] = field(default_factory=dict)

    def add(self, name: Name, value: T) -> None:
        self._own.setdefault(name, value)
        self._first.setdefault(name[1], value)

    def get(self, name: Name) -> T | None:
        return self._own.get(name, self._first.get(name[1]))


@dataclass
class Names:
    """The items of the bank, and the banks and sections with their members, by the identifiers of their documents.

    A reference may come before what it names, so it stands among members until `resolved` puts the items in its place.
    """

    items: Scoped[str] = field(default_factory=Scoped)
    containers: Scoped[PartDraft] = field(default_factory=Scoped)
    # What was named and nothing is called, each once, in order.
    missing: dict[str, None] = field(default_factory=dict)
    _references: dict[str, tuple[str, Name]] = field(default_factory=dict)
    _document: int = 0

    def begin_document(self) -> None:
        self._document += 1

    def of(self, ident: str) -> Name:
        """An identifier as the document that is being read uses it."""
        return self._document, ident

    def reference(self, kind: Literal["item", "section"], ident: str) -> str:
        """A member that stands for what the identifier names."""
        member = f"\t{kind}\t{self._document}\t{ident}"
        self._references[member] = (kind, self.of(ident))
        return member

    def container(self, name: Name) -> PartDraft | None:
        return self._known(self.containers, name)

    def resolved(self, members: list[str]) -> list[str]:
        """The items for members, each once; what names nothing stays as it is. A section is opened once, whoever names it."""
        found: dict[str, None] = {}
        opened: set[str] = set()
        waiting = members[::-1]
        while waiting:
            member = waiting.pop()
            kind, name = self._references.get(member, ("", (0, "")))
            if kind != "section":
                found[(kind and self._known(self.items, name)) or member] = None
            elif member not in opened:
                opened.add(member)
                section = self.container(name)
                waiting += section.members[::-1] if section else []
        return list(found)

    def _known(self, scoped: Scoped[T], name: Name) -> T | None:
        found = scoped.get(name)
        if found is None:
            self.missing[name[1]] = None
        return found
