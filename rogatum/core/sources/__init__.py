"""Opening sources: what bytes are, what is inside them, within limits."""

from rogatum.core.sources.archives import (
    DAMAGE,
    DAMAGE_OF_BYTES,
    Limits,
    SourceFile,
    SourceTree,
    open_bytes,
    open_file,
    open_path,
    shortest_name,
)
from rogatum.core.sources.media import MediaBox, is_what_it_says, media_type
from rogatum.core.sources.options import KeyLine, ReadOptions
from rogatum.core.sources.text import decode_text, looks_like_text
from rogatum.core.sources.xml import XmlDocument, parse_xml

__all__ = [
    "DAMAGE",
    "DAMAGE_OF_BYTES",
    "KeyLine",
    "Limits",
    "MediaBox",
    "ReadOptions",
    "SourceFile",
    "SourceTree",
    "XmlDocument",
    "decode_text",
    "is_what_it_says",
    "looks_like_text",
    "media_type",
    "open_bytes",
    "open_file",
    "open_path",
    "parse_xml",
    "shortest_name",
]
