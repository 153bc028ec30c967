"""Keys that are typed: the texts and the intervals of numbers that a processing accepts."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

from rogatum.core.fidelity.probes import NO_NUMBER
from rogatum.core.findings.keys import MARKING_UNDECIDED
from rogatum.core.formats.shared.keys.finding import Prober
from rogatum.core.formats.shared.keys.fitting_text import text_that_fits
from rogatum.core.formats.shared.keys.letter_case import own_case
from rogatum.core.formats.shared.keys.marker import WRONG, Named, Responses, Tolerance, folded
from rogatum.core.items import NumericAnswer, TextAnswer
from rogatum.core.quizzes.marking import parse_number

_TEXT_TESTS = frozenset({"varequal", "varsubstring", "varsubset"})


@dataclass
class TypedSlot:
    """A place to type into: the values that conditions name for it, and the responses with a text typed there."""

    named: list[Named]
    give: Callable[[str], Responses]


@dataclass
class TextKey:
    """Accepted texts with their weights, whether case counts, and the best score that one gains."""

    answers: list[TextAnswer] = field(default_factory=list)
    case_sensitive: bool = False
    best: float = 0.0


@dataclass
class _Texts:
    """Accepted texts while they are found, by what tells them apart, and what each gains."""

    prober: Prober
    slot: TypedSlot
    nothing: float
    answers: dict[str, TextAnswer] = field(default_factory=dict)
    gains: dict[str, float] = field(default_factory=dict)
    # Whether case counts, for those answers whose case can be another.
    sensitive: dict[str, bool] = field(default_factory=dict)

    def gained(self, text: str) -> float:
        return self.prober.score(self.slot.give(text)) - self.nothing

    def told(self, text: str) -> set[str]:
        """The feedback that a text shows and others do not."""
        shown = self.prober.shown
        return set(shown(self.slot.give(text))).difference(shown(self.slot.give(WRONG)))

    def take(self, name: Named) -> None:
        if name.test == "pattern":
            self._pattern(name.value)
        elif name.test in _TEXT_TESTS and name.value:
            self._text(name.value)

    def _text(self, text: str) -> None:
        key = folded(text, case=True)
        gained = self.gained(text)
        if key in self.answers or (gained == 0 and not self.told(text)):
            return
        if gained == 0:
            # It earns nothing, and is told of: a wrong answer with feedback of its own.
            self.answers[key] = TextAnswer(text=text, match="contains" if self.told(f"xx {text} xx") else "exact")
            self.gains[key] = 0.0
            return
        swapped = text.swapcase()
        if swapped != text:
            self.sensitive[key] = self.gained(swapped) < gained - 1e-9
        within = self.gained(f"xx {text} xx") >= gained - 1e-9
        self.answers[key] = TextAnswer(text=text, match="contains" if within else "exact")
        self.gains[key] = gained

    def _pattern(self, pattern: str) -> None:
        """A pattern earns what a text made to fit it earns."""
        plain = own_case(pattern)
        sample = text_that_fits(plain)
        if sample is None:
            self.prober.note(MARKING_UNDECIDED, detail=f"the pattern “{pattern}”")
            return
        gained = self.gained(sample)
        if gained <= 0 or plain in self.answers:
            return
        self.answers[plain], self.gains[plain] = TextAnswer(text=plain, match="regex"), gained
        if sample.swapcase() != sample:
            self.sensitive[plain] = self.gained(sample.swapcase()) < gained - 1e-9


def texts(prober: Prober, slot: TypedSlot) -> TextKey:
    """The texts that a slot accepts."""
    found = _Texts(prober, slot, prober.score(slot.give(WRONG)))
    for name in slot.named:
        found.take(name)
    best = max([0.0, *found.gains.values()])
    if best <= 0:
        found.answers = {key: answer for key, answer in found.answers.items() if found.gains[key] < 0}
    for key, answer in found.answers.items():
        answer.weight = max(-1.0, min(1.0, round(found.gains[key] / best, 6))) if best > 0 else 0.0
    answers, cases = found.answers, set(found.sensitive.values())
    if cases == {True, False}:  # some count and some do not
        for key, answer in answers.items():
            answer.case_sensitive = True if found.sensitive.get(key) else None
    elif cases != {True}:
        answers = {folded(key, case=False): answer for key, answer in reversed(list(answers.items()))}
        answers = dict(reversed(list(answers.items())))
    return TextKey(list(answers.values()), cases == {True}, best)


def numbers(prober: Prober, slot: TypedSlot) -> tuple[list[NumericAnswer], float]:
    """Accepted intervals, found by probing every bound that the conditions name, and between and beyond them; and the best gain."""
    bounds = sorted({v for n in slot.named if (v := parse_number(n.value)) is not None})
    if not bounds:
        return [], 0.0
    points = _probe_points(bounds)
    scores = [prober.score(slot.give(repr(p))) for p in points]
    # "Not below and not above" holds of what is no number, too: nothing is what the least response earns.
    nothing = min(prober.score(slot.give(NO_NUMBER)), *scores)
    gains = [score - nothing for score in scores]
    best = max(gains, default=0.0)
    if best <= 0:
        return [], 0.0
    values = _values(slot.named)
    found = list(_intervals(points, gains, best, values))
    return found + _told_of(prober, slot, points, gains, values), best


def _told_of(
    prober: Prober, slot: TypedSlot, points: list[float], gains: list[float], values: dict[float, Tolerance | None]
) -> list[NumericAnswer]:
    """Intervals that earn nothing and have feedback of their own, as for what is too low."""
    wrong = {i for i, gain in enumerate(gains) if gain == 0}
    shown = {i: frozenset(prober.shown(slot.give(repr(points[i])))) for i in wrong}
    if not any(shown.values()):
        return []
    others = frozenset.intersection(*shown.values()).union(prober.shown(slot.give(NO_NUMBER)))
    found = []
    for said in dict.fromkeys(shown[i] - others for i in sorted(wrong)):
        if said:
            runs = _runs([i in wrong and shown[i] - others == said for i in range(len(points))])
            found += [_interval_of(points, run, 0.0, values) for run in runs]
    return found


def typed_candidates(named: Sequence[Named]) -> list[str]:
    """What may be right to type: what conditions name, the likeliest first, what fits a pattern, and numbers beside bounds."""
    ordered = sorted(named, key=lambda name: name.negated)
    plain = [name.value for name in ordered if name.test != "pattern"]
    fitting = [text for name in ordered if name.test == "pattern" and (text := text_that_fits(own_case(name.value))) is not None]
    compared = {v for name in ordered if name.test not in _TEXT_TESTS and (v := parse_number(name.value)) is not None}
    between = [repr(point) for point in _probe_points(sorted(compared))] if compared else []
    return list(dict.fromkeys([*plain, *fitting, *between]))


def _values(named: list[Named]) -> dict[float, Tolerance | None]:
    """The numbers that are named as values, with the tolerance that stands beside them."""
    return {v: n.tolerance for n in named if n.test == "varequal" and (v := parse_number(n.value)) is not None}


def _probe_points(bounds: Sequence[float]) -> list[float]:
    """The bounds, the middles between them, and one point beyond each end, in order."""
    reach = max(1.0, abs(bounds[0]), abs(bounds[-1]))
    points = [bounds[0] - reach]
    for a, b in itertools.pairwise(bounds):
        points += [a, (a + b) / 2]
    return [*points, bounds[-1], bounds[-1] + reach]


def _intervals(
    points: list[float], gains: list[float], best: float, values: dict[float, Tolerance | None]
) -> Iterable[NumericAnswer]:
    """Runs of probe points with the same gain as intervals."""
    levels = sorted({gain for gain in gains if gain > 0}, reverse=True)
    for level in levels:
        for run in _runs([gain >= level - 1e-9 for gain in gains]):
            if any(abs(gains[i] - level) < 1e-9 for i in run):
                yield _interval_of(points, run, round(level / best, 6), values)


def _runs(held: Sequence[bool]) -> Iterable[list[int]]:
    """The places that are held, each run of neighbours together."""
    for is_in, run in itertools.groupby(range(len(held)), key=held.__getitem__):
        if is_in:
            yield list(run)


def _interval_of(points: list[float], run: list[int], weight: float, values: dict[float, Tolerance | None]) -> NumericAnswer:
    """A run of probe points as an interval; one that reaches an end is open there.

    Odd positions are bounds, even ones lie between: a run that starts or ends between two bounds ends at the bound next to it,
    which does not count.
    """
    first, last, end = run[0], run[-1], len(points) - 1
    interval = NumericAnswer(
        min=None if first == 0 else points[first] if first % 2 else points[first - 1],
        max=None if last == end else points[last] if last % 2 else points[last + 1],
        include_min=first == 0 or first % 2 == 1,
        include_max=last == end or last % 2 == 1,
        weight=weight,
    )
    return _around_a_value(interval, values)


def _around_a_value(interval: NumericAnswer, values: dict[float, Tolerance | None]) -> NumericAnswer:
    """The interval as a value with its tolerance, where one that is named stands for it."""
    low, high = interval.min, interval.max
    if low is None or high is None:
        return interval
    within = [value for value in values if low <= value <= high]
    for value in within:
        said = values[value]
        if said is not None and _same_interval(told := _told(value, said, interval.weight), interval):
            return told
    centre = next((v for v in within if abs((v - low) - (high - v)) <= 1e-9 * max(1, abs(v))), None)
    if centre is None:
        return interval
    spread = round((high - low) / 2, 12)
    return interval.model_copy(update={"value": centre, "tolerance": spread, "min": None, "max": None})


def _told(value: float, said: Tolerance, weight: float) -> NumericAnswer:
    if said.kind == "relative":
        return NumericAnswer(value=value, relative=said.amount, weight=weight)
    return NumericAnswer(value=value, figures=int(said.amount), rounding=said.kind, weight=weight)


def _same_interval(a: NumericAnswer, b: NumericAnswer) -> bool:
    near = all(abs(x - y) <= 1e-9 * max(1.0, abs(x)) for x, y in zip(a.bounds(), b.bounds(), strict=True))
    return near and (a.include_min, a.include_max) == (b.include_min, b.include_max)


def meeting(answer: TextAnswer | NumericAnswer) -> str:
    """A text that meets an answer: itself, one that fits its pattern, a number within its interval."""
    if isinstance(answer, TextAnswer):
        return (text_that_fits(answer.text) if answer.match == "regex" else answer.text) or answer.text
    bounds = [bound for bound in answer.bounds() if math.isfinite(bound)]
    if not bounds:
        return "1.0"
    return repr({2: sum(bounds) / 2, 1: bounds[0] + (1 if answer.bounds()[1] == math.inf else -1)}[len(bounds)])


def a_right_text(answers: Sequence[TextAnswer] | Sequence[NumericAnswer]) -> str | None:
    """A text that meets the answer that earns most; None where there is no answer."""
    best = max(answers, key=lambda answer: answer.weight, default=None)
    return None if best is None else meeting(best)


def a_wrong_number(answers: list[NumericAnswer]) -> str:
    """A number that no interval holds, or what is no number where each number is held by one."""
    bounds = [bound for answer in answers for bound in answer.bounds()]
    finite = [bound for bound in bounds if math.isfinite(bound)] or [0.0]
    reach = max(map(abs, finite)) + 17
    if math.inf not in bounds:
        return repr(max(finite) + reach)
    return repr(min(finite) - reach) if -math.inf not in bounds else NO_NUMBER
