"""What a Common Cartridge has a place for: five profiles of items, pools where no quizzes are, no draws, passages or metadata."""

from dataclasses import replace

from rogatum.core.formats.qti1.carries import CARRIES as QTI1_CARRIES
from rogatum.core.formats.qti1.test_settings import CARTRIDGE_PLACES
from rogatum.core.items import ItemType

# The profiles of items that a cartridge may hold, by our types.
PROFILES: dict[ItemType, str] = {
    "multiple_choice": "cc.multiple_choice.v0p1",
    "multiple_response": "cc.multiple_response.v0p1",
    "true_false": "cc.true_false.v0p1",
    "essay": "cc.essay.v0p1",
    "fill_in": "cc.fib.v0p1",
}

CARRIES = replace(
    QTI1_CARRIES,
    types=frozenset(PROFILES),
    metadata=False,
    pools_beside_quizzes=False,
    draws=False,
    stimuli=False,
    weights=False,
    weights_by_place=True,
    per_choice=False,
    below_zero=False,
    part_scoring=False,
    exact_bounds=False,
    parts=False,
    instructions=False,
    settings=CARTRIDGE_PLACES,
    otherwise={
        **QTI1_CARRIES.otherwise,
        "pattern@fill_in": {"key": "lost"},
        "no-key@fill_in": {},
        "rubric": {"feedback": "lost"},
    },
)
