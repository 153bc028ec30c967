"""Pictures and sounds that content names: found in the package wherever they lie, embedded ones decoded, missing ones said."""

from __future__ import annotations

import base64
import binascii
import html
import posixpath
import re
from collections.abc import Callable

from rogatum.core.errors import UnreadableSource
from rogatum.core.findings.contents import MEDIA_UNUSED
from rogatum.core.formats.shared.base import BankBuilder
from rogatum.core.formats.shared.packaging import MANIFEST
from rogatum.core.items.content import escape
from rogatum.core.sources import DAMAGE, SourceTree, media_type

FILEBASE = re.compile(r"\$?(?:IMS[-_]?CC[-_]?FILEBASE)\$?/?", re.I)
_ADDRESS = re.compile(r"""\b(?:src|uri|data|href)\s*+=\s*+["']([^"'<>]{1,400})["']""")
MEDIA_TYPES = ("image/", "audio/", "video/")


def is_media(path: str) -> bool:
    return media_type(path).startswith(MEDIA_TYPES)


class MediaFinder:
    """Finds the media of one source; `used` are the paths of the files that content names."""

    def __init__(self, tree: SourceTree, builder: BankBuilder) -> None:
        self.tree, self.builder = tree, builder
        self.used: set[str] = set()

    def embed(self, name: str, data: bytes) -> str:
        """Embedded media (base64) as a ref."""
        try:
            raw = base64.b64decode(data, validate=False)
        except (binascii.Error, ValueError):
            raw = data
        return self.builder.media.add_bytes(name, raw)

    def shown(self, markup: str, document: str, item: str) -> dict[str, str]:
        """The files that an item's own markup names, by their addresses there, as content that shows each."""
        known = self.builder.bank.findings[:]
        resolve = self.resolver(document, "", item)
        found = {}
        for address in dict.fromkeys(_ADDRESS.findall(html.unescape(markup))):
            named = address in self.builder.media
            ref = address if named else resolve(address) if is_media(FILEBASE.sub("", address)) else None
            if ref is not None:
                found[address] = f'<img src="{html.escape(ref)}" alt=""/>'
        # What is missing was said where the item's content was made.
        self.builder.bank.findings[:] = known
        return found

    def resolver(self, document: str, where: str, item: str | None) -> Callable[[str], str | None]:
        """Turns an address within a document into a media ref; None leaves it as it is."""
        base = posixpath.dirname(document)

        def resolve(address: str) -> str | None:
            if address in self.builder.media or address.startswith(("http:", "https:", "mailto:")):
                return None
            if address.startswith("data:") and "base64," in address:
                kind = address[5:].split(";", 1)[0].rsplit("/", 1)[-1].split("+")[0]
                return self.embed(f"inline.{'jpg' if kind == 'jpeg' else kind}", address.split("base64,", 1)[1].encode())
            path = FILEBASE.sub("", address)
            home = self.tree.beside if self.tree.lone else self.tree
            file = home.find(path, base) or home.by_name(path) if home is not None else None
            if file is None or file.path == document:
                self.builder.missing_media(escape(path)[:120], where, item)
                return None
            self.used.add(file.path)
            try:
                return self.builder.media.add_file(file)
            except (UnreadableSource, *DAMAGE):
                self.builder.missing_media(escape(path)[:120], where, item)
                return None

        return resolve

    def say_rest(self, read: set[str], is_read: Callable[[str], bool]) -> None:
        """Says what the package holds besides: media that no item uses, files that nobody read."""
        read = read | self.used
        for path in sorted(self.tree.files):
            if path in read or posixpath.basename(path).lower() == MANIFEST:
                continue
            if is_media(path):
                self.builder.note(MEDIA_UNUSED.at(path, name=path))
            elif not path.lower().endswith((".xsd", ".dtd")) and not is_read(path):
                self.builder.account.leave(path, f"file {posixpath.basename(path)}")
