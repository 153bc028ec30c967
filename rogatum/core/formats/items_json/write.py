"""Writes the model as JSON; with media, a zip."""

from __future__ import annotations

import io
import zipfile

from rogatum.core.formats.items_json.sniff import DOCUMENT
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.items import Bank
from rogatum.core.sources import MediaBox


def write_items_json(bank: Bank, media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
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
