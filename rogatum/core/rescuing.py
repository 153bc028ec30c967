"""Writing what can be written: one item or one picture that a writer fails on does not keep the rest from being written."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from dataclasses import replace

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats import Written
from rogatum.core.items import Bank, Item
from rogatum.core.sources import MediaBox
from rogatum.core.sources.pictures import is_whole

log = logging.getLogger(__name__)
Write = Callable[[Bank, MediaBox], Written]
# How many items may be left out before it is the writer that is at fault, and not the items.
MOST_LEFT_OUT = 200


def written_without_damage(bank: Bank, media: MediaBox, write: Write, admitted: Callable[[MediaBox], Bank]) -> Written:
    """Writes a bank; where that fails, without its damaged pictures, and where that fails too, without the items that it fails on.

    `admitted` gives the bank as it is with fewer media. What is left out is named in the findings of what was written.
    """
    try:
        return write(bank, media)
    except MemoryError:
        raise
    except Exception:
        log.warning("a bank of %d items cannot be written whole", len(bank.items), exc_info=True)
    sound = _whole_ones(media)
    if len(sound.entries()) < len(media.entries()):
        bank, media = admitted(sound), sound
        if _goes(bank, media, write):
            return write(bank, media)
    failing = _failing(bank, bank.items, media, write)
    if len(failing) == len(bank.items) or len(failing) > MOST_LEFT_OUT:
        return write(bank, media)  # and fails as it must
    written = write(_without(bank, {item.id for item in failing}), media)
    return replace(written, findings=[*written.findings, *map(_left_out, failing)])


def _left_out(item: Item) -> Finding:
    return LEFT_OUT.at("", item.id, detail="Something in it cannot be written.")


def _whole_ones(media: MediaBox) -> MediaBox:
    kept = MediaBox()
    for entry in media.entries():
        with media.open(entry.ref) as stream:
            if is_whole(entry.type, stream.read()):
                kept.add_known(entry, lambda ref=entry.ref: media.open(ref))  # type: ignore[misc]
    return kept


def _goes(bank: Bank, media: MediaBox, write: Write) -> bool:
    try:
        write(bank, media)
    except MemoryError:
        raise
    except Exception:  # whatever it is, it is looked for item by item
        return False
    return True


def _failing(bank: Bank, items: Sequence[Item], media: MediaBox, write: Write) -> list[Item]:
    """The items that cannot be written, found by halves: few writings for few of them."""
    if _goes(_with(bank, items), media, write):
        return []
    if len(items) == 1:
        return list(items)
    half = len(items) // 2
    return [*_failing(bank, items[:half], media, write), *_failing(bank, items[half:], media, write)]


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
