"""One strategy for whole banks, narrowed by what a format carries: a new format gets its main test for nothing."""

from __future__ import annotations

import string
from base64 import b64decode
from dataclasses import replace
from datetime import UTC, datetime

from hypothesis import strategies as st

from rogatum.core.formats import Carries
from rogatum.core.items import (
    Bank,
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Ordering,
    Pair,
    PoolEntry,
    Stimulus,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import blank_marker, escape, formula_from_tex, media_refs
from rogatum.core.items.parts import content_fields
from rogatum.core.quizzes.model import Draw, Part, Quiz, ScoreFeedback, Settings
from rogatum.core.quizzes.settings import SectionDates, StudentException
from rogatum.core.sources import MediaBox

# Signs that mean something in one format or another are well represented.
# Words are drawn whole, since most of the time of a property went into drawing their letters; those that mean nothing differ enough.
WORD = st.sampled_from(
    ["loam", "Q", "sand", "µm", "m²", "Größe", "humus", "é", "aBc", "ZZ", "pH", "siltig", "Ä", "xylem", "of", "a", "B"]
)
SIGN = st.sampled_from(["&", "<", ">", "=", "~", "#", "{x}", ":", "\\", "%", "“q”", "'", '"', "]", "50", "a/b", "+", "|"])
TEX = st.sampled_from([r"n=1-\frac{\rho_b}{\rho_s}", r"\theta=w\cdot 2", "x^2", r"\nu \neq 0"])


@st.composite
def texts(draw, signs=True) -> str:
    words = draw(st.lists(st.one_of(WORD, WORD, SIGN) if signs else WORD, min_size=1, max_size=6))
    # A text that begins like a number or a letter with a stop is another matter: documents read that as a label.
    return "Ab " + " ".join(words) + " z"


@st.composite
def contents(draw, carries: Carries) -> str:
    parts = [escape(draw(texts()))]
    if carries.formatting and draw(st.booleans()):
        parts.append(f"<em>{escape(draw(texts()))}</em>")
    if carries.formulas and draw(st.booleans()):
        parts.append(formula_from_tex(draw(TEX)))
    if carries.media and draw(st.integers(0, 4)) == 0:
        parts.append(_picture(draw, carries))
    parts.append(escape(draw(WORD)))
    return " ".join(parts)


# Two pictures of one pixel each.
_PIXEL = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nG{}AAAABJRU5ErkJggg=="
PICTURES = {
    "media/horizon.png": b64decode(_PIXEL.format("NgAAAAAgABSK+kcQ")),
    "media/profile.png": b64decode(_PIXEL.format("M4AQAAygDJmcpdfg")),
}


def media_box() -> MediaBox:
    """The pictures that generated banks use."""
    box = MediaBox()
    for ref, data in PICTURES.items():
        box.add_bytes(ref.removeprefix("media/"), data)
    return box


def _picture(draw, carries) -> str:
    alt = draw(WORD) if carries.alt_texts else ""
    return f'<img src="{draw(st.sampled_from(sorted(PICTURES)))}" alt="{alt}"/>'


def distinct(strategy, low, high):
    return st.lists(strategy, min_size=low, max_size=high, unique=True)


@st.composite
def feedback(draw, carries: Carries) -> dict[str, str]:
    slots = sorted(carries.feedback & {"general", "correct", "incorrect"})
    return {slot: draw(contents(carries)) for slot in slots if draw(st.booleans())}


@st.composite
def choices(draw, carries: Carries, weights) -> list[Choice]:
    texts_ = draw(distinct(contents(carries), len(weights), len(weights)))
    notes = [draw(st.none() | contents(carries)) if "choice" in carries.feedback else None for _ in weights]
    return [
        Choice(id=chr(97 + n), content=text, weight=weight, feedback=note)
        for n, (text, weight, note) in enumerate(zip(texts_, weights, notes, strict=True))
    ]


def _multiple_choice(draw, carries, common) -> Item:
    credits = [0.0, 0.5, *([-0.25] if carries.below_zero or carries.per_choice else [])]
    partial = draw(st.sampled_from(credits)) if carries.partial_credit else 0.0
    weights = draw(st.permutations([1.0, 0.0, partial]))
    return MultipleChoice(**common, choices=draw(choices(carries, weights)), shuffle=_order(draw, carries))


def _order(draw, carries) -> bool | None:
    """Whether choices may be shuffled; a format that has to say it cannot leave it open."""
    if not carries.choice_order:
        return None
    return draw(st.booleans() if "order-not-set" in carries.otherwise else st.sampled_from([None, True, False]))


def _multiple_response(draw, carries, common) -> Item:
    if carries.all_or_nothing and (not carries.per_choice or draw(st.booleans())):
        picked = draw(choices(carries, draw(st.permutations([0.5, 0.5, 0.0, 0.0]))))
        return MultipleResponse(**common, scoring="all_or_nothing", choices=picked, shuffle=_order(draw, carries))
    picked = draw(choices(carries, draw(st.permutations([0.5, 0.25, 0.25, -0.5]))))
    return MultipleResponse(**common, scoring="per_choice", choices=picked, lowest=_lowest(draw, carries))


def _lowest(draw, carries) -> float | None:
    """The least that a sum comes to; where it has no bound, or one below 0, wrong picks take points off."""
    return draw(st.sampled_from([0.0, None, -0.25])) if carries.below_zero else 0.0


def _scoring(draw, carries, usual) -> str:
    return draw(st.sampled_from(["per_part", "all_or_nothing"])) if carries.part_scoring else usual


def _true_false(draw, carries, common) -> Item:
    notes = {k: draw(contents(carries)) for k in ("true", "false") if "choice" in carries.feedback and draw(st.booleans())}
    return TrueFalse(**common, answer=draw(st.booleans()), choice_feedback=notes)


ANSWER = st.text(alphabet=string.ascii_letters + "äé", min_size=2, max_size=9).filter(
    lambda s: s.casefold() not in ("or", "true", "false")
)


def _answers(draw, carries) -> list[TextAnswer]:
    found = draw(st.lists(ANSWER, min_size=1, max_size=3, unique_by=str.casefold))
    weights = [1.0] + [draw(st.sampled_from([1.0, 0.5])) if carries.partial_credit else 1.0 for _ in found[1:]]
    matches = ["exact", *(["contains"] if carries.contains else []), *(["regex"] if carries.regex else [])]
    return [
        # None of them holds another.
        TextAnswer(
            text=f"{text} q{n}", weight=weight, match=draw(st.sampled_from(matches)), feedback=_note(draw, carries, first=not n)
        )
        for n, (text, weight) in enumerate(zip(found, weights, strict=True))
    ]


def _note(draw, carries, first: bool = True) -> str | None:
    """Feedback of what was typed; what all right answers show is feedback when right, where a format has that."""
    told = "answer" in carries.feedback and not (first and "correct" in carries.feedback)
    return draw(st.none() | contents(carries)) if told else None


def _case(draw, carries) -> bool:
    return carries.case and draw(st.booleans())


def _numbers(draw, carries) -> list[NumericAnswer]:
    value = draw(st.integers(-5000, 5000)) / 8
    note = _note(draw, carries)
    if carries.exact_bounds and draw(st.booleans()):
        return [draw(_exact_numbers(value, note))]
    if draw(st.booleans()):
        return [NumericAnswer(value=value, tolerance=draw(st.sampled_from([0.0, 0.125, 2.0])), feedback=note)]
    return [NumericAnswer(min=value, max=value + draw(st.integers(1, 40)) / 4, feedback=note)]


def _exact_numbers(value, note):
    """Ranges that leave out a bound or are open, and values told by per cent or figures."""
    low, high = st.sampled_from([(True, False), (False, True), (False, False)]), st.integers(1, 40).map(lambda n: value + n / 4)
    ranges = st.builds(
        lambda ends, top: NumericAnswer(min=value, max=top, include_min=ends[0], include_max=ends[1], feedback=note), low, high
    )
    around = low.map(
        lambda ends: NumericAnswer(value=value, tolerance=0.5, include_min=ends[0], include_max=ends[1], feedback=note)
    )
    figures = st.tuples(st.integers(1, 4), st.sampled_from(["significant", "decimal"])).map(
        lambda said: NumericAnswer(value=value, figures=said[0], rounding=said[1], feedback=note)
    )
    told = [NumericAnswer(value=value, relative=2.0, feedback=note), NumericAnswer(min=value, feedback=note)]
    return st.one_of(ranges, around, figures, st.sampled_from([*told, NumericAnswer(max=value, include_max=False, feedback=note)]))


def _fill_in(draw, carries, common) -> Item:
    answers = _answers(draw, carries)
    if carries.part_scoring and len(answers) > 1 and draw(st.booleans()):
        answers[0].case_sensitive = True  # some count, and some do not
        return FillIn(**common, answers=answers)
    return FillIn(**common, answers=answers, case_sensitive=_case(draw, carries))


def _numeric(draw, carries, common) -> Item:
    return Numeric(**common, answers=_numbers(draw, carries))


def _matching(draw, carries, common) -> Item:
    rights = draw(distinct(contents(carries), 4, 4))
    lefts = draw(distinct(contents(carries), 3, 3))
    scoring = _scoring(draw, carries, "per_part")
    unequal = carries.part_scoring and scoring == "per_part" and draw(st.booleans())
    shares = [0.5, 0.25, 0.25] if unequal else [None] * 3
    pairs = [Pair(left=left, right=right, share=share) for left, right, share in zip(lefts, rights, shares, strict=False)]
    return Matching(**common, pairs=pairs, distractors=rights[3:], scoring=scoring, shuffle=_order(draw, carries))


def _ordering(draw, carries, common) -> Item:
    sequence = draw(distinct(contents(carries), 3, 5))
    return Ordering(**common, sequence=sequence, scoring=_scoring(draw, carries, "all_or_nothing"))


def _essay(draw, carries, common) -> Item:
    sample = draw(contents(carries)) if carries.sample_answer and draw(st.booleans()) else None
    kept = {slot: text for slot, text in common["feedback"].items() if slot == "general"}
    return Essay(**common | {"feedback": kept}, sample_answer=sample)


def _information(draw, carries, common) -> Item:
    return Information(**common | {"feedback": {}, "points": None})


def _cloze(draw, carries, common) -> Item:
    scoring = _scoring(draw, carries, "per_part")
    # Where only all together earns, nothing that is half right counts.
    partial = carries.partial_credit and scoring == "per_part"
    plain = replace(carries, partial_credit=partial)
    shares = [0.5, 0.25, 0.25] if carries.choice_blanks else [0.5, 0.5]
    blanks = [
        TextBlank(id="b1", answers=_answers(draw, plain), case_sensitive=_case(draw, carries), share=shares[0]),
        NumericBlank(id="b2", answers=_numbers(draw, plain), share=shares[1]),
    ]
    stem = f"{draw(contents(carries))} {blank_marker('b1')} and {blank_marker('b2')}"
    if carries.choice_blanks:
        of_two = [Choice(id="x", content="one", weight=1), Choice(id="y", content="two")]
        blanks.append(ChoiceBlank(id="b3", choices=of_two, share=shares[2]))
        stem += f" or {blank_marker('b3')}"
    stem += " end"
    return Cloze(**common | {"stem": stem}, blanks=blanks, scoring=scoring)


MAKERS = {
    "multiple_choice": _multiple_choice,
    "multiple_response": _multiple_response,
    "true_false": _true_false,
    "fill_in": _fill_in,
    "numeric": _numeric,
    "matching": _matching,
    "ordering": _ordering,
    "essay": _essay,
    "information": _information,
    "cloze": _cloze,
}


@st.composite
def items(draw, carries: Carries, number: int) -> Item:
    kind = draw(st.sampled_from(sorted(carries.types - {"preserved"})))
    common = {
        "id": f"item{number}",
        "title": draw(st.just("") | texts(signs=False)) if carries.titles else "",
        "stem": f"{draw(contents(carries))} number {'x' * number}",
        "points": draw(st.sampled_from([1.0, 2.0, 2.5])) if carries.points else None,
        "feedback": draw(feedback(carries)),
        "metadata": {"outcome": ["2.1", "2.3"], "difficulty": ["easy"]} if carries.metadata and draw(st.booleans()) else {},
    }
    return MAKERS[kind](draw, carries, common)


@st.composite
def banks(draw, carries: Carries) -> Bank:
    """A bank of up to five items of which the format promises to carry everything."""
    count = draw(st.integers(1, 5))
    bank = Bank(title="Soils", items=[draw(items(carries, n)) for n in range(1, count + 1)])
    if carries.stimuli and draw(st.booleans()):
        bank.stimuli = [Stimulus(id="s1", content=draw(contents(carries)))]
        for item in bank.items[: draw(st.integers(1, count))]:
            item.stimulus = "s1"
    if carries.pools:
        cut = draw(st.integers(1, count))
        bank.pools = [PoolEntry(path=["Soils", "Texture"], items=[item.id for item in bank.items[:cut]])]
        if cut < count:
            bank.pools.append(PoolEntry(path=["Soils", "Water"], items=[item.id for item in bank.items[cut:]]))
    used = {ref for item in bank.items for content in content_fields(item) for ref in media_refs(content)}
    used |= {ref for stimulus in bank.stimuli for ref in media_refs(stimulus.content)}
    bank.media = [entry for entry in media_box().entries() if entry.ref in used]
    if carries.quizzes and draw(st.booleans()):
        if not carries.pools_beside_quizzes:
            bank.pools = []
        bank.quizzes = [draw(quizzes(carries, bank, n)) for n in range(1, draw(st.integers(1, 2)) + 1)]
    return bank


# What each setting of a quiz may be, for a property and for the tests that try all of them.
SETTINGS: dict[str, list[object]] = {
    "time_limit": [0.5, 25.0, 90.0],
    "attempts": [0, 1, 3, 5],
    "counts": ["last", "best", "first", "average"],
    "shuffle_items": [True, False],
    "shuffle_choices": [True, False],
    "opens": [datetime(2026, 9, 1, 8, tzinfo=UTC)],
    "due": [datetime(2026, 9, 7, 8, tzinfo=UTC)],
    "closes": [datetime(2026, 9, 8, 8, tzinfo=UTC)],
    "late": ["refused", "taken", "with a deduction"],
    "late_deduction": [0.1],
    "sections": [[SectionDates(section="Monday", closes=datetime(2026, 9, 9, 8, tzinfo=UTC))]],
    "exceptions": [[StudentException(student="R. Vane", time_factor=1.5)]],
    "pause": [60.0],
    "time_up": ["handed in", "refused", "may go on"],
    "one_sitting": [True, False],
    "access_code": ["loam"],
    "out_of": [66.0],
    "shown": ["all at once", "by parts", "one at a time"],
    "navigation": ["free", "in order"],
    "submission": ["at the end", "item by item"],
    "skipping": [True, False],
    "shuffle_parts": [True, False],
    "show_marks": ["never", "on submitting", datetime(2026, 9, 12, 8, tzinfo=UTC)],
    "show_responses": ["never", "on submitting", "after closing"],
    "show_right": ["after the last attempt"],
    "show_key": ["never", "on submitting", "after closing"],
    "show_feedback": ["never", "on submitting"],
    "feedback": [
        [ScoreFeedback(content="Well <em>done</em>", least=0.8), ScoreFeedback(content="Once more", below=0.5)],
        [ScoreFeedback(content="Good", least=0.3, below=0.7)],
    ],
}


@st.composite
def settings(draw, carries: Carries) -> Settings:
    """Settings that a format has a place for, with the values that it has words for."""
    said = {}
    for name, values in carries.settings.items():
        if draw(st.booleans()):
            said[name] = draw(st.sampled_from(SETTINGS[name] if values is None else sorted(values, key=str)))
    return Settings(**said)


@st.composite
def quizzes(draw, carries: Carries, bank: Bank, number: int) -> Quiz:
    """A quiz of fixed items and draws, the first with points of its own where the format has a place for them."""
    worth = st.sampled_from([None, 4.0, 1.5, 0.0]) if carries.weights and number == 1 else st.none()
    fixed = draw(st.lists(st.sampled_from([item.id for item in bank.items]), min_size=1, unique=True))
    own = {key: points for key in fixed if (points := draw(worth)) is not None}
    part = Part(title="Fixed" if carries.parts else "", items=fixed, points_each=draw(worth), points=own)
    parts = [part]
    for pool in bank.pools if carries.draws else []:
        # Where a format gives an item the same points wherever it stands, what has points of its own stands in one place.
        apart = carries.weights_by_place or not set(pool.items) & set(fixed)
        held = [item for item in bank.items if item.id in pool.items and item.type != "information"]
        if len(held) > 1 and (apart or (part.points_each is None and not own)) and draw(st.booleans()):
            pick = draw(st.integers(1, len(held) - 1))
            each = draw(worth) if apart else None
            parts.append(Part(title=pool.path[-1], draw=Draw(pool=pool.path, pick=pick), points_each=each))
    if carries.parts and draw(st.booleans()):
        parts.reverse()
    if carries.instructions:
        said = st.sampled_from(["", "Answer <em>all</em> of these."])
        parts = [part.model_copy(update={"instructions": draw(said)}) for part in parts]
    return Quiz(id=f"week{number}", title=f"Week {number}", parts=parts, settings=draw(settings(carries)))
