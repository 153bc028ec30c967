"""The XML members of a zipped document."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable

from lxml import etree

from rogatum.core.sources.xml import parser


def part_of(data: bytes, member: str) -> etree._Element | None:
    """The root of a member of a zip; None where there is none, or it is no XML."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if member not in archive.namelist():
            return None
        try:
            return etree.fromstring(archive.read(member), parser())
        except etree.XMLSyntaxError:
            return None


def with_part_changed(data: bytes, member: str, change: Callable[[etree._Element], bool]) -> bytes:
    """A zip with one XML member changed; the same bytes where nothing changes or the member is no XML."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if member not in archive.namelist():
            return data
        try:
            root = etree.fromstring(archive.read(member), parser(huge=True))
        except etree.XMLSyntaxError:
            return data
        if not change(root):
            return data
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as copy:
            for info in archive.infolist():
                content = (
                    etree.tostring(root, xml_declaration=True, encoding="UTF-8") if info.filename == member else archive.read(info)
                )
                copy.writestr(info.filename, content)
    return buffer.getvalue()
