"""Pictures made smaller, for places that take none as large."""

from __future__ import annotations

import io
import struct
from collections.abc import Sequence

from lxml import etree
from PIL import Image, UnidentifiedImageError

from rogatum.core.sources.xml import parser

# Side by side with how well they keep what is drawn: a PNG first, where it is small enough.
_KINDS = {"image/png": "PNG", "image/jpeg": "JPEG", "image/webp": "WEBP", "image/gif": "GIF"}
_SCALES = (1.0, 0.8, 0.6, 0.45, 0.33, 0.25, 0.18, 0.12)
LEAST_SIDE = 48
Image.MAX_IMAGE_PIXELS = 60_000_000


# What pictures of pixels raise that are not whole.
_DAMAGE = (
    UnidentifiedImageError,
    OSError,
    Image.DecompressionBombError,
    ValueError,
    SyntaxError,
    EOFError,
    struct.error,
    IndexError,
)


def is_whole(kind: str, data: bytes) -> bool:
    """Whether a picture can be decoded to its end; what is no picture is taken as it is."""
    if kind == "image/svg+xml":
        try:
            return str(etree.fromstring(data, parser()).tag).rpartition("}")[2] == "svg"
        except (etree.XMLSyntaxError, ValueError):
            return False
    if kind not in _KINDS:
        return True
    try:
        with Image.open(io.BytesIO(data)) as opened:
            opened.load()
    except _DAMAGE:
        return False
    return True


def smaller_picture(data: bytes, most: int, kinds: Sequence[str] = ()) -> tuple[bytes, str] | None:
    """The picture in at most so many bytes, with its kind; of the kinds that are taken where these are said.

    None where it is no picture of pixels, or would become too small to be seen.
    """
    wanted = [kind for kind in _KINDS if not kinds or kind in kinds]
    try:
        with Image.open(io.BytesIO(data)) as opened:
            opened.load()
            whole = opened.convert("RGBA" if "A" in opened.getbands() or "transparency" in opened.info else "RGB")
    except _DAMAGE:
        return None
    for scale in _SCALES:
        size = (round(whole.width * scale), round(whole.height * scale))
        if min(size) < min(LEAST_SIDE, min(whole.size)):
            return None
        scaled = whole if scale == 1 else whole.resize(size, Image.Resampling.LANCZOS)
        for kind in wanted:
            made = _encoded(scaled, kind)
            if len(made) <= most:
                return made, kind
    return None


def _encoded(picture: Image.Image, kind: str) -> bytes:
    buffer = io.BytesIO()
    if kind == "image/jpeg":
        ground = Image.new("RGB", picture.size, "white")
        ground.paste(picture, mask=picture.getchannel("A") if picture.mode == "RGBA" else None)
        ground.save(buffer, "JPEG", quality=82, optimize=True)
    else:
        picture.save(buffer, _KINDS[kind], **({"optimize": True} if kind == "image/png" else {}))
    return buffer.getvalue()
