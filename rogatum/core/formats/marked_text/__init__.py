"""Marked text: numbered stems, lettered choices, keys by asterisk, by answer line or by a list at the end."""

from typing import get_args

from rogatum.core.formats.marked_text.carries import CARRIES
from rogatum.core.formats.marked_text.read import read_marked_text
from rogatum.core.formats.marked_text.sniff import looks_like_marked_text
from rogatum.core.formats.marked_text.write import write_marked_text
from rogatum.core.formats.shared.base import Copy, Format

FORMAT = Format(
    name="marked-text",
    label="Marked text",
    suffix=".txt",
    sniff=looks_like_marked_text,
    read=read_marked_text,
    write=write_marked_text,
    copies=get_args(Copy),
    document=True,
    text=True,
    carries=CARRIES,
)
