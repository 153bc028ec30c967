"""A forecast is what happens: held against programs that are given the file and do what the sheet says."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from rogatum.core.exporting import Export, export_bank, room_of
from rogatum.core.fidelity import Ledger, compare
from rogatum.core.formats import format_named, writable_formats
from rogatum.core.formats.shared.base import EVERYTHING
from rogatum.core.items import Bank, Item, PoolEntry
from rogatum.core.quizzes.model import SETTINGS, Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import worth_on_items
from rogatum.core.receivers.forecast import forecast, types_taken
from rogatum.core.receivers.outlook import Forecast
from rogatum.core.receivers.repairs import FORMULAS, PICTURES, SHORTEN, offers_for, repaired
from rogatum.core.receivers.sheet import FEEDBACK_KINDS, TARGETS, Sheet
from rogatum.core.receivers.shipped import shipped_sheet, shipped_sheets
from rogatum.core.receivers.survey import Survey
from rogatum.standins.receiving import received
from tests.core.every_facet import every_facet
from tests.core.strategies import SETTINGS as SETTING_VALUES
from tests.core.strategies import banks, media_box

NAME = "harrow-vale-soils"
STEPS = ["Open it.", "Give it the file.", "Look."]
ALL = every_facet()
SURVEY = Survey(ALL)
# Making a failing bank smaller takes minutes, and what differs is told by item and facet anyway.
QUICK = (Phase.explicit, Phase.generate)


@cache
def exported(format_name: str) -> Export:
    return export_bank(ALL, media_box(), format_name)


def happened(bank: Bank, export: Export, sheet: Sheet, format_name: str) -> Ledger:
    """What was meant against what the program holds after it was given the file."""
    held = received(export.read_back, sheet, f"{NAME}{export.written.suffix}").bank
    partners = {entry.a: entry.b for entry in export.ledger.items if entry.a and entry.b}
    room = room_of(format_named(format_name), bank)
    return compare(worth_on_items(bank) if room.points_on_items else bank, held, {}, room, partners=partners)


def differing(told: Forecast, ledger: Ledger) -> list[str]:
    """Facets whose verdict was forecast as another than it became; each with its item and both verdicts."""
    became = {entry.a: entry for entry in ledger.items if entry.a}
    found = [
        f"{item.id} {facet}: {item.facets[facet]}, became {verdict}"
        for item in told.items
        for facet, verdict in became[item.id].facets.items()
        if item.facets[facet] != verdict
    ]
    found += [f"{item.id}: refused is {item.refused}" for item in told.items if item.refused != (not became[item.id].b)]
    quizzes = {entry.a: entry.facets for entry in ledger.quizzes if entry.a}
    found += [
        f"quiz {entry.a} {facet}: {verdict}, became {quizzes[entry.a][facet]}"
        for entry in told.quizzes
        for facet, verdict in entry.facets.items()
        if quizzes[entry.a][facet] != verdict
    ]
    return found


def held_to(bank: Bank, sheet: Sheet, format_name: str, versions: Mapping[str, Item] | None = None) -> list[str]:
    """Where what was forecast of a bank did not happen; of `versions`, that stand in the place of items, against these items."""
    survey = Survey(bank).replaced(versions or {})
    before = [item for item in bank.items if item.id in (versions or {})]
    export = export_bank(survey.bank, media_box(), format_name, before=before)
    return differing(forecast(survey.bank, sheet, format_name, survey, NAME), happened(bank, export, sheet, format_name))


@pytest.mark.parametrize("name", [entry.name for entry in writable_formats()])
def test_what_a_format_makes_of_every_facet_of_every_type_is_known_before_it_is_written(name):
    told = forecast(ALL, Sheet(name="all", title="All", formats=[{"name": name}], steps=STEPS), name, SURVEY)
    assert differing(told, exported(name).ledger) == []


@pytest.mark.parametrize(
    ("name", "format_name"), [(sheet.name, taken) for sheet in shipped_sheets() for taken in sheet.format_names()]
)
def test_the_matrix_of_receivers_types_and_facets_is_what_happens(name, format_name):
    sheet = shipped_sheet(name)
    told = forecast(ALL, sheet, format_name, SURVEY, NAME)
    assert {item.type for item in told.items} == {item.type for item in ALL.items}
    assert differing(told, happened(ALL, exported(format_name), sheet, format_name)) == []


def whole_quiz() -> Bank:
    """A quiz with fixed items, a draw, instructions, a page, points of its own, a passage, and each setting."""
    names = [item.id for item in ALL.items if item.id.endswith((":plain", ":passage"))]
    fixed, drawn = names[:6], names[6:]
    bank = ALL.model_copy(update={"items": [item for item in ALL.items if item.id in names], "pools": []})
    bank.pools = [PoolEntry(path=["Fixed"], items=fixed), PoolEntry(path=["Drawn"], items=drawn)]
    parts = [
        Part(id="p1", title="First", instructions="Pick <em>one</em>.", items=fixed, points_each=3.0),
        Part(id="p2", title="Then", draw=Draw(pool=["Drawn"], pick=2), points_each=2.0, page_break=True),
    ]
    said = {name: values[0] for name, values in SETTING_VALUES.items()}
    bank.quizzes = [Quiz(id="q1", title="Week 3", parts=parts, settings=Settings(**said))]
    return bank


@pytest.mark.parametrize(
    ("name", "format_name"), [(s.name, taken) for s in shipped_sheets() for taken in s.format_names() if format_named(taken).read]
)
def test_each_setting_of_a_quiz_and_its_draws_become_what_was_forecast(name, format_name):
    assert held_to(whole_quiz(), shipped_sheet(name), format_name) == []


def test_what_a_receiver_cannot_take_of_a_quiz_is_said_with_the_nearest_that_it_can():
    notes = {
        note.facet: note.message for note in forecast(whole_quiz(), shipped_sheet("written-numbers"), "qti-2.1").quizzes[0].notes
    }
    assert notes["draws"].startswith("Draws 2 of ") and "a fixed 2, drawn by the seed “written-numbers”" in notes["draws"]
    assert notes["access_code"].endswith("→ set it there by hand.") and "has none" in notes["pause"]


@st.composite
def sheets(draw) -> Sheet:
    """Any sheet that takes the model itself, so that all that is done is done by the receiver."""

    def either(*values: object) -> object:
        return draw(st.sampled_from(values))

    habit = ("takes", "takes", "drops")
    kept = draw(st.sets(st.sampled_from(sorted(TARGETS)), min_size=4))
    others = sorted(set(TARGETS) - kept)
    limit = st.none() | st.fixed_dictionaries({"most": st.integers(3, 40), "beyond": st.sampled_from(["refuses", "cuts"])})
    return Sheet.model_validate(
        {
            "name": "drawn",
            "title": "Drawn",
            "formats": [{"name": "items-json"}],
            "steps": STEPS,
            "types": {name: draw(st.sampled_from(["refuses", *(f"turns into {to}" for to in sorted(kept))])) for name in others},
            "content": {
                "formatting": either(*habit),
                "pictures": either(*habit),
                "alternative_texts": either(*habit),
                "formulas": either("as they are", "TeX", "pictures", "text"),
            },
            "marking": {"part_marks": either(*habit), "below_zero": either(*habit)},
            "points": {
                "points": either(*habit),
                "step": either(None, 0.5, 1),
                "scale": either(None, 10),
                "most": either(None, 5),
                "default": either(None, 1.0),
            },
            "feedback": {"takes": sorted(draw(st.sets(st.sampled_from(FEEDBACK_KINDS)))), "model_answers": either(*habit)},
            "labels": {
                "titles": either(*habit),
                "tags": either(*habit),
                "others": either(*habit),
                "outcomes": either("takes", "drops", "tags", "titles"),
            },
            "grouping": {
                "pools": either("takes", "joins names", "file name", "drops"),
                "nesting": either(None, 1, 2),
                # A passage that goes into the stem brings what later goes again: the matrix has that by itself.
                "passages": either("takes", "drops"),
            },
            "names": {"length": either(None, 5, 12), "without": either("", "/x")},
            "limits": {"stem": draw(limit), "choice": draw(limit), "choices": draw(limit)},
            "quiz": {
                "quizzes": either("takes", "takes", "takes", "drops"),
                "parts": either(*habit),
                "draws": either("takes", "a fixed draw", "all items"),
                "instructions": either(*habit),
                "page_breaks": either(*habit),
                "points": either(*habit),
                "settings": sorted(draw(st.sets(st.sampled_from(SETTINGS)))),
            },
        }
    )


@settings(max_examples=60, phases=QUICK)
@given(sheet=sheets(), bank=banks(EVERYTHING))
def test_any_sheet_does_to_any_items_what_was_forecast(sheet, bank):
    assert held_to(bank, sheet, "items-json") == []


TELLING = ("qti-1.2", "qti-2.1", "qti-3.0", "common-cartridge", "gift", "sheet")


@pytest.mark.parametrize("name", TELLING)
@settings(max_examples=25, phases=QUICK)
@given(data=st.data())
def test_what_a_format_does_to_any_items_was_forecast(name, data):
    bank = data.draw(banks(EVERYTHING))
    assert held_to(bank, Sheet(name="all", title="All", formats=[{"name": name}], steps=STEPS), name) == []


def versions_of(bank: Bank, sheet: Sheet, format_name: str) -> dict[str, Item]:
    """Each item as the first thing makes it that is offered for it, whether that is a repair or leaves it marked otherwise."""
    survey, taken = Survey(bank), types_taken(sheet, format_name)
    found = {}
    for item, told in zip(bank.items, forecast(bank, sheet, format_name, survey, NAME).items, strict=True):
        offers = [offer.name for offer in offers_for(item, told, sheet, taken) if offer.name not in (SHORTEN, FORMULAS, PICTURES)]
        if offers:
            found[item.id] = repaired(item, offers[0], sheet)
    return found


@settings(max_examples=40, phases=QUICK)
@given(sheet=sheets(), bank=banks(EVERYTHING))
def test_what_becomes_of_a_version_is_held_against_the_item_before_it(sheet, bank):
    assert held_to(bank, sheet, "items-json", versions_of(bank, sheet, "items-json")) == []


@pytest.mark.parametrize("name", [entry.name for entry in shipped_sheets()])
def test_every_version_for_every_receiver_is_held_against_the_item_before_it(name):
    sheet = shipped_sheet(name)
    for format_name in sheet.format_names():
        assert held_to(ALL, sheet, format_name, versions_of(ALL, sheet, format_name)) == []
