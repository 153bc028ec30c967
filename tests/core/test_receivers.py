"""Sheets, what is turned and shortened for receivers, and what the command line tells of them."""

from __future__ import annotations

import io
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from rogatum.cli import main
from rogatum.core.errors import UnknownReceiver, UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.formats import writable_formats
from rogatum.core.formats.print.formula_pictures import formula_pictures
from rogatum.core.items import Bank, Choice, FillIn, Media, MultipleChoice, Numeric, NumericAnswer, Ordering, PoolEntry, TrueFalse
from rogatum.core.items.coarser import cut_to, name_cut_to, without_formatting
from rogatum.core.items.content import formula_from_tex, formula_picture, plain_text
from rogatum.core.quizzes.carrying import as_of_section
from rogatum.core.quizzes.marking import mark
from rogatum.core.quizzes.model import Quiz, Settings
from rogatum.core.quizzes.settings import SectionDates, StudentException
from rogatum.core.receivers.by_format import reaction_of
from rogatum.core.receivers.choosing import best_format
from rogatum.core.receivers.features import Surroundings, features_of
from rogatum.core.receivers.forecast import forecast
from rogatum.core.receivers.repairs import offers_for, repaired
from rogatum.core.receivers.sheet import MOST_BYTES, Sheet, sheet_from_toml, sheet_to_toml
from rogatum.core.receivers.shipped import NAMES, shipped_sheet, shipped_sheets
from rogatum.core.receivers.survey import Survey
from rogatum.core.receivers.turning import forms_of, turn
from rogatum.core.sources import MediaBox
from rogatum.core.sources.pictures import smaller_picture
from rogatum.standins.program import main as stand_in
from tests.core.every_facet import every_facet

STEPS = ["Open it.", "Give it the file.", "Look."]


def sheet(**more) -> Sheet:
    return Sheet.model_validate({"name": "ours", "title": "Ours", "formats": [{"name": "items-json"}], "steps": STEPS} | more)


def bank(*items) -> Bank:
    return Bank(title="Soils", items=list(items), pools=[PoolEntry(path=["Soils"], items=[item.id for item in items])])


def test_ten_receivers_ship_the_live_board_and_paper_among_them():
    assert [entry.name for entry in shipped_sheets()] == list(NAMES) and len(NAMES) >= 8
    assert {entry.kind for entry in shipped_sheets()} == {"course platform", "live quiz board", "paper"}
    assert all(3 <= len(entry.steps) <= 6 and entry.about for entry in shipped_sheets())
    with pytest.raises(UnknownReceiver):
        shipped_sheet("nobody")


@pytest.mark.parametrize("entry", shipped_sheets(), ids=lambda entry: entry.name)
def test_a_sheet_comes_back_from_its_toml(entry):
    assert sheet_from_toml(sheet_to_toml(entry)) == entry


WRONG = {
    "no TOML": ("name = ", "no TOML"),
    "too much": ("# " + "x" * MOST_BYTES, "too large"),
    "no formats": ('name = "x"\ntitle = "X"\nsteps = ["a", "b", "c"]\nformats = []', "formats"),
    "another form": ('format = "rogatum-receiver/9"\nname = "x"\ntitle = "X"\nsteps = ["a", "b", "c"]', "format"),
    "a name with a path": ('name = "../x"\ntitle = "X"\nsteps = ["a", "b", "c"]\n[[formats]]\nname = "gift"', "name: use small"),
    "least above most": (
        'name = "x"\ntitle = "X"\nsteps = ["a", "b", "c"]\n[[formats]]\nname = "gift"\n[points]\nleast = 5\nmost = 1',
        "points.least: it is more than points.most",
    ),
}


@pytest.mark.parametrize("name", WRONG)
def test_what_is_wrong_is_told_at_its_field(name):
    text, words = WRONG[name]
    with pytest.raises(UnreadableSource, match=words):
        sheet_from_toml(text)


def test_an_excess_is_told_in_words():
    item = TrueFalse(id="i1", stem="x" * 112, answer=True, points=1)
    told = forecast(bank(item), sheet(limits={"stem": {"most": 95}}), "items-json").items[0]
    assert told.refused and told.notes[0].message == "Stem 112 of 95 characters, 17 too many."


def test_the_best_format_is_the_one_that_keeps_most_with_its_reason():
    items = [
        Ordering(id="i1", stem="Order them.", sequence=["a", "b"], points=1),
        TrueFalse(id="i2", stem="So?", answer=True, points=1),
    ]
    told, why = best_format(bank(*items), sheet(formats=[{"name": "gift"}, {"name": "qti-2.1"}]))
    assert told.format == "qti-2.1" and why == "GIFT refuses 1 item."


def test_an_item_written_otherwise_fits_and_is_held_against_what_it_was():
    items = [TrueFalse(id=f"i{n}", stem="x" * 50 * n, answer=True, points=1) for n in (1, 2, 3)]
    shorter = items[2].model_copy(update={"stem": "Short <em>now</em>.", "answer": False})
    limit = sheet(limits={"stem": {"most": 60}}, content={"formatting": "drops"})
    replaced = Survey(bank(*items)).replaced({"i3": shorter})
    told = forecast(replaced.bank, limit, "items-json", replaced).items
    assert [item.refused for item in told] == [False, True, False]
    facets = {facet: verdict for facet, verdict in told[2].facets.items() if verdict != "same"}
    assert facets == {"stem": "changed", "key": "changed", "marking": "changed"}
    assert {note.by for note in told[2].notes if note.facet == "key"} == {"version"}


# Turning


def test_a_number_becomes_the_texts_that_people_type_for_it():
    assert forms_of(NumericAnswer(value=1.3, tolerance=0.1)) == ["1.3", "1,3", "1.2", "1,2", "1.4", "1,4"]
    assert forms_of(NumericAnswer(value=7, tolerance=0), "g") == ["7", "7 g"]
    assert forms_of(NumericAnswer(min=1, max=10_000)) == []


@given(value=st.integers(-50, 50), places=st.integers(0, 2), steps=st.integers(0, 4))
def test_each_form_of_a_number_is_right_and_what_lies_beside_is_wrong(value, places, steps):
    step = 10**-places
    item = Numeric(id="n", stem="?", answers=[NumericAnswer(value=round(value * step, 2), tolerance=round(steps * step, 2))])
    made = turn(item, "fill_in").item
    assert isinstance(made, FillIn) and made.answers
    for answer in made.answers:
        assert mark(item, answer.text) == mark(made, answer.text) == 1.0
    beyond = f"{(value + steps + 1) * step:.{places}f}"
    assert mark(item, beyond) == mark(made, beyond) == 0.0


def test_an_order_turned_into_pairs_marks_alike_and_says_so():
    turned = turn(Ordering(id="o", stem="?", sequence=["rock", "grus", "sand"], scoring="per_part"), "matching")
    assert turned.item.type == "matching" and turned.item.scoring == "per_part"
    assert turn(TrueFalse(id="t", stem="?", answer=True), "essay").marks.words == "A person marks it there."


# Repairs


REPAIRS = {
    "outcomes-to-tags": ({"labels": {"outcomes": "drops"}}, lambda item: item.metadata == {"tag": ["wet", "2.1"]}),
    "outcomes-to-title": (
        {"labels": {"outcomes": "drops", "tags": "drops"}},
        lambda item: item.title == "[2.1] A title that is long",
    ),
    "cut-title": ({"names": {"length": 8}}, lambda item: item.title == "A title…"),
    "whole-points": ({"points": {"step": 1}}, lambda item: item.points == 3.0),
}


@pytest.mark.parametrize("name", REPAIRS)
def test_a_repair_is_offered_where_it_saves_something_and_saves_it(name):
    habits, saved = REPAIRS[name]
    metadata = {"outcome": ["2.1"], "tag": ["wet"]}
    item = TrueFalse(id="i1", stem="So?", answer=True, points=2.5, title="A title that is long", metadata=metadata)
    ours = sheet(**habits)
    told = forecast(bank(item), ours, "items-json").items[0]
    assert name in [offer.name for offer in offers_for(item, told, ours, {"true_false"})]
    made = repaired(item, name, ours)
    assert saved(made)
    again = forecast(bank(made), ours, "items-json").items[0]
    assert name not in [offer.name for offer in offers_for(made, again, ours, {"true_false"})]


def test_a_formula_that_is_a_picture_is_recast_and_is_found_again_in_the_ledger():
    tex = r"\frac{m}{V}"
    pictures = formula_pictures([tex, r"\nonsense{"])
    assert list(pictures) == [tex] and pictures[tex].startswith(b"\x89PNG")
    box = MediaBox()
    ref = box.add_bytes("formula.png", pictures[tex])
    before = MultipleChoice(
        id="i1", stem=f"What is {formula_from_tex(tex)}?", points=1, choices=[Choice(id="a", content="x", weight=1)]
    )
    after = before.model_copy(update={"stem": f"What is {formula_picture(ref, tex)}?"})
    held = bank(after)
    held.media = box.entries()
    for name in ("qti-2.1", "qti-1.2", "gift"):
        ledger = export_bank(held, box, name).ledger
        assert ledger.items[0].facets["stem"] == ledger.items[0].facets["media"] == "same", name


@pytest.mark.parametrize("mode", ["RGB", "RGBA", "P"])
def test_a_picture_is_made_smaller_or_it_is_said_that_it_cannot_be(mode):
    buffer = io.BytesIO()
    Image.effect_noise((400, 300), 90).convert("RGB").convert(mode).save(buffer, "PNG")
    data, kind = smaller_picture(buffer.getvalue(), 20_000)
    assert len(data) <= 20_000 < len(buffer.getvalue()) and kind in ("image/png", "image/jpeg")
    assert smaller_picture(buffer.getvalue(), 100) is None and smaller_picture(b"<svg/>", 20_000) is None


# Coarser


@given(
    content=st.sampled_from(["loam", "<em>all</em> of <strong>it</strong>", "a &amp; b &lt; c", "<p>one</p><p>two</p>"]),
    most=st.integers(2, 12),
)
def test_what_is_cut_is_as_long_as_it_may_be(content, most):
    cut = cut_to(content, most)
    assert len(plain_text(cut)) <= max(most, 0) or cut == content
    assert (cut == content) == (len(plain_text(content)) <= most)


def test_names_and_texts_made_plainer():
    assert name_cut_to("Soils/Texture & more", 10, "/&") == "Soils-Tex…"
    assert without_formatting("<p>A <em>b</em></p><ul><li>c</li></ul>") == "A b c"


# The command line and the stand-ins


@pytest.fixture
def source(tmp_path):
    path = tmp_path / "soils.txt"
    path.write_text("1. Which is it?\n*a. clay\nb. sand\n\n2. How much, in g?\nAnswer: 25 ± 0.5\n")
    return path


def test_the_command_line_tells_what_receivers_would_make_of_a_source(source, capsys):
    assert main(["forecast", str(source), "--receiver", "written-numbers", "live-board"]) == 1
    told = json.loads(capsys.readouterr().out)["forecasts"]
    assert [entry["receiver"] for entry in told] == ["written-numbers", "live-board"]
    assert told[0]["totals"]["changed"] == 1 and told[1]["totals"]["refused"] == 1
    assert "does not take numeric items" in told[1]["items"][1]["notes"][0]["message"]


def test_a_sheet_of_a_file_and_a_ledger_with_a_forecast(source, tmp_path, capsys):
    (tmp_path / "ours.toml").write_text(sheet_to_toml(sheet(formats=[{"name": "qti-2.1"}])))
    assert main(["forecast", str(source), "--receiver", str(tmp_path / "ours.toml")]) == 0
    capsys.readouterr()
    out = tmp_path / "soils.zip"
    assert main(["convert", str(source), "--to", "qti-2.1", "--out", str(out), "--receiver", "whole-shelf"]) == 0
    assert json.loads(capsys.readouterr().out)["forecasts"][0]["totals"]["kept"] == 2


def test_what_is_called_wrongly_is_told_in_a_line(source, tmp_path, capsys):
    assert main(["forecast", str(source), "--receiver", "nobody"]) == 2 and "There is no receiver" in capsys.readouterr().err
    assert main(["forecast", str(source), "--receiver", "missing.toml"]) == 3 and "no such file" in capsys.readouterr().err
    (tmp_path / "bad.toml").write_text("name = 3")
    assert main(["forecast", str(source), "--receiver", str(tmp_path / "bad.toml")]) == 3
    assert "no receiver sheet yet" in capsys.readouterr().err


def test_a_stand_in_is_a_program_that_refuses_what_its_sheet_says(source, tmp_path, capsys):
    file, said = tmp_path / "file", tmp_path / "sheet.toml"
    file.write_bytes(export_bank(bank(TrueFalse(id="i1", stem="So?", answer=True, points=1)), MediaBox(), "gift").written.data)
    said.write_text(sheet_to_toml(sheet(formats=[{"name": "gift"}], limits={"items_per_file": 1, "file_bytes": 10})))
    call = ["course-platform", str(file), "--format", "gift", "--sheet", str(said), "--name", "soils.gift"]
    assert stand_in(call) == 1 and "takes 10" in json.loads(capsys.readouterr().out)["refused_file"]
    assert stand_in([*call[:2], "--format", "docx", *call[4:]]) == 1 and "does not read" in capsys.readouterr().out
    said.write_text(sheet_to_toml(sheet(formats=[{"name": "gift"}])))
    assert stand_in(call) == 0 and json.loads(capsys.readouterr().out)["report"][0] == "1 questions taken, 0 not."


def test_a_picture_that_is_too_large_goes_or_takes_its_item_with_it():
    item = TrueFalse(id="i1", stem='So? <img src="media/a.png" alt="pit"/>', answer=True, points=1)
    held = bank(item)
    held.media = [Media(ref="media/a.png", sha256="0" * 64, size=5000, type="image/png")]
    for beyond, standing in (("drops", "lost"), ("refuses", "refused")):
        told = forecast(held, sheet(limits={"pictures": {"bytes": 1000, "beyond": beyond}}), "items-json").items[0]
        assert told.standing == standing and told.notes[0].excess.has == 5000


# A survey is kept for a while, and asked by several at once


def test_a_survey_that_is_asked_again_and_again_does_not_grow():
    sheets = [shipped_sheet(name) for name in ("small-hall", "written-numbers", "first-shelf")]
    survey = Survey(every_facet())
    first = [forecast(survey.bank, entry, entry.format_names()[0], survey) for entry in sheets]
    held = len(survey._made)
    assert [forecast(survey.bank, entry, entry.format_names()[0], survey) for entry in sheets] == first
    assert len(survey._made) == held
    own = survey.bank.items[0].model_copy(update={"stem": "Shorter."})
    other = survey.replaced({own.id: own})
    forecast(other.bank, sheets[0], "qti-2.1", other)
    assert len(survey._made) == held


def test_threads_that_share_a_survey_find_the_same():
    survey, entry = Survey(every_facet()), shipped_sheet("written-numbers")
    expected = forecast(survey.bank, entry, "qti-2.1")
    with ThreadPoolExecutor(4) as pool:
        found = list(pool.map(lambda _: forecast(survey.bank, entry, "qti-2.1", survey), range(8)))
    assert all(told == expected for told in found)


def test_a_quiz_of_a_section_has_its_dates_and_nothing_of_others():
    opens, later = datetime(2026, 9, 1, 8, tzinfo=UTC), datetime(2026, 9, 3, 8, tzinfo=UTC)
    settings = Settings(
        opens=opens,
        time_limit=25,
        sections=[SectionDates(section="Monday", opens=later), SectionDates(section="Thursday", closes=later)],
        exceptions=[
            StudentException(student="R. Vane", section="Monday", time_factor=1.5),
            StudentException(student="A", section="Thursday"),
        ],
    )
    monday = as_of_section(Quiz(id="q", title="Week 3", settings=settings), "Monday").settings
    assert (monday.opens, monday.closes, monday.sections, monday.time_limit) == (later, None, None, 25)
    assert [entry.student for entry in monday.exceptions] == ["R. Vane"]
    assert as_of_section(Quiz(id="q", settings=settings), "Friday").settings.opens == opens


@pytest.mark.parametrize("entry", writable_formats(), ids=lambda entry: entry.name)
def test_what_a_format_says_otherwise_is_about_features_that_there_are(entry):
    """A word that no item has would be a rule that never holds."""
    around = Surroundings.of(every_facet())
    held = {feature for item in every_facet().items for feature in features_of(item, around).held} | {"no-points", "bare-picture"}
    assert {key.partition("@")[0] for key in entry.carries.otherwise} <= held
    for key in entry.carries.otherwise:
        feature, _, item_type = key.partition("@")
        reaction = reaction_of(entry.name, feature, item_type or "multiple_choice")
        assert reaction is None or reaction.message.startswith(entry.label)
