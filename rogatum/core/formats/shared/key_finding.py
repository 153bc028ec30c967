"""Finds an item's key by probing: its response processing is run on candidate responses, and what they earn is the key.

So any correct way of writing the rules is understood. What no item can hold exactly becomes a finding.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from rogatum.core.finding import FindingKind
from rogatum.core.findings.keys import (
    BOUND_EXCLUDED,
    MARKING_APPROXIMATED,
    MARKING_UNDECIDED,
    OVERPICKING_FREE,
    SEVERAL_COMBINATIONS,
)
from rogatum.core.formats.shared.fitting_text import text_that_fits
from rogatum.core.items import NumericAnswer, Scoring, TextAnswer
from rogatum.core.quizzes.marking import parse_number

EXHAUSTIVE = 8
CLOSE = 0.006
WRONG = "\u2042"
# What makes a pattern overlook case.
ANY_CASE = "(?i)"

Responses = Mapping[str, Sequence[str]]


@dataclass
class Outcome:
    """The variables after processing, and the ids of the feedback shown, in order."""

    scores: dict[str, float] = field(default_factory=dict)
    feedback: list[str] = field(default_factory=list)


@dataclass
class Named:
    """A value that a condition names: a candidate for probing. `test` is how it is compared, in QTI 1.2's words."""

    response: str
    value: str
    test: str
    index: int | None = None
    case: bool = False
    negated: bool = False


class Marker(Protocol):
    """The response processing of one item, whatever its dialect."""

    @property
    def named(self) -> list[Named]: ...

    @property
    def undecided(self) -> list[str]: ...

    @property
    def maximum(self) -> float | None: ...

    @property
    def minimum(self) -> float | None: ...

    def run(self, responses: Responses) -> Outcome: ...

    def earned(self, responses: Responses) -> float: ...


class Pick(Protocol):
    """Something that can be picked."""

    @property
    def ident(self) -> str: ...


class Asked(Protocol):
    """A response that is asked for, with what can be picked for it."""

    @property
    def ident(self) -> str: ...

    @property
    def labels(self) -> Sequence[Pick]: ...


def folded(text: str, case: bool) -> str:
    text = " ".join(text.split())
    return text if case else text.casefold()


@dataclass
class Scale:
    """From scores to shares: `full` is the score of a fully right response; `points` what the item is worth, if said."""

    full: float
    points: float | None

    def share(self, score: float) -> float:
        return max(-1.0, min(1.0, round(score / self.full, 6))) if self.full else 0.0


@dataclass
class Prober:
    """Runs an item's processing; `note` takes kinds of findings with the values of their texts."""

    processing: Marker
    notes: list[tuple[FindingKind, dict[str, object]]] = field(default_factory=list)

    def note(self, kind: FindingKind, **values: object) -> None:
        self.notes.append((kind, values))

    def score(self, responses: Responses) -> float:
        return self.processing.earned(responses)

    def scale(self, best: float) -> Scale:
        """The scale by the best score reached and the maximum declared (`decvar maxvalue`)."""
        if self.processing.undecided:
            self.note(MARKING_UNDECIDED, detail=", ".join(dict.fromkeys(self.processing.undecided)))
        declared = self.processing.maximum
        if best <= 0:
            return Scale(declared or 0.0, declared)
        if declared is None or declared <= 0:
            return Scale(best, round(best, 6))
        if abs(declared - best) <= max(CLOSE * declared, 1e-9):
            return Scale(best, declared)
        self.note(
            MARKING_APPROXIMATED,
            detail=f"the best response earns {best:g}, and the maximum declared is {declared:g}.",
        )
        return Scale(best, declared)

    # Choices

    def single_choice(self, response: Asked) -> tuple[list[float], Scale]:
        """The weight of each choice of a response that takes one."""
        scores = [self.score({response.ident: [label.ident]}) for label in response.labels]
        scale = self.scale(max(scores, default=0.0))
        return [scale.share(score) for score in scores], scale

    def multiple_choice(self, response: Asked) -> tuple[list[float], Scoring, Scale]:
        """Weights and scoring of a response that takes several choices."""
        idents = [label.ident for label in response.labels]
        scores = {subset: self.score({response.ident: list(subset)}) for subset in self._subsets(response, idents)}
        best = max(scores.values(), default=0.0)
        scale = self.scale(best)
        if best <= 0:
            return [0.0] * len(idents), "all_or_nothing", scale
        singles = self._in_company(idents, scores, best)
        several = sum(s > 0 for s in singles) > 1 or (max(singles) > 0 and min(singles) < 0)
        if self._additive(scores, dict(zip(idents, singles, strict=True)), scale) and several:
            return [scale.share(s) for s in singles], "per_choice", scale
        return self._all_or_nothing(idents, scores, scale), "all_or_nothing", scale

    @staticmethod
    def _in_company(idents: list[str], scores: dict[tuple[str, ...], float], best: float) -> list[float]:
        """What each choice earns alone; one that takes points off shows that beside right ones, where sums never go below 0."""
        singles = [scores[(ident,)] for ident in idents]
        gaining = tuple(ident for ident, score in zip(idents, singles, strict=True) if score > 0)
        if len(gaining) < 2 or min(singles) < 0 or abs(scores.get(gaining, 0.0) - best) > CLOSE * best:
            return singles
        for position, ident in enumerate(idents):
            joined = scores.get(tuple(i for i in idents if i in gaining or i == ident))
            if ident not in gaining and joined is not None and joined < best:
                singles[position] = joined - best
        return singles

    def _subsets(self, response: Asked, idents: list[str]) -> Iterable[tuple[str, ...]]:
        if len(idents) <= EXHAUSTIVE:
            return [s for size in range(len(idents) + 1) for s in itertools.combinations(idents, size)]
        found: dict[tuple[str, ...], None] = {(): None, tuple(idents): None}
        found.update(dict.fromkeys((ident,) for ident in idents))
        for candidate in self._named_sets(response, idents):
            found[candidate] = None
            for ident in idents:
                changed = set(candidate) ^ {ident}
                found[tuple(i for i in idents if i in changed)] = None
        return list(found)

    def _named_sets(self, response: Asked, idents: list[str]) -> Iterable[tuple[str, ...]]:
        """The sets that the conditions name without `not`, all together and rule by rule of thumb: all but the negated."""
        named = [n for n in self.processing.named if n.response == response.ident]
        positive = {v for n in named if not n.negated for v in (n.value.split(",") if n.test == "varsubset" else [n.value])}
        negative = {n.value for n in named if n.negated}
        gaining = {i for i in idents if self.score({response.ident: [i]}) > 0}
        for chosen in (positive, positive - negative, set(idents) - negative, gaining):
            yield tuple(i for i in idents if i in chosen)

    def _additive(self, scores: dict[tuple[str, ...], float], singles: dict[str, float], scale: Scale) -> bool:
        """Whether every set earns the sum of its members, within the item's bounds."""
        minimum = self.processing.minimum
        if minimum is None and min(scores.values()) >= 0 > min(singles.values()):
            minimum = 0.0
        for subset, score in scores.items():
            if not subset:
                continue
            total = sum(singles[ident] for ident in subset)
            held = min(scale.full, total if minimum is None else max(minimum, total))
            if abs(score - total) > CLOSE * scale.full and abs(score - held) > CLOSE * scale.full:
                return False
        return True

    def _all_or_nothing(self, idents: list[str], scores: dict[tuple[str, ...], float], scale: Scale) -> list[float]:
        full = [set(subset) for subset, score in scores.items() if score >= scale.full * (1 - CLOSE)]
        smallest = [s for s in full if not any(other < s for other in full)]
        key = min(smallest, key=lambda s: (len(s), [i not in s for i in idents]))
        if len(smallest) > 1:
            self.note(SEVERAL_COMBINATIONS)
        elif any(key < other for other in full):
            self.note(OVERPICKING_FREE)
        partial = [score for score in scores.values() if CLOSE * scale.full < score < scale.full * (1 - CLOSE)]
        if partial:
            self.note(MARKING_APPROXIMATED, detail="some incomplete responses earn a part of the points.")
        return [round(1 / len(key), 6) if ident in key else 0.0 for ident in idents] if key else [0.0] * len(idents)

    # Texts and numbers

    def texts(
        self, response: Asked, give: Callable[[str], Responses], index: int | None = None
    ) -> tuple[list[TextAnswer], bool, float]:
        """Accepted texts with their raw scores as weights (not yet shares), whether case matters, and the best score."""
        named = [n for n in self.processing.named if n.response == response.ident and (index is None or n.index in (index, None))]
        nothing = self.score(give(WRONG))
        best, sensitive = 0.0, False
        answers: dict[str, TextAnswer] = {}
        raw: dict[str, float] = {}
        for name in named:
            if name.test == "pattern":
                sensitive = self._pattern(name.value, give, nothing, answers, raw) or sensitive
                best = max([best, *raw.values()])
                continue
            if name.test not in ("varequal", "varsubstring", "varsubset") or not name.value:
                continue
            gained = self.score(give(name.value)) - nothing
            key = folded(name.value, case=True)
            if gained == 0 or key in answers:
                continue
            swapped = name.value.swapcase()
            if swapped != name.value and self.score(give(swapped)) - nothing < gained - 1e-9:
                sensitive = True
            within = self.score(give(f"xx {name.value} xx")) - nothing >= gained - 1e-9
            answers[key] = TextAnswer(text=name.value, match="contains" if within else "exact")
            raw[key] = gained
            best = max(best, gained)
        for key, answer in answers.items():
            answer.weight = max(-1.0, min(1.0, round(raw[key] / best, 6))) if best > 0 else 0.0
        if not sensitive:
            answers = {folded(k, case=False): a for k, a in reversed(list(answers.items()))}
            answers = dict(reversed(list(answers.items())))
        return list(answers.values()), sensitive, best

    def _pattern(
        self,
        pattern: str,
        give: Callable[[str], Responses],
        nothing: float,
        answers: dict[str, TextAnswer],
        raw: dict[str, float],
    ) -> bool:
        """A pattern earns what a text made to fit it earns; returns whether it minds the case."""
        # Whether case counts is a property of the item here, and no part of its patterns.
        plain = pattern.removeprefix(ANY_CASE)
        sample = text_that_fits(plain)
        if sample is None:
            self.note(MARKING_UNDECIDED, detail=f"the pattern “{pattern}”")
            return False
        gained = self.score(give(sample)) - nothing
        if gained > 0 and plain not in answers:
            answers[plain], raw[plain] = TextAnswer(text=plain, match="regex"), gained
        return gained > 0 and self.score(give(sample.swapcase())) - nothing < gained - 1e-9

    def numbers(
        self, response: Asked, give: Callable[[str], Responses], index: int | None = None
    ) -> tuple[list[NumericAnswer], float]:
        """Accepted intervals, found by probing every bound that the conditions name, and between and beyond them."""
        named = [n for n in self.processing.named if n.response == response.ident and (index is None or n.index in (index, None))]
        bounds = sorted({v for n in named if (v := parse_number(n.value)) is not None})
        if not bounds:
            return [], 0.0
        nothing = self.score(give("no number"))
        points = _probe_points(bounds)
        gains = [self.score(give(repr(p))) - nothing for p in points]
        best = max(gains, default=0.0)
        if best <= 0:
            return [], 0.0
        exact = {v for n in named if n.test == "varequal" and (v := parse_number(n.value)) is not None}
        if _leaves_out_a_bound(gains):
            self.note(BOUND_EXCLUDED)
        return list(_intervals(points, gains, best, exact)), best

    # Feedback

    def shown(self, responses: Responses) -> list[str]:
        return self.processing.run(responses).feedback


def _probe_points(bounds: Sequence[float]) -> list[float]:
    """The bounds, the middles between them, and one point beyond each end, in order."""
    reach = max(1.0, abs(bounds[0]), abs(bounds[-1]))
    points = [bounds[0] - reach]
    for a, b in itertools.pairwise(bounds):
        points += [a, (a + b) / 2]
    return [*points, bounds[-1], bounds[-1] + reach]


def _leaves_out_a_bound(gains: list[float]) -> bool:
    """Whether a bound (at an odd position) earns less than both or the only gaining side beside it."""
    return any(
        gains[i] < max(gains[i - 1], gains[i + 1]) - 1e-9 and min(gains[i - 1], gains[i + 1]) <= gains[i] + 1e-9
        for i in range(1, len(gains) - 1, 2)
    )


def _intervals(points: list[float], gains: list[float], best: float, exact: set[float]) -> Iterable[NumericAnswer]:
    """Runs of probe points with the same gain as intervals; a run that reaches an end is open there.

    Odd positions are bounds, even ones lie between: a run that starts or ends between two bounds ends at the bound next to it.
    """
    levels = sorted({gain for gain in gains if gain > 0}, reverse=True)
    for level in levels:
        for is_in, run in itertools.groupby(range(len(points)), key=lambda i: gains[i] >= level - 1e-9):
            run_list = list(run)
            if not is_in or not any(abs(gains[i] - level) < 1e-9 for i in run_list):
                continue
            first, last = run_list[0], run_list[-1]
            low = None if first == 0 else points[first] if first % 2 else points[first - 1]
            high = None if last == len(points) - 1 else points[last] if last % 2 else points[last + 1]
            yield _interval(low, high, round(level / best, 6), exact)


def _interval(low: float | None, high: float | None, weight: float, exact: set[float]) -> NumericAnswer:
    if low is not None and high is not None:
        centre = next((v for v in exact if low <= v <= high and abs((v - low) - (high - v)) <= 1e-9 * max(1, abs(v))), None)
        if centre is not None:
            return NumericAnswer(value=centre, tolerance=round((high - low) / 2, 12), weight=weight)
    return NumericAnswer(min=low, max=high, weight=weight)


def choice_weights(scores: Sequence[float], nothing: float = 0.0) -> tuple[list[float], float]:
    """The weights (-1 to 1) of the choices of a blank by the scores of each pick, and what the best one earns more than no pick."""
    best = max([score - nothing for score in scores] + [0.0])
    return [max(-1.0, round((score - nothing) / best, 6)) if best else 0.0 for score in scores], best


def shares(gains: Sequence[float]) -> list[float]:
    """The shares of blanks by what each earns; equal ones where none earns anything alone."""
    total = sum(gains)
    return [round(gain / total, 6) if total > 0 else round(1 / len(gains), 6) for gain in gains]
