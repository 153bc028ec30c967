"""The settings in plain words, as one would tell a class: what each student gets, when, how, and what is shown of it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, tzinfo

from rogatum.core.quizzes.catalogue import Catalogue
from rogatum.core.quizzes.figures import given_parts
from rogatum.core.quizzes.model import Quiz
from rogatum.core.quizzes.phrases import count_words, listed, minutes_words, moment_words
from rogatum.core.quizzes.settings import ANY_NUMBER, RELEASED, Release, Settings, StudentException, Window
from rogatum.core.quizzes.terms import USUAL_COUNTS, Refusal, Terms, release_of

_TIMES = {1: "once", 2: "twice"}
_COUNTS = {
    "best": "the best one counts",
    "last": "the last one counts",
    "first": "the first one counts",
    "average": "their average counts",
}
_SHOWN = {"all at once": "all at once", "by parts": "part by part", "one at a time": "one at a time"}
_TIME_UP = {
    "handed in": "When time is up, what is there is handed in.",
    "refused": "What is not handed in when time is up does not count.",
    "may go on": "When time is up, a student may go on; how long is noted.",
}
# What is shown, as the subject of a sentence.
RELEASED_WORDS: dict[str, str] = {
    "show_marks": "marks",
    "show_responses": "their own answers",
    "show_right": "which were right",
    "show_key": "the key",
    "show_feedback": "feedback",
}
_WHEN = {
    "on submitting": "as soon as it is handed in",
    "after the last attempt": "after the last attempt",
    "after closing": "after closing",
}


@dataclass(frozen=True)
class Told:
    """Sentences about one matter: “what”, “when”, “how”, “afterwards”."""

    matter: str
    sentences: list[str]


def in_words(quiz: Quiz, catalogue: Catalogue, zone: tzinfo) -> list[Told]:
    """The settings of a quiz in words; times as the course's clocks show them."""
    settings = quiz.settings
    matters: dict[str, Iterable[str]] = {
        "What": [_what(quiz, catalogue), *_code(settings)],
        "When": [*_when(settings, zone), *_others(settings, zone)],
        "How": [*_how(settings), *_own_orders(quiz, catalogue)],
        "Afterwards": _afterwards(settings, zone),
    }
    return [Told(matter, sentences) for matter, said in matters.items() if (sentences := list(said))]


def _what(quiz: Quiz, catalogue: Catalogue) -> str:
    given = given_parts(quiz, catalogue)
    count, held = sum(part.count for part in given), sum(part.held for part in given)
    if not count:
        return "There are no items in it yet."
    items = count_words(count, "item") if held == count else f"{count} of {count_words(held, 'item')}"
    said = ["gets " + items]
    settings = quiz.settings
    if settings.shown and settings.shown != "all at once":
        said.append(_SHOWN[settings.shown])
    if settings.navigation == "in order":
        said.append("without a way back")
    if settings.time_limit:
        said.append(minutes_words(settings.time_limit))
    said.append(_attempts(settings))
    return f"Each student {', '.join(said)}."


def _attempts(settings: Settings) -> str:
    attempts = 1 if settings.attempts is None else settings.attempts
    if attempts == ANY_NUMBER:
        return "as often as they like"
    return _TIMES.get(attempts, f"{attempts} times")


def _code(settings: Settings) -> Iterator[str]:
    if settings.access_code:
        yield f"It opens with the code “{settings.access_code}”."


def _when(settings: Settings, zone: tzinfo) -> Iterator[str]:
    said = _window(settings, zone)
    yield f"It {said}." if said else "It is open at any time."
    if settings.due:
        yield _LATE[settings.late].format(cost=(settings.late_deduction or 0) * 100)


_LATE: dict[str | None, str] = {
    None: "What happens to late work is not set; it is taken.",
    "taken": "Late work is taken.",
    "refused": "Late work is not taken.",
    "with a deduction": "Each late day costs {cost:g} % of the marks.",
}


def _window(window: Window, zone: tzinfo) -> str:
    words = {"opens": "opens", "due": "is due", "closes": "closes"}
    said = [f"{verb} {moment_words(moment, zone)}" for name, verb in words.items() if (moment := getattr(window, name))]
    return listed(said)


def _others(settings: Settings, zone: tzinfo) -> Iterator[str]:
    for dates in settings.sections or []:
        said = _window(dates, zone)
        yield f"For section {dates.section} it {said}." if said else f"Section {dates.section} has the same dates."
    for own in settings.exceptions or []:
        yield f"{own.student} {_exception(own, settings, zone)}."


def _exception(own: StudentException, settings: Settings, zone: tzinfo) -> str:
    said = []
    if own.time_factor and settings.time_limit:
        said.append(f"has {minutes_words(settings.time_limit * own.time_factor)}")
    elif own.time_factor:
        said.append(f"has {own.time_factor:g} times as long")
    if own.attempts is not None:
        said.append("may try " + _attempts(Settings(attempts=own.attempts)))
    window = _window(own, zone)
    if window:
        said.append(f"has dates of their own: it {window}")
    return listed(said) or "is named as an exception, with nothing that is otherwise"


def _how(settings: Settings) -> Iterator[str]:
    attempts = 1 if settings.attempts is None else settings.attempts
    if attempts != 1:
        yield f"Of several attempts, {_COUNTS[settings.counts or USUAL_COUNTS]}."
    if settings.pause and attempts != 1:
        yield f"Between two attempts lie {minutes_words(settings.pause)} at least."
    if settings.time_limit:
        yield _TIME_UP[settings.time_up or "handed in"]
    if settings.one_sitting:
        yield "It is made in one sitting: leaving it, or losing the connection, hands it in."
    if settings.skipping is False:
        yield "Each item wants an answer."
    if settings.submission == "item by item":
        yield "Each answer is final once the student goes on."
    yield from _orders(settings)
    if settings.out_of:
        yield f"The gradebook shows it out of {settings.out_of:g}."


def _orders(settings: Settings) -> Iterator[str]:
    names = {"shuffle_parts": "parts", "shuffle_items": "items", "shuffle_choices": "choices"}
    mixed = [word for name, word in names.items() if getattr(settings, name)]
    if mixed:
        said = listed(mixed)
        yield f"{said[0].upper()}{said[1:]} come in an order of each student's own."


def _own_orders(quiz: Quiz, catalogue: Catalogue) -> Iterator[str]:
    """What of the order of choices its items say otherwise."""
    shuffled = quiz.settings.shuffle_choices
    count = 0 if shuffled is None else catalogue.overriding(quiz.parts, shuffled)
    if count:
        kept = "stay in order" if shuffled else "are shuffled"
        yield f"The choices of {count_words(count, 'item')} {kept}, whatever the quiz says: the items set that themselves."


def _afterwards(settings: Settings, zone: tzinfo) -> Iterator[str]:
    groups: dict[str, list[str]] = {}
    for name in RELEASED:
        groups.setdefault(_released(release_of(settings, name), zone), []).append(RELEASED_WORDS[name])
    never = groups.pop("", [])
    for when, things in groups.items():
        yield f"Students see {listed(things)} {when}."
    if len(never) == len(RELEASED):
        yield "Students are shown nothing of the result."
    elif never:
        said = listed(never)
        yield f"{said[0].upper()}{said[1:]} {'is' if never == ['the key'] or never == ['feedback'] else 'are'} never shown."


def _released(release: Release, zone: tzinfo) -> str:
    return f"from {moment_words(release, zone)} on" if isinstance(release, datetime) else _WHEN.get(release, "")


def student_rules(quiz: Quiz, catalogue: Catalogue, terms: Terms, zone: tzinfo) -> list[str]:
    """What a student is told before an attempt, by the rules that hold for them."""
    settings = quiz.settings
    own = settings.model_copy(update={"time_limit": terms.time_limit, "attempts": terms.attempts})
    count = sum(part.count for part in given_parts(quiz, catalogue))
    window = _window(Window(opens=terms.opens, due=terms.due, closes=terms.closes), zone)
    said = [f"It has {count_words(count, 'item')}."]
    if terms.time_limit:
        said.append(f"You have {minutes_words(terms.time_limit)}.")
    said.append(f"You may take it {_attempts(own)}.")
    if window:
        said.append(f"It {window}.")
    if settings.shown and settings.shown != "all at once":
        said.append(f"Items come {_SHOWN[settings.shown]}{', without a way back' if settings.navigation == 'in order' else ''}.")
    return [*said, *(sentence for sentence in _how(own) if "gradebook" not in sentence)]


def refusal_words(refusal: Refusal | None, zone: tzinfo) -> str:
    """Why no attempt may begin, as its student is told; nothing where one may."""
    if refusal is None or refusal.at is None:
        return refusal.fact if refusal else ""
    return f"{refusal.fact} {refusal.then} {moment_words(refusal.at, zone)}."


def counts_words(settings: Settings, terms: Terms) -> str:
    """Which of several attempts counts; nothing where there is one."""
    return "" if terms.attempts == 1 else _COUNTS[settings.counts or USUAL_COUNTS]


def heading(told: Sequence[Told]) -> str:
    """The whole in one line, for lists."""
    return " ".join(told[0].sentences[:1]) if told else ""
