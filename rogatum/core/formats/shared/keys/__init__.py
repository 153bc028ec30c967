"""Finding a key by probing, whatever its dialect.

marker    what an interpreter of processing offers; the words of finding
finding   the prober: scales, choices
typed     accepted texts and numbers
by_parts  blanks, pairs and places: what is right in each, whether each or all of them earn
proof     whether the item that was made marks as its source
"""

from rogatum.core.formats.shared.keys.by_parts import (
    PartKey,
    Parts,
    Picks,
    key_by_parts,
    lowest_of_blanks,
    pair_shares,
    scoring_of_order,
    shares,
)
from rogatum.core.formats.shared.keys.finding import ChoiceKey, Prober, choice_weights, lowest_of
from rogatum.core.formats.shared.keys.letter_case import any_case, own_case
from rogatum.core.formats.shared.keys.marker import (
    WRONG,
    Asked,
    Marker,
    Named,
    Outcome,
    Responses,
    Scale,
    Tolerance,
    folded,
)
from rogatum.core.formats.shared.keys.proof import SourceMarking, differences, in_words
from rogatum.core.formats.shared.keys.shapes import Names, Shapes, listed
from rogatum.core.formats.shared.keys.typed import (
    TextKey,
    TypedSlot,
    a_right_text,
    a_wrong_number,
    meeting,
    numbers,
    texts,
    typed_candidates,
)

__all__ = [
    "WRONG",
    "Asked",
    "ChoiceKey",
    "Marker",
    "Named",
    "Names",
    "Outcome",
    "PartKey",
    "Parts",
    "Picks",
    "Prober",
    "Responses",
    "Scale",
    "Shapes",
    "SourceMarking",
    "TextKey",
    "Tolerance",
    "TypedSlot",
    "a_right_text",
    "any_case",
    "a_wrong_number",
    "choice_weights",
    "differences",
    "folded",
    "in_words",
    "key_by_parts",
    "listed",
    "lowest_of",
    "lowest_of_blanks",
    "meeting",
    "numbers",
    "own_case",
    "pair_shares",
    "scoring_of_order",
    "shares",
    "texts",
    "typed_candidates",
]
