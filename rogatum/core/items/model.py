"""The one model: items, and the bank that holds them (`rogatum-items/1`).

Every reader makes a `Bank`, every writer takes one. Fields of `Content` hold the rich-content subset of `content.py`; walkers know
them by that annotation.
Points are plain numbers, weights are shares of the points from -1 to 1, tolerances are absolute.
"""

from __future__ import annotations

import math
from decimal import ROUND_FLOOR, Decimal
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, computed_field, field_serializer, model_validator

from rogatum.core.content_mark import Content
from rogatum.core.finding import Finding
from rogatum.core.quizzes.model import Quiz, sparse

FORMAT_NAME: Literal["rogatum-items/1"] = "rogatum-items/1"

ItemType = Literal[
    "multiple_choice",
    "multiple_response",
    "true_false",
    "fill_in",
    "numeric",
    "cloze",
    "matching",
    "ordering",
    "essay",
    "information",
    "preserved",
]
Scoring = Literal["all_or_nothing", "per_choice"]
# Of items with several parts (blanks, pairs, places): whether each earns its share, or all of them together everything.
PartScoring = Literal["all_or_nothing", "per_part"]
Rounding = Literal["significant", "decimal"]
Match = Literal["exact", "contains", "regex"]
FeedbackKind = Literal["general", "correct", "incorrect"]
BlankKind = Literal["text", "numeric", "choice"]


class Model(BaseModel):
    """Base of the model: unknown fields are ignored here and listed by the reader of items-json."""

    model_config = ConfigDict(extra="ignore", populate_by_name=True)


class Choice(Model):
    """A choice; `weight` is the share of the item's points that picking it earns."""

    id: str
    content: Content
    weight: float = Field(default=0.0, ge=-1, le=1)
    feedback: Content | None = None


class TextAnswer(Model):
    """`case_sensitive` is null where it is as in the item or blank."""

    text: str
    weight: float = Field(default=1.0, ge=-1, le=1)
    match: Match = "exact"
    case_sensitive: bool | None = Field(default=None, exclude_if=lambda own: own is None)
    feedback: Content | None = None


class NumericAnswer(Model):
    """Either `value` with an absolute `tolerance`, or `min` and `max`; an open side is null.

    Bounds count, but for those that `include_min` and `include_max` leave out. Two fields say what the tolerance comes from, and
    set it: `relative`, per cent of the value; `figures`, the significant figures or decimal places (`rounding`) to which a
    response is rounded before it is compared, halves upwards.
    """

    value: float | None = None
    tolerance: float | None = None
    min: float | None = None
    max: float | None = None
    include_min: bool = True
    include_max: bool = True
    relative: float | None = Field(default=None, ge=0)
    figures: int | None = Field(default=None, ge=0, le=15)
    rounding: Rounding = "significant"
    weight: float = Field(default=1.0, ge=-1, le=1)
    feedback: Content | None = None

    @model_validator(mode="after")
    def _with_its_tolerance(self) -> Self:
        if self.value is None or not math.isfinite(self.value):
            return self
        if self.figures is not None:
            self.value, low, high = rounding_interval(self.value, self.figures, self.rounding)
            self.tolerance, self.include_min, self.include_max = round((high - low) / 2, 12), True, low == high
        elif self.relative is not None:
            self.tolerance = round(abs(self.value) * self.relative / 100, 12)
        return self

    def bounds(self) -> tuple[float, float]:
        """The interval of right values, as (low, high)."""
        if self.value is not None and self.figures is not None:
            return rounding_interval(self.value, self.figures, self.rounding)[1:]
        if self.value is not None:
            spread = self.tolerance or 0.0
            return added(self.value, -spread), added(self.value, spread)
        return (
            float("-inf") if self.min is None else self.min,
            float("inf") if self.max is None else self.max,
        )

    def holds(self, number: float) -> bool:
        """Whether the interval holds a number; what lies on a bound but for rounding lies on it."""
        low, high = self.bounds()
        slack = 1e-9 * max(1.0, abs(number))
        above = number >= low - slack if self.include_min else number > low + slack
        return above and (number <= high + slack if self.include_max else number < high - slack)


def added(number: float, other: float) -> float:
    """The sum by the digits that a person sees, where it has any: 0.3 less 0.1 is 0.2, which it is not in binary fractions."""
    if not (math.isfinite(number) and math.isfinite(other)):
        return number + other
    return float(Decimal(repr(number)) + Decimal(repr(other)))


def rounding_interval(value: float, figures: int, rounding: Rounding) -> tuple[float, float, float]:
    """A number rounded to figures, halves upwards, with what is rounded to the same: from a least number, below another."""
    if rounding == "significant" and (value == 0 or figures == 0):
        return value, value, value
    places = figures if rounding == "decimal" else figures - 1 - math.floor(math.log10(abs(value)))
    if not -300 < places < 300:
        return value, value, value
    # By its decimal digits: a bound that is written in them is on the bound, and not beside it.
    scaled = (Decimal(repr(value)).scaleb(places) + Decimal("0.5")).to_integral_value(ROUND_FLOOR)
    scale, rounded = 10.0**places, float(scaled.scaleb(-places))
    outer = inner = 0.5 / scale
    if rounding == "significant" and rounded and math.log10(abs(rounded)) % 1 == 0:
        inner = outer / 10  # below a power of ten one figure stands for less
    below, above = (inner, outer) if rounded > 0 else (outer, inner)
    return rounded, round(rounded - below, 12), round(rounded + above, 12)


class Pair(Model):
    """`share` is what the pair earns of the item's points, null where all pairs earn the same."""

    left: Content
    right: Content
    share: float | None = Field(default=None, gt=0, le=1, exclude_if=lambda share: share is None)


class ItemBase(Model):
    """What all types have. `original` is the source's own markup, kept where the item cannot hold all of how it marks."""

    id: str
    title: str = ""
    stem: Content = ""
    points: float | None = None
    feedback: dict[FeedbackKind, Content] = Field(default_factory=dict)
    stimulus: str | None = None
    metadata: dict[str, list[str]] = Field(default_factory=dict)
    original: str = Field(default="", exclude_if=lambda markup: not markup)
    original_format: str = Field(default="", exclude_if=lambda name: not name)


class MultipleChoice(ItemBase):
    type: Literal["multiple_choice"] = "multiple_choice"
    choices: list[Choice] = Field(default_factory=list)
    shuffle: bool | None = None


class MultipleResponse(ItemBase):
    """`lowest` is the least share that the sum of the weights can come to, null where there is no such bound."""

    type: Literal["multiple_response"] = "multiple_response"
    choices: list[Choice] = Field(default_factory=list)
    shuffle: bool | None = None
    scoring: Scoring = "all_or_nothing"
    lowest: float | None = Field(default=0.0, le=0)


class TrueFalse(ItemBase):
    """`answer` is null only while a reading has found no key."""

    type: Literal["true_false"] = "true_false"
    answer: bool | None = None
    choice_feedback: dict[Literal["true", "false"], Content] = Field(default_factory=dict)


class FillIn(ItemBase):
    type: Literal["fill_in"] = "fill_in"
    answers: list[TextAnswer] = Field(default_factory=list)
    case_sensitive: bool = False


class Numeric(ItemBase):
    type: Literal["numeric"] = "numeric"
    answers: list[NumericAnswer] = Field(default_factory=list)
    unit: str | None = None


class TextBlank(Model):
    id: str
    kind: Literal["text"] = "text"
    answers: list[TextAnswer] = Field(default_factory=list)
    case_sensitive: bool = False
    share: float = 1.0


class NumericBlank(Model):
    id: str
    kind: Literal["numeric"] = "numeric"
    answers: list[NumericAnswer] = Field(default_factory=list)
    share: float = 1.0


class ChoiceBlank(Model):
    id: str
    kind: Literal["choice"] = "choice"
    choices: list[Choice] = Field(default_factory=list)
    share: float = 1.0


Blank = Annotated[TextBlank | NumericBlank | ChoiceBlank, Field(discriminator="kind")]


class Cloze(ItemBase):
    """Blanks are marked in the stem as `<span data-blank="b1"></span>`; the blanks' shares sum to 1.

    `lowest` is the least share that the sum of what the blanks earn can come to, null where there is no such bound.
    """

    type: Literal["cloze"] = "cloze"
    blanks: list[Blank] = Field(default_factory=list)
    scoring: PartScoring = "per_part"
    lowest: float | None = Field(default=0.0, le=0)


class Matching(ItemBase):
    type: Literal["matching"] = "matching"
    pairs: list[Pair] = Field(default_factory=list)
    distractors: list[Content] = Field(default_factory=list)
    shuffle: bool | None = None
    scoring: PartScoring = "per_part"


class Ordering(ItemBase):
    type: Literal["ordering"] = "ordering"
    sequence: list[Content] = Field(default_factory=list)
    scoring: PartScoring = "all_or_nothing"


class Essay(ItemBase):
    type: Literal["essay"] = "essay"
    sample_answer: Content | None = None
    rubric: Content | None = None


class Information(ItemBase):
    type: Literal["information"] = "information"


class Preserved(ItemBase):
    """A kind that the model does not hold: `original` is the source's own markup, kept verbatim.

    `media` are the files that the original names, by their addresses there, each as content that shows it.
    """

    type: Literal["preserved"] = "preserved"
    original: str = ""
    original_format: str = ""
    reason: str = ""
    media: dict[str, Content] = Field(default_factory=dict)


Item = Annotated[
    MultipleChoice
    | MultipleResponse
    | TrueFalse
    | FillIn
    | Numeric
    | Cloze
    | Matching
    | Ordering
    | Essay
    | Information
    | Preserved,
    Field(discriminator="type"),
]
ChoiceItem = MultipleChoice | MultipleResponse
ITEM: TypeAdapter[Item] = TypeAdapter(Item)


class PoolEntry(Model):
    path: list[str]
    items: list[str] = Field(default_factory=list)


class Stimulus(Model):
    id: str
    content: Content
    title: str = ""


class Media(Model):
    ref: str
    sha256: str
    size: int
    type: str


class DrawEntry(Model):
    """A draw as readers of the older form know it: its quiz is not said."""

    title: str = ""
    pool: list[str]
    pick: int = Field(ge=1)
    points_each: float | None = None


class SourceInfo(Model):
    name: str = ""
    format: str = ""


class Unclaimed(Model):
    where: str
    text: str


class Accounting(Model):
    claimed: int = 0
    unclaimed: list[Unclaimed] = Field(default_factory=list)


class Place(Model):
    """Where an item stands in its source: file, its words for people, and the lines from first to last (1-based)."""

    where: str
    file: str = ""
    first: int | None = None
    last: int | None = None


class Bank(Model):
    format: Literal["rogatum-items/1"] = FORMAT_NAME
    title: str = ""
    source: SourceInfo = Field(default_factory=SourceInfo)
    pools: list[PoolEntry] = Field(default_factory=list)
    stimuli: list[Stimulus] = Field(default_factory=list)
    media: list[Media] = Field(default_factory=list)
    items: list[Item] = Field(default_factory=list)
    quizzes: list[Quiz] = Field(default_factory=list)
    findings: list[Finding] = Field(default_factory=list)
    accounting: Accounting = Field(default_factory=Accounting)
    places: dict[str, Place] = Field(default_factory=dict)

    @field_serializer("quizzes")
    def _sparse_quizzes(self, quizzes: list[Quiz]) -> list[dict[str, Any]]:
        return [sparse(quiz) for quiz in quizzes]

    @computed_field  # type: ignore[prop-decorator]
    @property
    def draws(self) -> list[DrawEntry]:
        """All draws of all quizzes, for readers of the older form."""
        return [
            DrawEntry(title=part.title, pool=part.draw.pool, pick=part.draw.pick, points_each=part.points_each)
            for quiz in self.quizzes
            for part in quiz.parts
            if part.draw is not None
        ]

    def item(self, item_id: str) -> Item | None:
        return next((item for item in self.items if item.id == item_id), None)

    def pool_paths(self) -> dict[str, tuple[str, ...]]:
        """The pool path of each item that is in a pool."""
        return {item_id: tuple(pool.path) for pool in self.pools for item_id in pool.items}

    def place_in_pool(self, item_id: str, path: list[str]) -> None:
        """Adds the item to the pool with this path, making the pool when it is new."""
        pool = next((p for p in reversed(self.pools) if p.path == path), None)
        if pool is None:
            pool = PoolEntry(path=path)
            self.pools.append(pool)
        pool.items.append(item_id)


def item_from(data: dict[str, Any]) -> Item:
    """Validates the JSON form of an item. Raises pydantic's ValidationError."""
    return ITEM.validate_python(data)
