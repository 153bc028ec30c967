"""Writing what can be written: one item or one picture that a writer fails on does not keep the rest from being written."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats import Written
from rogatum.core.items import Bank, Item
from rogatum.core.sources import MediaBox
from rogatum.core.sources.pictures import is_whole

log = logging.getLogger(__name__)
Write = Callable[[Bank, MediaBox], Written]
# How often it is tried before it is the writer that is at fault, and not some of the items.
MOST_TRIES = 200


def written_without_damage(bank: Bank, media: MediaBox, write: Write, admitted: Callable[[MediaBox], Bank]) -> Written:
    """Writes a bank; where that fails, without its damaged pictures, and where that fails too, without the items that it fails on.

    `admitted` gives the bank as it is with fewer media. What is left out is named in the findings of what was written. Where it is
    not some items that are at fault, what the writer raised is raised.
    """
    try:
        return write(bank, media)
    except MemoryError:
        raise
    except Exception as error:
        log.warning("a bank of %d items cannot be written whole", len(bank.items), exc_info=True)
        written = _rescued(bank, media, write, admitted)
        if written is None:
            raise error
        return written


def _rescued(bank: Bank, media: MediaBox, write: Write, admitted: Callable[[MediaBox], Bank]) -> Written | None:
    sound = _whole_ones(media)
    if len(sound.entries()) < len(media.entries()):
        bank, media = admitted(sound), sound
        if written := _tried(bank, media, write):
            return written
    failing = _Search(bank, media, write).failing(bank.items)
    if failing is None or len(failing) == len(bank.items):
        return None
    written = _tried(_without(bank, {item.id for item in failing}), media, write)
    return written and replace(written, findings=[*written.findings, *map(_left_out, failing)])


def _left_out(item: Item) -> Finding:
    return LEFT_OUT.at("", item.id, detail="Something in it cannot be written.")


def _whole_ones(media: MediaBox) -> MediaBox:
    kept = MediaBox()
    for entry in media.entries():
        with media.open(entry.ref) as stream:
            if is_whole(entry.type, stream.read()):
                kept.add_known(entry, lambda ref=entry.ref: media.open(ref))  # type: ignore[misc]
    return kept


def _tried(bank: Bank, media: MediaBox, write: Write) -> Written | None:
    """What was written; None where that failed, however."""
    try:
        return write(bank, media)
    except MemoryError:
        raise
    except Exception:  # whatever it is, it is looked for item by item
        return None


@dataclass
class _Search:
    """Looks for the items that cannot be written, by halves: few writings for few of them."""

    bank: Bank
    media: MediaBox
    write: Write
    tries: int = 0

    def failing(self, items: Sequence[Item]) -> list[Item] | None:
        """Those of some items that fail; None where they are so many that it is not they that are at fault."""
        self.tries += 1
        if self.tries > MOST_TRIES:
            return None
        if _tried(_with(self.bank, items), self.media, self.write):
            return []
        if len(items) <= 1:
            return list(items)
        half = len(items) // 2
        found = [self.failing(items[:half]), self.failing(items[half:])]
        return None if None in found else [item for part in found for item in part or ()]


def _with(bank: Bank, items: Sequence[Item]) -> Bank:
    """A bank of some items alone, without its quizzes."""
    return bank.model_copy(update={"items": list(items), "quizzes": []})


def _without(bank: Bank, gone: set[str]) -> Bank:
    """The bank without some items, in its quizzes too."""
    quizzes = [
        quiz.model_copy(
            update={"parts": [p.model_copy(update={"items": [key for key in p.items if key not in gone]}) for p in quiz.parts]}
        )
        for quiz in bank.quizzes
    ]
    return bank.model_copy(update={"items": [item for item in bank.items if item.id not in gone], "quizzes": quizzes})
