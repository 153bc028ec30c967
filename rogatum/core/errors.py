"""The errors of the core. Everything else about a source is a finding, not an exception."""


class RogatumError(Exception):
    """Base of all errors that Rogatum raises on purpose."""


class UnreadableSource(RogatumError):
    """A source cannot be read at all.

    `what` says what the source seems to be, `why` why it cannot be read, `way_out` what the person can do.
    """

    def __init__(self, what: str, why: str, way_out: str) -> None:
        super().__init__(f"{what}: {why} {way_out}")
        self.what, self.why, self.way_out = what, why, way_out


class KeysAlone(UnreadableSource):
    """A document that holds nothing but keys. `lines` are those that hold them, as (number, text); `count` how many keys."""

    def __init__(self, name: str, lines: list[tuple[int, str]], count: int) -> None:
        super().__init__(
            f"{name} is a list of {count} keys", "It holds no questions.", "Join it to its test, or drop both in one folder."
        )
        self.lines, self.count = lines, count


class QuizRefused(RogatumError):
    """A change that no quiz can take: `fact` says why, `way_out` what to do."""

    def __init__(self, fact: str, way_out: str) -> None:
        super().__init__(f"{fact} {way_out}")
        self.fact, self.way_out = fact, way_out


class InQuizAlready(QuizRefused):
    """Items that the quiz has, all of them."""


class NotInQuiz(QuizRefused):
    """A part that the quiz does not have, or no longer."""


class NotNow(QuizRefused):
    """What the rules of a quiz do not allow its student at this time, or in this order."""


class NoSuchKey(RogatumError):
    """A key that an item cannot have."""


class NoSuchType(RogatumError):
    """A type that an item cannot be made into."""


class NoSuchForm(RogatumError):
    """A number that has no other form than the one it is in."""


class NothingToMend(RogatumError):
    """A repair that cannot be understood as it was put, or that would change nothing: `fact` says why, `way_out` what to do."""

    def __init__(self, fact: str, way_out: str) -> None:
        super().__init__(f"{fact} {way_out}")
        self.fact, self.way_out = fact, way_out


class UnknownFormat(RogatumError):
    """A format name that the registry does not have, or that cannot do what is asked."""

    def __init__(self, name: str, known: list[str]) -> None:
        super().__init__(f"There is no format “{name}” for this. Known: {', '.join(known)}.")
        self.name, self.known = name, known


class UnknownReceiver(RogatumError):
    """A receiver that nobody has a sheet of; `known` are the names that there are."""

    def __init__(self, name: str, known: list[str]) -> None:
        super().__init__(f"There is no receiver “{name}”. Choose one of: {', '.join(known)}.")
        self.known = known
