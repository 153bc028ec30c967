"""Reads marked text by the pipeline of `core.documents`: lines, roles, items."""

from __future__ import annotations

from rogatum.core.documents import lines_of
from rogatum.core.formats.shared.base import BankBuilder, Reading
from rogatum.core.formats.shared.document_reading import fill
from rogatum.core.sources import SourceTree, decode_text


def read_marked_text(tree: SourceTree) -> Reading:
    """Reads one text file. Raises UnreadableSource when it is no text."""
    file = tree.only()
    text, findings = decode_text(file.read(), file.name)
    builder = BankBuilder(tree.name, "marked-text")
    builder.bank.findings += findings
    fill(builder, lines_of(text), tree.options)
    return builder.finish()
