"""The registry of formats. Adding a format is adding one entry."""

from __future__ import annotations

from rogatum.core.errors import UnknownFormat
from rogatum.core.formats.gift import FORMAT as GIFT
from rogatum.core.formats.items_json import FORMAT as ITEMS_JSON
from rogatum.core.formats.marked_text import FORMAT as MARKED_TEXT
from rogatum.core.formats.print import FORMAT as PRINT
from rogatum.core.formats.qti1 import COMMON_CARTRIDGE
from rogatum.core.formats.qti1 import FORMAT as QTI_1_2
from rogatum.core.formats.qti2 import FORMATS as QTI_2_AND_3
from rogatum.core.formats.shared.base import Carries, Format, Reading, ViewLine, Written
from rogatum.core.formats.sheet import FORMAT as SHEET
from rogatum.core.formats.word_documents import FORMATS as DOCUMENTS

FORMATS: tuple[Format, ...] = (QTI_1_2, *QTI_2_AND_3, COMMON_CARTRIDGE, GIFT, MARKED_TEXT, *DOCUMENTS, SHEET, PRINT, ITEMS_JSON)
_BY_NAME = {entry.name: entry for entry in FORMATS}


def format_named(name: str) -> Format:
    """The format of this name. Raises UnknownFormat."""
    if name not in _BY_NAME:
        raise UnknownFormat(name, list(_BY_NAME))
    return _BY_NAME[name]


def readable_formats() -> list[Format]:
    return [entry for entry in FORMATS if entry.read is not None]


def writable_formats() -> list[Format]:
    return [entry for entry in FORMATS if entry.write is not None]


__all__ = [
    "FORMATS",
    "Carries",
    "Format",
    "Reading",
    "ViewLine",
    "Written",
    "format_named",
    "readable_formats",
    "writable_formats",
]
