"""The draft at hand, what its lines give as content, and what is said about it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from rogatum.core.documents.drafts import Draft
from rogatum.core.documents.keys.emphasis import EmphasisHabit, emphasised
from rogatum.core.documents.keys.marks import signed
from rogatum.core.documents.keys.values import compared, labels_in
from rogatum.core.documents.line_content import content_of
from rogatum.core.documents.lines import Line, joined_text
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.items.content import plain_text


@dataclass
class Case:
    """`content` makes canonical content; `habit` is the emphasis that shows the key in this document, where one does.

    `lone`: no other question of the document marks more than one choice.
    """

    draft: Draft
    id: str
    findings: list[Finding]
    content: Callable[[str], str]
    habit: EmphasisHabit | None = None
    numbered: bool = True
    lone: bool = False
    stem_lines: list[Line] = field(init=False)

    def __post_init__(self) -> None:
        self.stem_lines = list(self.draft.stem)

    def note(self, kind: FindingKind, **values: object) -> None:
        self.findings.append(kind.at(self.draft.where, self.id, **values))

    @property
    def stem(self) -> str:
        return self.content(content_of(self.stem_lines))

    @property
    def text(self) -> str:
        """The stem as plain text."""
        return joined_text(self.stem_lines)

    @property
    def key(self) -> str:
        """The first key that is said; empty where none is."""
        return next((key for key in self.draft.keys if key.strip()), "")

    def asks(self, section_type: str) -> bool:
        return self.draft.section.type == section_type

    # Choices

    @property
    def labels(self) -> list[str]:
        return [lines[0].label for lines in self.draft.choices]

    def choice_texts(self) -> dict[str, str]:
        """The labels of choices by their text as it is compared: without case, spaces and a last stop."""
        return {compared(plain_text(self.content(content_of(lines)))): lines[0].label for lines in reversed(self.draft.choices)}

    def named(self, key: str) -> list[str]:
        """The labels that a key consists of; where choices are numbered, by their numbers."""
        tokens = {lines[0].token.casefold(): lines[0].label for lines in self.draft.choices if lines[0].token}
        names = tokens or {label: label for label in self.labels}
        return [names[name] for name in labels_in(key, names)]

    def marked(self, lines: list[Line]) -> list[Line]:
        """The choices that a mark or the document's emphasis shows as right."""
        by_sign = signed(lines)
        if by_sign or self.habit is None:
            return by_sign
        found = emphasised(lines, self.habit.kind)
        for line in found:
            line.marked = True
        return found
