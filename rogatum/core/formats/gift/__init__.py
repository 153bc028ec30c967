"""GIFT: questions as plain text, one block each, with the answers in braces."""

from rogatum.core.formats.base import Carries, Format
from rogatum.core.formats.gift.read import read_gift
from rogatum.core.formats.gift.sniff import looks_like_gift
from rogatum.core.formats.gift.write import write_gift

FORMAT = Format(
    name="gift",
    label="GIFT",
    suffix=".gift",
    sniff=looks_like_gift,
    read=read_gift,
    write=write_gift,
    carries=Carries(
        types=frozenset(
            {
                "multiple_choice",
                "multiple_response",
                "true_false",
                "fill_in",
                "numeric",
                "matching",
                "essay",
                "information",
            }
        ),
        feedback=frozenset({"general", "choice", "answer"}),
        formatting=True,
        formulas=True,
        media=True,
        titles=True,
        pools=True,
        partial_credit=True,
    ),
)
