"""`rogatum-items/1`: the model itself as JSON, alone or with its media in a zip. The lossless form."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from pydantic import ValidationError

from rogatum.core.content import with_refs
from rogatum.core.errors import UnreadableSource
from rogatum.core.findings import INVALID_ITEM, MEDIA_MISSING
from rogatum.core.formats.base import EVERYTHING, Format, Reading, ViewLine, Written
from rogatum.core.items import ITEM, Bank, Item, Place
from rogatum.core.rewriting import map_content
from rogatum.core.sources import DAMAGE, MediaBox, SourceFile, SourceTree, decode_text

DOCUMENT = "items.json"
_MARK = b'"rogatum-items/1"'


def looks_like_items_json(tree: SourceTree) -> float:
    file = _document(tree)
    if file is None:
        return 0.0
    head = file.head(65536)
    return 0.99 if head.lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"{") and _MARK in head else 0.0


def _document(tree: SourceTree) -> SourceFile | None:
    return tree.only() if tree.lone else tree.files.get(DOCUMENT)


def read_items_json(tree: SourceTree) -> Reading:
    """Reads a bank. An item that is not valid becomes a finding; raises UnreadableSource when the whole is not JSON."""
    file = _document(tree)
    assert file is not None
    text, findings = decode_text(file.read(), file.name)
    try:
        data = json.loads(text)
        raw_items = data.pop("items", [])
        bank = Bank.model_validate(data | {"items": []})
    except (ValueError, AttributeError, ValidationError, RecursionError) as error:
        raise UnreadableSource(
            f"{file.name} is a JSON file", f"It does not hold a bank ({_short(error)}).", "Check that it is complete."
        ) from None
    bank.findings += findings
    if not isinstance(raw_items, list):
        raise UnreadableSource(f"{file.name} is a JSON file", "Its items are no list.", "Check that it is complete.")
    for number, raw in enumerate(raw_items, 1):
        _take(bank, raw, number)
    media = _media(bank, tree, file.name)
    bank.source.format = FORMAT.name
    view = [ViewLine(number, line) for number, line in enumerate(text.split("\n"), 1)] if text.count("\n") < 5000 else []
    return Reading(bank, media, view)


def _media(bank: Bank, tree: SourceTree, name: str) -> MediaBox:
    """The media that lie in the archive. What the bank says of them (hash, size, type) is not taken: it is found from the bytes."""
    media = MediaBox()
    refs: dict[str, str] = {}
    for entry in bank.media:
        stored = None if tree.lone else tree.find(entry.ref)
        try:
            if stored is not None:
                refs[entry.ref] = media.add_file(stored)
                continue
        except (UnreadableSource, *DAMAGE):
            pass
        bank.findings.append(MEDIA_MISSING.at(name, name=entry.ref[:120]))
    if any(old != new for old, new in refs.items()):
        bank.items = [map_content(item, lambda content: with_refs(content, lambda ref: refs.get(ref, ref))) for item in bank.items]
        for stimulus in bank.stimuli:
            stimulus.content = with_refs(stimulus.content, lambda ref: refs.get(ref, ref))
    bank.media = media.entries()
    return media


def _take(bank: Bank, raw: Any, number: int) -> None:
    try:
        item: Item = ITEM.validate_python(raw)
    except ValidationError as error:
        bank.findings.append(INVALID_ITEM.at(f"item {number}", detail=_short(error)))
        return
    bank.items.append(item)
    bank.places.setdefault(item.id, Place(where=f"item {number}"))


def _short(error: Exception) -> str:
    if isinstance(error, ValidationError):
        first = error.errors()[0]
        return f"{'.'.join(map(str, first['loc']))}: {first['msg']}"
    return str(error)[:120]


def write_items_json(bank: Bank, media: MediaBox) -> Written:
    """The bank as JSON; with media, a zip of `items.json` and the media."""
    data = (bank.model_dump_json(indent=1) + "\n").encode()
    if not media.entries():
        return Written(data, ".json")
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, content in [(DOCUMENT, data)]:
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED)
        for entry in media.entries():
            with media.open(entry.ref) as stream:
                archive.writestr(zipfile.ZipInfo(entry.ref, (1980, 1, 1, 0, 0, 0)), stream.read())
    return Written(buffer.getvalue(), ".zip")


FORMAT = Format(
    name="items-json",
    label="Rogatum items (JSON)",
    suffix=".json",
    sniff=looks_like_items_json,
    read=read_items_json,
    write=write_items_json,
    package=True,
    carries=EVERYTHING,
)
