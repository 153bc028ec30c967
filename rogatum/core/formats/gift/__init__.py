"""GIFT: questions as plain text, one block each, with the answers in braces."""

from rogatum.core.formats.gift.carries import CARRIES
from rogatum.core.formats.gift.read import read_gift
from rogatum.core.formats.gift.sniff import looks_like_gift
from rogatum.core.formats.gift.write import write_gift
from rogatum.core.formats.shared.base import Format

FORMAT = Format(
    name="gift",
    label="GIFT",
    suffix=".gift",
    sniff=looks_like_gift,
    read=read_gift,
    write=write_gift,
    text=True,
    carries=CARRIES,
)
