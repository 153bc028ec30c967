"""The way out: a bank to a format, with the ledger of what was meant against what was read back."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from rogatum.core.admission import admit
from rogatum.core.errors import UnreadableSource
from rogatum.core.fidelity import Ledger, Origin, Room, compare
from rogatum.core.fidelity.matching import match_items
from rogatum.core.finding import Finding
from rogatum.core.findings.contents import MEDIA_MISSING
from rogatum.core.formats import Format, Written, format_named, writable_formats
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions
from rogatum.core.items import Bank, Item, Preserved, parts
from rogatum.core.quizzes.paper import USUAL_SEED, has_draws, on_any
from rogatum.core.quizzes.worth import with_order_of_quizzes, worth_on_items
from rogatum.core.rescuing import written_without_damage
from rogatum.core.sources import MediaBox, SourceTree, open_bytes


@dataclass(frozen=True)
class Export:
    """A written bank with the ledger of what was meant against what was read back."""

    written: Written
    ledger: Ledger
    read_back: Bank


def _as_shown(bank: Bank, entry: Format, left_out: set[str]) -> Bank:
    """What a format that nobody reads back shows of a bank, by what it says that it carries."""
    lacks: dict[str, object] = {} if entry.carries.metadata else {"metadata": {}}
    if not entry.carries.feedback:
        lacks |= {"feedback": {}}
    if not entry.carries.titles:
        lacks |= {"title": ""}
    items = []
    for item in bank.items:
        if item.id in left_out:
            continue
        shown = item.model_copy(update=lacks, deep=True)
        items.append(parts.without_feedback(shown, {"choice", "answer"} - entry.carries.feedback))
    return bank.model_copy(update={"items": items})


def _read_back(entry: Format, tree: SourceTree) -> Bank:
    """What was written, read; where nothing could be written there is nothing to read."""
    assert entry.read is not None
    try:
        return entry.read(tree).bank
    except UnreadableSource:
        return Bank()


def _must_be_offered(entry: Format, options: WriteOptions) -> None:
    if options.copy not in entry.copies or options.versions > entry.most_versions:
        raise UnreadableSource(entry.label, "It is not written so.", f"Choose one of: {', '.join(entry.copies)}.")


def _write(entry: Format, bank: Bank, media: MediaBox, options: WriteOptions) -> Written:
    assert entry.write is not None
    return entry.write(bank, media, options)


def _with_media(bank: Bank, media: MediaBox) -> Bank:
    """The bank as it is with fewer pictures: those that it names and that are not there are missing."""
    stimuli = [stimulus.model_copy() for stimulus in bank.stimuli]
    refs = {entry.ref for entry in media.entries()}
    fewer = bank.model_copy(
        update={"items": list(bank.items), "stimuli": stimuli, "media": [entry for entry in bank.media if entry.ref in refs]}
    )
    admit(fewer, refs)
    return fewer


def _told(ledger: Ledger, missing: list[Finding]) -> Ledger:
    """The ledger with the pictures that were not there to be written."""
    if missing:
        ledger.tell_lost((finding.item, "media", finding.code, finding.message) for finding in missing)
    return ledger


def room_of(entry: Format, bank: Bank) -> Room:
    """What the ledger has to know of a format: for what it has no place."""
    carries = entry.carries
    return Room(
        entry.label,
        quizzes=carries.quizzes,
        draws=carries.draws,
        parts=carries.parts,
        pools=carries.pools and (carries.pools_beside_quizzes or not bank.quizzes),
        instructions=carries.instructions,
        pages=carries.page_breaks,
        settings=carries.settings,
        points_on_items=carries.points and not carries.weights,
        points_by_place=carries.weights_by_place,
        printed=carries.printed,
    )


def export_bank(
    bank: Bank, media: MediaBox, format_name: str, options: WriteOptions = TEACHERS_COPY, before: Iterable[Item] = ()
) -> Export:
    """Writes a bank, reads it back and compares. Raises UnknownFormat for a format that is not written.

    `before` are items as they were before they were written otherwise for whom this is: the ledger is held against these.
    """
    entry = format_named(format_name)
    if entry.write is None:
        format_named_for_writing = [e.name for e in writable_formats()]
        raise UnreadableSource(f"{entry.label}", "It is read but not written.", f"Choose {', '.join(format_named_for_writing)}.")
    # What lies in a store may be older than the gate, and a bank may come from anywhere.
    stimuli = [stimulus.model_copy() for stimulus in bank.stimuli]
    bank = bank.model_copy(update={"items": list(bank.items), "stimuli": stimuli, "findings": list(bank.findings)})
    found = len(bank.findings)
    admit(bank, {entry.ref for entry in media.entries()})
    room = room_of(entry, bank)
    known = {item.id: item for item in before}
    meant = bank.model_copy(update={"items": [known.get(item.id, item) for item in bank.items]})
    if room.points_on_items:
        bank, meant = worth_on_items(bank), worth_on_items(meant)
    if entry.carries.order_by_items:
        bank = with_order_of_quizzes(bank)
    _must_be_offered(entry, options)
    written = written_without_damage(
        bank, media, lambda some, held: _write(entry, some, held, options), lambda held: _with_media(bank, held)
    )
    missing = [finding for finding in bank.findings[found:] if finding.code == MEDIA_MISSING.code]
    if written.sets:
        room = replace(room, drawn=_drawn_words(bank, options))
        meant, bank = on_any(meant, written.sets, unsaid=None), on_any(bank, written.sets)
    reasons = {finding.item: finding.message for finding in written.findings if finding.item}
    if entry.read is None:
        shown = _as_shown(bank, entry, set(reasons))
        ledger = compare(meant, shown, reasons, room, partners=_partners(bank, shown) if known else None)
        return Export(written, _told(ledger, missing), shown)
    if not written.data.strip():
        return Export(written, compare(meant, Bank(), reasons, room), Bank())
    origins = _origins(meant)
    tree = open_bytes(written.data, f"export{written.suffix}")
    read_back = _read_back(entry, tree)
    ledger = compare(meant, read_back, reasons, room, origins, _partners(bank, read_back) if known else None)
    return Export(written, _told(ledger, missing), read_back)


def _drawn_words(bank: Bank, options: WriteOptions) -> str:
    """What was drawn for papers; nothing where all that is drawn from stands there."""
    if options.draws == "stock" or not has_draws(bank):
        return ""
    sets = "One set was drawn" if options.versions == 1 else "One set was drawn for each version"
    return f"{sets}, with seed {options.seed or USUAL_SEED}."


def _partners(bank: Bank, read_back: Bank) -> dict[str, str]:
    """Which item of what was read back is which of what was written: the one that it was before may read quite otherwise."""
    return {a.id: b.id for a, b in match_items(bank, read_back).pairs}


def _origins(bank: Bank) -> dict[str, Origin]:
    """How items were marked where they came from, read anew from their own markup, for those that could not hold it."""
    found = {}
    for item in bank.items:
        if not item.original or isinstance(item, Preserved):
            continue
        entry = format_named(item.original_format)
        try:
            reading = entry.read(open_bytes(item.original.encode(), "original.xml")) if entry.read else None
        except UnreadableSource:
            continue
        if reading is not None and len(reading.bank.items) == 1 and reading.markings:
            found[item.id] = Origin(reading.bank.items[0], next(iter(reading.markings.values())))
    return found
