"""A quiz tried as a student: attempts under its rules, one after another, on a clock that may be set ahead."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import Literal

from pydantic import BaseModel, Field

from rogatum.core.errors import NotNow
from rogatum.core.quizzes.attempt import Given
from rogatum.core.quizzes.marking import Response
from rogatum.core.quizzes.settings import Settings, Time
from rogatum.core.quizzes.terms import Attempt, Deadline, End, Terms, deadline_of, refusal_of, terms_for


class Sitting(BaseModel):
    """One attempt: what it gives, what was answered so far, the page it is at, and how it ended."""

    seed: str
    given: list[Given]
    started: Time
    submitted: Time | None = None
    ended: End = ""
    page: int = 0
    furthest: int = 0
    responses: dict[str, Response] = Field(default_factory=dict)

    @property
    def times(self) -> Attempt:
        return Attempt(self.started, self.submitted, self.ended)


class Trial(BaseModel):
    """Somebody's trial of a quiz: as whom, on which clock, with which attempts so far.

    `ahead` is seconds before the real time; `used` looks at it as if all attempts were used.
    """

    section: str = ""
    student: str = ""
    ahead: float = 0.0
    used: bool = False
    sittings: list[Sitting] = Field(default_factory=list)

    def now(self, real: datetime) -> datetime:
        return real + timedelta(seconds=self.ahead)

    def terms(self, settings: Settings) -> Terms:
        return terms_for(settings, self.section, self.student)

    @property
    def open(self) -> Sitting | None:
        """The attempt that goes on, which is the last."""
        last = self.sittings[-1] if self.sittings else None
        return last if last and last.submitted is None else None

    def with_last(self, sitting: Sitting) -> Trial:
        return self.model_copy(update={"sittings": [*self.sittings[:-1], sitting]})

    @property
    def attempts(self) -> list[Attempt]:
        return [sitting.times for sitting in self.sittings]


# To when the clock of a trial can be set.
Clock = Literal["now", "before opening", "open", "late", "after the last attempt", "after closing"]


def with_clock(trial: Trial, settings: Settings, clock: Clock, real: datetime) -> Trial:
    """The trial at another time. Raises NotNow for one that the quiz does not say."""
    moment = _moment(clock, trial.terms(settings), real)
    if moment is None:
        raise NotNow("The quiz does not say when that is.", "Set its dates, or try it now.")
    return trial.model_copy(update={"ahead": (moment - real).total_seconds(), "used": clock == "after the last attempt"})


def _moment(clock: Clock, terms: Terms, real: datetime) -> datetime | None:
    moments: dict[Clock, datetime | None] = {
        "now": real,
        "before opening": terms.opens and terms.opens - timedelta(hours=1),
        "open": _while_open(terms, real),
        "late": terms.due and terms.due + timedelta(minutes=5),
        "after the last attempt": _while_open(terms, real),
        "after closing": terms.closes and terms.closes + timedelta(minutes=5),
    }
    return moments[clock]


def _while_open(terms: Terms, real: datetime) -> datetime:
    """A moment at which the quiz is open: now, or else soon after it opens, or before it closes."""
    if terms.state(real) in ("open", "late"):
        return real
    if terms.opens:
        return terms.opens + timedelta(minutes=1)
    return terms.closes - timedelta(hours=1) if terms.closes else real


MOST_SITTINGS = 30
LONGEST_ANSWER = 200_000


def caught_up(trial: Trial, settings: Settings, real: datetime) -> Trial:
    """The trial as it stands now: an attempt that ended by itself since is handed in as it was."""
    sitting, now = trial.open, trial.now(real)
    end = deadline(trial, settings)
    if sitting is None or end is None or now < end.at:
        return trial
    return trial.with_last(_ended(sitting, max(end.at, sitting.started), end.ends))


def deadline(trial: Trial, settings: Settings) -> Deadline | None:
    """When the attempt that goes on ends by itself."""
    return deadline_of(settings, trial.terms(settings), trial.open.started) if trial.open else None


def come_back(trial: Trial, settings: Settings, real: datetime) -> Trial:
    """The trial after its page was left and opened again, which ends an attempt that is to be made in one sitting."""
    trial = caught_up(trial, settings, real)
    if trial.open and settings.one_sitting:
        return trial.with_last(_ended(trial.open, trial.now(real), "left"))
    return trial


def begun(trial: Trial, settings: Settings, real: datetime, code: str, seed: str, given: Sequence[Given]) -> Trial:
    """The trial with a new attempt. Raises NotNow where none may begin."""
    now = trial.now(real)
    if trial.open:
        raise NotNow("An attempt is going on.", "Go on with it, or hand it in.")
    refusal = refusal_of(settings, trial.terms(settings), trial.attempts, now, trial.used)
    if refusal:
        raise NotNow(refusal.fact, "Set the clock to another time, or try it as another student.")
    if settings.access_code and code.strip() != settings.access_code.strip():
        raise NotNow("This is not the access code.", "Look at how it is written in the settings.")
    if not given:
        raise NotNow("This quiz has no items yet.", "Add fixed items or a draw.")
    if len(trial.sittings) >= MOST_SITTINGS:
        raise NotNow(f"{MOST_SITTINGS} attempts are kept of a trial.", "Begin the trial anew.")
    return trial.model_copy(update={"sittings": [*trial.sittings, Sitting(seed=seed, given=list(given), started=now)]})


def answered(
    trial: Trial, settings: Settings, pages: Sequence[Sequence[int]], real: datetime, responses: Mapping[str, Response]
) -> Trial:
    """The trial with responses as they are given. Those to items that cannot be reached any more are refused.

    Raises NotNow where no attempt goes on.
    """
    sitting = _going_on(caught_up(trial, settings, real))
    reachable = {
        sitting.given[place].item for number, page in enumerate(pages) for place in page if _may_see(sitting, settings, number)
    }
    if responses.keys() - reachable:
        raise NotNow("This item cannot be answered now.", "Answer what is shown.")
    if sum(len(str(response)) for response in responses.values()) > LONGEST_ANSWER:
        raise NotNow("This answer is too long to be kept.", "Shorten it.")
    return trial.with_last(sitting.model_copy(update={"responses": {**sitting.responses, **responses}}))


def turned_to(trial: Trial, settings: Settings, pages: Sequence[Sequence[int]], real: datetime, page: int) -> Trial:
    """The trial at another page. Raises NotNow where the way there is not open."""
    sitting = _going_on(caught_up(trial, settings, real))
    if not 0 <= page < len(pages):
        raise NotNow("There is no such page.", "Go on from the one that is shown.")
    forward = page > sitting.page
    if not forward and not _may_see(sitting, settings, page):
        raise NotNow("There is no way back in this quiz.", "Go on to the next.")
    if settings.navigation == "in order" and page > sitting.page + 1:
        raise NotNow("This quiz goes one after the other.", "Go on to the next.")
    left = unanswered(sitting, pages[sitting.page])
    if forward and settings.skipping is False and left:
        raise NotNow("This quiz wants an answer before it goes on.", "Answer what is shown.")
    return trial.with_last(sitting.model_copy(update={"page": page, "furthest": max(page, sitting.furthest)}))


def _may_see(sitting: Sitting, settings: Settings, page: int) -> bool:
    """Whether a page can be turned to, or answered."""
    if settings.submission == "item by item" and page < sitting.furthest:
        return False
    return settings.navigation != "in order" or page == sitting.page


def handed_in(trial: Trial, settings: Settings, real: datetime) -> Trial:
    """The trial with its attempt submitted. Raises NotNow where none goes on, or something has to be answered first."""
    sitting = _going_on(caught_up(trial, settings, real))
    if settings.skipping is False and unanswered(sitting, range(len(sitting.given))):
        raise NotNow("This quiz wants an answer to each item.", "Answer what is left.")
    return trial.with_last(_ended(sitting, trial.now(real), "handed in"))


def _going_on(trial: Trial) -> Sitting:
    if trial.open is None:
        raise NotNow("This attempt has ended.", "Begin another one.")
    return trial.open


def _ended(sitting: Sitting, at: datetime, ended: End) -> Sitting:
    return sitting.model_copy(update={"submitted": at, "ended": ended})


def unanswered(sitting: Sitting, places: Sequence[int]) -> list[int]:
    """The places of questions that have no answer yet."""
    return [place for place in places if sitting.given[place].asks and not sitting.responses.get(sitting.given[place].item)]
