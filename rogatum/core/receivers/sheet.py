"""A receiver sheet: what a place that questions are handed on to takes, and what it makes of the rest. One TOML file each.

`rogatum-receiver/1`: `format` names the form of the sheet, `version` counts the editions of one sheet. What a sheet does not say is
taken as it is. Lengths are characters of plain text, sizes are bytes, points are plain numbers.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from typing import Annotated, Any, Literal, get_args

import tomli_w
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError, model_validator

from rogatum.core.errors import UnreadableSource
from rogatum.core.formats import FORMATS, writable_formats
from rogatum.core.items.model import ItemType
from rogatum.core.quizzes.model import SETTINGS

SHEET_FORMAT: Literal["rogatum-receiver/1"] = "rogatum-receiver/1"
MOST_BYTES = 64 * 1024
Kind = Literal["course platform", "live quiz board", "paper"]
Habit = Literal["takes", "drops"]
Beyond = Literal["refuses", "cuts"]
FeedbackKind = Literal["general", "correct", "incorrect", "choice", "answer", "rubric"]
FEEDBACK_KINDS: tuple[FeedbackKind, ...] = get_args(FeedbackKind)
TAKES, REFUSES, TURNS = "takes", "refuses", "turns into "
# What another type can become; an original is kept only where it came from.
TARGETS: tuple[ItemType, ...] = tuple(name for name in get_args(ItemType) if name != "preserved")


def _type_habit(said: str) -> str:
    if said in (TAKES, REFUSES) or (said.startswith(TURNS) and said.removeprefix(TURNS) in TARGETS):
        return said
    raise ValueError(f"say “takes”, “refuses” or “turns into” with one of: {', '.join(TARGETS)}")


def _written_format(name: str) -> str:
    names = [entry.name for entry in writable_formats()]
    if name in names:
        return name
    known = "it is read but not written" if name in {entry.name for entry in FORMATS} else "there is no such format"
    raise ValueError(f"{known}; choose one of: {', '.join(names)}")


def _slug(name: str) -> str:
    if re.fullmatch(r"[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?", name):
        return name
    raise ValueError("use small letters, digits and hyphens, at most 60")


def _known_settings(names: list[str]) -> list[str]:
    for name in names:
        if name not in SETTINGS:
            raise ValueError(f"there is no setting “{name}”; the settings are: {', '.join(SETTINGS)}")
    return names


Line = Annotated[str, Field(min_length=1, max_length=400)]
Length = Annotated[int, Field(ge=1, le=1_000_000)]
Size = Annotated[int, Field(ge=1, le=10**12)]
TypeHabit = Annotated[str, AfterValidator(_type_habit)]
Slug = Annotated[str, AfterValidator(_slug)]


class Part(BaseModel):
    """A part of a sheet; a word that is none of it is told, not passed over."""

    model_config = ConfigDict(extra="forbid")


class TakenFormat(Part):
    """A format that the receiver reads, with what is peculiar to how it reads it."""

    name: Annotated[str, AfterValidator(_written_format)]
    note: str = Field(default="", max_length=400)


class ContentHabits(Part):
    """`formulas` is how they are shown: as they are, by their TeX alone, as a picture of each, or as the text of their TeX."""

    formatting: Habit = "takes"
    formulas: Literal["as they are", "TeX", "pictures", "text"] = "as they are"
    pictures: Habit = "takes"
    alternative_texts: Habit = "takes"


class MarkingHabits(Part):
    """`part_marks`: whether a response can earn a part of the points; `below_zero`: whether one can cost points."""

    part_marks: Habit = "takes"
    below_zero: Habit = "takes"


class PointsHabits(Part):
    """Points are multiplied by `scale`, rounded to multiples of `step` (halves upwards), then kept within `least` and `most`.

    `default` is what an item without points is worth, and where points are dropped every item.
    """

    points: Habit = "takes"
    scale: float | None = Field(default=None, gt=0, le=1000)
    step: float | None = Field(default=None, gt=0, le=1000)
    least: float | None = Field(default=None, ge=0, le=1_000_000)
    most: float | None = Field(default=None, gt=0, le=1_000_000)
    default: float | None = Field(default=None, ge=0, le=1_000_000)


class FeedbackHabits(Part):
    takes: list[FeedbackKind] = Field(default_factory=lambda: list(FEEDBACK_KINDS))
    model_answers: Habit = "takes"


class LabelHabits(Part):
    """What becomes of titles, outcomes, tags and all other metadata of items."""

    titles: Habit = "takes"
    outcomes: Literal["takes", "drops", "tags", "titles"] = "takes"
    tags: Habit = "takes"
    others: Habit = "takes"


class GroupingHabits(Part):
    """`pools`: kept as a tree of at most `nesting` levels, joined into one name each, named after the file, or dropped."""

    pools: Literal["takes", "joins names", "file name", "drops"] = "takes"
    nesting: int | None = Field(default=None, ge=1, le=50)
    passages: Literal["takes", "into the stem", "drops"] = "takes"


class NameHabits(Part):
    """How long names of pools and titles of items may be, and signs that they cannot have: these become a hyphen."""

    length: int | None = Field(default=None, ge=4, le=1000)
    without: str = Field(default="", max_length=60)


class TextLimit(Part):
    most: Length
    beyond: Beyond = "refuses"


class PictureLimits(Part):
    """What is beyond is refused with its item, or dropped from it."""

    bytes: Size | None = None
    kinds: list[Annotated[str, Field(pattern=r"^image/[a-z0-9.+-]{1,40}$")]] | None = Field(default=None, max_length=20)
    beyond: Literal["refuses", "drops"] = "drops"


class Limits(Part):
    stem: TextLimit | None = None
    choice: TextLimit | None = None
    choices: TextLimit | None = None
    pictures: PictureLimits | None = None
    items_per_file: Length | None = None
    file_bytes: Size | None = None


class QuizHabits(Part):
    """`draws`: kept, fixed as the items that one drawing gives, or all items of the pool. `settings` are those that it takes."""

    quizzes: Habit = "takes"
    parts: Habit = "takes"
    draws: Literal["takes", "a fixed draw", "all items"] = "takes"
    instructions: Habit = "takes"
    page_breaks: Habit = "takes"
    points: Habit = "takes"
    settings: Annotated[list[str], AfterValidator(_known_settings)] = Field(default_factory=lambda: list(SETTINGS))


class Sheet(Part):
    format: Literal["rogatum-receiver/1"] = SHEET_FORMAT
    name: Slug
    version: int = Field(default=1, ge=1, le=100_000)
    title: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Kind = "course platform"
    about: Annotated[str, Field(max_length=600)] = ""
    formats: list[TakenFormat] = Field(min_length=1, max_length=20)
    types: dict[ItemType, TypeHabit] = Field(default_factory=dict)
    content: ContentHabits = Field(default_factory=ContentHabits)
    marking: MarkingHabits = Field(default_factory=MarkingHabits)
    points: PointsHabits = Field(default_factory=PointsHabits)
    feedback: FeedbackHabits = Field(default_factory=FeedbackHabits)
    labels: LabelHabits = Field(default_factory=LabelHabits)
    grouping: GroupingHabits = Field(default_factory=GroupingHabits)
    names: NameHabits = Field(default_factory=NameHabits)
    limits: Limits = Field(default_factory=Limits)
    quiz: QuizHabits = Field(default_factory=QuizHabits)
    steps: list[Line] = Field(min_length=3, max_length=6)

    @model_validator(mode="after")
    def _sensible(self) -> Sheet:
        for item_type, habit in self.types.items():
            if habit == TURNS + item_type:
                raise ValueError(f"types.{item_type}: it is turned into itself; say “takes”")
            if habit.startswith(TURNS) and self.types.get(habit.removeprefix(TURNS), TAKES) != TAKES:  # type: ignore[call-overload]
                raise ValueError(f"types.{item_type}: it becomes a type that is not taken; say what is taken")
        names = [taken.name for taken in self.formats]
        if len(set(names)) != len(names):
            raise ValueError("formats: one is named twice; name each once, the preferred first")
        points = self.points
        if points.least is not None and points.most is not None and points.least > points.most:
            raise ValueError("points.least: it is more than points.most")
        return self

    def habit_of(self, item_type: ItemType) -> str:
        """“takes”, “refuses” or “turns into” with a type. What is only preserved is refused where nothing is said of it."""
        return self.types.get(item_type, REFUSES if item_type == "preserved" else TAKES)

    def turns(self, item_type: ItemType) -> ItemType | None:
        """The type that one is turned into, None where it is not turned."""
        habit = self.habit_of(item_type)
        return habit.removeprefix(TURNS) if habit.startswith(TURNS) else None  # type: ignore[return-value]

    def format_names(self) -> list[str]:
        return [taken.name for taken in self.formats]


MOST_DOTS = 60
_NOT_OF_A_KEY = re.compile(r"""[^\w"'. \t-]""")


def sheet_from_toml(text: str, name: str = "The sheet") -> Sheet:
    """The sheet of a TOML text. Raises UnreadableSource that names the field, or the line where it is no TOML."""
    if len(text.encode()) > MOST_BYTES:
        raise UnreadableSource(f"{name} is too large", f"A sheet has at most {MOST_BYTES // 1024} KB.", "Shorten it.")
    # Each part of a dotted key is a table of its own, which is looked up by all before it.
    if any(part.count(".") > MOST_DOTS for part in _NOT_OF_A_KEY.split(text)):
        raise UnreadableSource(f"{name} is no receiver sheet", "A key has very many parts.", "Correct that line.")
    try:
        data = tomllib.loads(text)
    except (ValueError, RecursionError) as error:  # a number of very many digits is no error of TOML
        raise UnreadableSource(f"{name} is no TOML", f"{error}.", "Correct that line.") from None
    return sheet_from(data, name)


def sheet_from(data: dict[str, Any], name: str = "The sheet") -> Sheet:
    """The sheet of its fields. Raises UnreadableSource that names the first field that is not right."""
    try:
        return Sheet.model_validate(data)
    except ValidationError as error:
        field, why = problems_of(error)[0]
        told = f"{field}: {why}." if field else f"{why}."
        raise UnreadableSource(f"{name} is no receiver sheet yet", told, "Correct it.") from None


def problems_of(error: ValidationError) -> list[tuple[str, str]]:
    """What is not right, as (field, why): `limits.stem.most`, and why in words."""
    return [_problem(tuple(map(str, entry["loc"])), entry) for entry in error.errors()]


_WORDS = {
    "extra_forbidden": "there is no such field",
    "missing": "it is missing",
    "literal_error": "say {expected}",
    "int_parsing": "say a whole number",
    "int_from_float": "say a whole number",
    "int_type": "say a whole number",
    "float_parsing": "say a number",
    "float_type": "say a number",
    "string_type": "say it as a text",
    "list_type": "say a list",
    "too_short": "it needs at least {min_length}",
    "too_long": "it has more than {max_length}",
    "string_too_short": "it is empty",
    "string_too_long": "it has more than {max_length} characters",
    "greater_than": "it must be more than {gt}",
    "greater_than_equal": "it must be at least {ge}",
    "less_than_equal": "it must be at most {le}",
    "model_type": "say its fields",
    "dict_type": "say its fields",
    "string_pattern_mismatch": "say a kind of picture, as in image/png",
}


def _problem(place: Iterable[str], entry: Any) -> tuple[str, str]:
    why = str(entry["msg"]).removeprefix("Value error, ")
    field = ".".join(str(part) for part in place if part != "[key]")
    if entry["type"] == "value_error":
        head, _, rest = why.partition(": ")
        return (head, rest) if rest and re.fullmatch(r"[a-z_.]+", head) else (field, why)
    words = _WORDS.get(entry["type"], why[0].lower() + why[1:])
    return field, words.format(**{"expected": "", **entry.get("ctx", {})})


def sheet_to_toml(sheet: Sheet) -> str:
    """The sheet as TOML: what is as usual is left out."""
    data = {"format": sheet.format, **_told(sheet.model_dump(mode="json", exclude_defaults=True, exclude_none=True))}
    return tomli_w.dumps(data, multiline_strings=False)


def _told(data: dict[str, Any]) -> dict[str, Any]:
    """Values before tables, which is how TOML is read with ease."""
    plain = {name: value for name, value in data.items() if not isinstance(value, dict) and name != "formats"}
    return {"version": 1, "kind": "course platform"} | plain | {name: v for name, v in data.items() if name not in plain}
