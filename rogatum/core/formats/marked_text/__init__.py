"""Marked text: numbered stems, lettered choices, keys by asterisk, by answer line or by a list at the end."""

from typing import get_args

from rogatum.core.formats.base import Carries, Copy, Format
from rogatum.core.formats.document_parts import HELD
from rogatum.core.formats.marked_text.read import looks_like_marked_text, read_marked_text
from rogatum.core.formats.marked_text.write import write_marked_text

FORMAT = Format(
    name="marked-text",
    label="Marked text",
    suffix=".txt",
    sniff=looks_like_marked_text,
    read=read_marked_text,
    write=write_marked_text,
    write_copy=write_marked_text,
    copies=get_args(Copy),
    document=True,
    carries=Carries(
        types=HELD,
        points=True,
        feedback=frozenset({"general", "correct", "incorrect"}),
        formulas=True,
        metadata=True,
        titles=True,
        pools=True,
        stimuli=True,
        all_or_nothing=True,
        sample_answer=True,
    ),
)
