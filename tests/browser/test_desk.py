"""Check as a desk: several sources as one job, with the keys alone; and every type of item edited in full."""

from __future__ import annotations

import base64
import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from rogatum.core.exporting import export_bank
from rogatum.core.items import Bank, PoolEntry
from rogatum.core.items.content import media_refs
from rogatum.core.items.key import key_words
from rogatum.core.items.parts import feedback
from rogatum.core.receiving import read_source
from rogatum.demo.loader import word_test
from rogatum.standins.generator import CHAPTERS, HERE, chapter_package
from tests.browser.steps import as_a_file, sign_in, stage

pytestmark = pytest.mark.browser
PNG = base64.b64decode("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNk+A8AAQUBAScY42YAAAAASUVORK5CYII=")


def new_course(page: Page, name: str) -> None:
    sign_in(page)
    page.get_by_label("Name of a new course").fill(name)
    page.get_by_role("button", name="Make the course").click()
    page.get_by_role("heading", name="Add sources").wait_for()


def chapters() -> list[dict]:
    """Three chapters with 100 points on every item, one pool each; in the second, a question has lost its key."""
    files = []
    for number, name in CHAPTERS.items():
        chapter = json.loads((HERE / name).read_text())
        reading = read_source(("c.zip", chapter_package(chapter, number)))
        bank = reading.bank
        bank.pools = [PoolEntry(path=[chapter["title"]], items=[item.id for item in bank.items])]
        if number == 2:
            first = next(item for item in bank.items if item.type == "multiple_choice")
            for choice in first.choices:
                choice.weight = 0
        data = export_bank(bank, reading.media, "qti-1.2").written.data
        files.append({"name": f"ground-beneath-{number}.zip", "mimeType": "application/zip", "buffer": data})
    return files


def test_four_sources_from_the_drop_to_their_pools_by_keys(page):
    new_course(page, "Soils by keys")
    word = {"name": "week-2-quiz.docx", "mimeType": "application/octet-stream", "buffer": word_test()}
    page.get_by_label("Files").set_input_files([*chapters(), word])
    sources = page.get_by_role("table")
    expect(sources.get_by_role("row").filter(has_text="sources dropped together, 70 items")).to_be_visible()
    repair = sources.get_by_role("button", name="Set points to 1 on all items of 3 sources")
    repair.click()
    expect(repair).to_have_count(0)

    page.keyboard.press("g")
    page.keyboard.press("c")
    expect(page.get_by_role("button", name=re.compile("2 items need a look, in 2 sources"))).to_be_visible()
    page.keyboard.press("n")
    item = page.get_by_role("region", name="Item as it was read")
    expect(item).to_contain_text("1 of 1 to look at")
    expect(item.get_by_label("Findings about this item")).to_contain_text("No choice is marked correct")
    page.keyboard.press("2")
    expect(item.locator(".choices .key")).to_have_count(1)
    expect(item.get_by_role("button", name="B is the key")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("n")
    expect(page.get_by_role("heading", name="Week 2: Texture and Structure")).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_text("Nothing needs a look")).to_be_visible()

    sample = page.get_by_role("region", name="Proof by sample")
    page.keyboard.press("s")
    for looked in range(1, 7):
        expect(sample).to_contain_text(f"{looked} of 6")
        page.keyboard.press("+")
    expect(sample).to_contain_text("6 of 6 looked at, none wrong: all were looked at.")

    page.keyboard.press("g")
    page.keyboard.press("s")
    expect(sources.get_by_role("button", name="Take 70 of 4 sources")).to_be_visible()
    page.keyboard.press("t")
    dialog = page.get_by_role("dialog", name="Take several sources as one")
    for name in ("Chapter 1", "Chapter 2", "Chapter 3", "Week 2"):
        expect(dialog.get_by_role("row").filter(has_text=name)).to_have_count(1)
    expect(dialog.get_by_role("button", name="Take 70 items of 4 sources into 4 pools")).to_be_enabled()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text(re.compile("items taken"))).to_be_visible()
    for name in ("Chapter 1", "Chapter 2", "Chapter 3", "Week 2"):
        expect(page.get_by_role("tree").get_by_text(re.compile(name))).to_be_visible()


def test_a_reading_is_seen_as_a_proof_searched_and_mended(page):
    new_course(page, "Soils as a proof")
    [_, second, _] = chapters()
    page.get_by_label("Files").set_input_files([second])
    page.get_by_role("table").get_by_role("link", name="Check 21").click()
    page.get_by_role("region", name="Item as it was read").wait_for()
    parts = page.get_by_label("Parts of the source")
    expect(parts).to_contain_text("What its marking gives")
    page.keyboard.press("m")
    expect(page.get_by_label("Markup of the item")).to_contain_text("presentation")
    page.keyboard.press("m")
    page.keyboard.press("/")
    words = page.get_by_label("Words in the source")
    words.fill("loam")
    expect(page.get_by_role("search")).to_contain_text(re.compile(r"of \d+"))
    words.press("Enter")
    expect(page.get_by_label("Markup of the item").or_(parts)).to_contain_text("loam")
    words.press("Escape")

    page.keyboard.press("v")
    proof = page.get_by_role("region", name="Proof", exact=True)
    proof.get_by_role("button", name=re.compile("needs a look")).click()
    expect(proof.locator(".proof-item")).to_have_count(1)
    expect(proof.locator(".proof-item.current")).to_have_count(1)
    page.keyboard.press("1")
    expect(proof).to_contain_text("No item is like that")
    proof.get_by_role("button", name="Show all").click()
    expect(proof.get_by_role("region", name="Item 1", exact=True)).to_be_visible()

    page.keyboard.press("M")
    dialog = page.get_by_role("dialog", name="Mend many at once")
    expect(dialog.get_by_role("row").filter(has_text="100 points")).to_have_count(21)
    dialog.get_by_role("button", name="Outcomes").click()
    dialog.get_by_label("Outcomes by number").fill("1–3: 9.1; 99: 9.2")
    expect(dialog).to_contain_text("There is no question 99.")
    dialog.get_by_role("button", name=re.compile("Change 3 items")).click()
    expect(page.get_by_text("Mended 3 items.")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text(re.compile("Undone: Set outcomes"))).to_be_visible()


# Every type edited in full


def rich(scope: Locator, label: str) -> Locator:
    return scope.get_by_role("textbox", name=label, exact=True)


def write(page: Page, scope: Locator, label: str, text: str) -> None:
    """Puts a text in the place of what a rich field holds."""
    rich(scope, label).click()
    page.keyboard.press("Control+a")
    page.keyboard.type(text)


def choices(page: Page, editor: Locator) -> None:
    write(page, editor, "Choice 1", "fine")
    write(page, editor, "Choice 2", "coarse")
    editor.get_by_label("Choice 2 is right").check()
    editor.get_by_role("button", name="Add: Feedback of choice 1").click()
    write(page, editor, "Feedback of choice 1", "Look again.")
    editor.get_by_label("Order of the choices").select_option("always as here")


def several(page: Page, editor: Locator) -> None:
    choices(page, editor)
    editor.get_by_label("Marks").select_option("each choice counts")
    editor.get_by_label("What choice 3 earns").fill("-25")
    editor.get_by_label("What choice 3 earns").blur()


def truth(page: Page, editor: Locator) -> None:
    editor.get_by_role("radio", name="False").check()
    editor.get_by_role("button", name="Add: Feedback if true").click()
    write(page, editor, "Feedback if true", "It is not so.")


def fill_in(page: Page, editor: Locator) -> None:
    editor.get_by_label("Answer 1", exact=True).fill("Loess")
    editor.get_by_role("button", name="Add an answer").click()
    editor.get_by_label("Answer 2", exact=True).fill("lo[eë]ss?")
    editor.get_by_label("How answer 2 is compared").select_option("is a pattern")
    editor.get_by_label("What answer 2 earns").fill("50")
    editor.get_by_text("Upper and lower case count").click()


def numeric(page: Page, editor: Locator) -> None:
    editor.get_by_role("button", name="Add a number").click()
    editor.get_by_label("Value", exact=True).fill("1.4")
    editor.get_by_label("Tolerance", exact=True).fill("0.1")
    editor.get_by_label("Tolerance", exact=True).blur()
    editor.get_by_label("Unit").fill("g/cm³")


def cloze(page: Page, editor: Locator) -> None:
    rich(editor, "Stem").click()
    page.keyboard.press("Control+End")
    page.keyboard.type(" or ")
    page.keyboard.press("Control+.")
    page.keyboard.type(" and ")
    page.keyboard.press("Control+.")
    editor.get_by_role("combobox", name="Kind of blank 2").select_option("a number")
    editor.get_by_label("Value", exact=True).wait_for()
    editor.get_by_role("button", name="Add an answer").click()
    editor.get_by_label("Blank 1, answer 1", exact=True).fill("loam")
    editor.get_by_label("Value", exact=True).fill("25")
    editor.get_by_label("Share of blank 1").fill("75")
    editor.get_by_label("Share of blank 2").fill("25")
    editor.get_by_label("Share of blank 2").blur()


def matching(page: Page, editor: Locator) -> None:
    for number, (left, right) in enumerate((("O", "litter"), ("A", "topsoil")), 1):
        editor.get_by_role("button", name="Add a pair").click()
        write(page, editor, f"Left {number}", left)
        write(page, editor, f"Right {number}", right)
    editor.get_by_role("button", name="Add a right without a partner").click()
    write(page, editor, "Right without a partner 1", "bedrock")


def ordering(page: Page, editor: Locator) -> None:
    write(page, editor, "Entry 1", "rock")
    write(page, editor, "Entry 2", "rubble")
    editor.get_by_role("button", name="Move entry 1 down").click()


def essay(page: Page, editor: Locator) -> None:
    for label, text in (("Model answer", "Rain washes it."), ("Rubric", "2 points for rain.")):
        if not rich(editor, label).count():
            editor.get_by_role("button", name=f"Add: {label}").click()
        write(page, editor, label, text)


TYPES = {
    "multiple choice": choices,
    "multiple response": several,
    "true/false": truth,
    "fill-in": fill_in,
    "numeric": numeric,
    "cloze": cloze,
    "matching": matching,
    "ordering": ordering,
    "essay": essay,
    "information": lambda page, editor: None,
}
TEST = "".join(f"{n}. Which of these is number {n} here?\n*a. one\nb. two\nc. three\n\n" for n in range(1, len(TYPES) + 1))


def common(page: Page, editor: Locator, name: str) -> None:
    """What every type has: a stem with emphasis, a formula and a picture, points, feedback of each kind, metadata."""
    write(page, editor, "Stem", f"What of {name} is ")
    page.keyboard.press("Control+b")
    page.keyboard.type("told")
    page.keyboard.press("Control+b")
    page.keyboard.type(": ")
    page.keyboard.press("Control+m")
    page.get_by_label("Formula as TeX").fill(r"\frac{m}{V}")
    expect(editor.locator(".preview math, .preview .katex").first).to_be_attached()
    page.get_by_label("Formula as TeX").press("Enter")
    expect(rich(editor, "Stem")).to_be_focused()
    editor.get_by_label("Pictures").set_input_files({"name": "dot.png", "mimeType": "image/png", "buffer": PNG})
    editor.get_by_label("Alternative text").fill("a dot")
    editor.get_by_label("Alternative text").press("Enter")
    expect(rich(editor, "Stem")).to_be_focused()
    editor.get_by_label("Points", exact=True).fill("3")
    for label in ("Feedback to all", "Feedback if right", "Feedback if wrong"):
        editor.get_by_role("button", name=f"Add: {label}").click()
        write(page, editor, label, f"{label} on {name}.")
    editor.get_by_label("Label of new metadata").fill("Outcome")
    editor.get_by_role("button", name="Add it").click()
    editor.get_by_label("Outcome", exact=True).fill("2.1; 2.2")
    editor.get_by_label("Outcome", exact=True).blur()


def save(page: Page, editor: Locator, name: str) -> None:
    """By the button, or by keys while a field is still being written in: what stands in it is saved too."""
    if name in ("numeric", "matching"):
        page.keyboard.press("Control+Enter")
    else:
        editor.get_by_role("button", name=re.compile("Save the item")).click()


def test_every_type_is_edited_in_full_and_comes_back_the_same(page, tmp_path):
    new_course(page, "Soils edited")
    page.get_by_label("Files").set_input_files([{"name": "ten.txt", "mimeType": "text/plain", "buffer": TEST.encode()}])
    page.get_by_role("table").get_by_role("link", name=f"Check {len(TYPES)}").click()
    item = page.get_by_role("region", name="Item as it was read")
    editor = item.locator("form.editor")
    for position, (name, fill) in enumerate(TYPES.items(), 1):
        expect(item).to_contain_text(f"Item {position} of {len(TYPES)}")
        page.keyboard.press("e")
        editor.get_by_label("Type", exact=True).select_option(name)
        if name != "multiple choice":
            expect(editor.get_by_role("status").first).to_contain_text(f"Now {name}.")
        if name == "fill-in":
            editor.get_by_label("Answer 1", exact=True).wait_for()
        common(page, editor, name)
        fill(page, editor)
        save(page, editor, name)
        expect(editor).to_have_count(0)
        page.locator("body").evaluate("() => document.activeElement.blur()")
        page.keyboard.press("ArrowDown")
    number = re.search(r"/check/(\d+)", page.url)[1]
    page.reload()
    item.wait_for()
    stored = page.evaluate(f"fetch('/api/readings/{number}/items?first=1&last=20').then((r) => r.json())")
    was = Bank(items=[entry["item"] for entry in stored])
    assert [entry.type for entry in was.items] == [
        "multiple_choice", "multiple_response", "true_false", "fill_in", "numeric", "cloze", "matching", "ordering", "essay", "information",
    ]  # fmt: skip
    for entry in was.items:
        assert "<strong>told</strong>" in entry.stem and "mfrac" in entry.stem and 'alt="a dot"' in entry.stem
        assert entry.points == 3 and entry.metadata["outcome"] == ["2.1", "2.2"]
        assert set(entry.feedback) == {"general", "correct", "incorrect"}
    read = {entry.type: entry for entry in read_source(export(page, tmp_path)).bank.items}
    for entry in was.items:
        made = read[entry.type]
        assert key_words(made) == key_words(entry), entry.type
        assert made.points == entry.points or entry.type == "information"
        assert len(media_refs(made.stem)) == len(media_refs(entry.stem)) and ("mfrac" in made.stem) == ("mfrac" in entry.stem)
        if entry.type != "information":
            assert set(feedback(made)) == set(feedback(entry)), entry.type


def export(page: Page, folder: Path) -> Path:
    """What was read, taken into a pool and written as QTI 3.0."""
    page.get_by_role("button", name=re.compile("into pools")).click()
    dialog = page.get_by_role("dialog", name="Take into pools")
    dialog.get_by_role("radio", name=re.compile("All .* that wait")).check()
    dialog.get_by_role("button", name=re.compile(r"^Take \d+ items into")).click()
    expect(page.get_by_text(re.compile("items taken"))).to_be_visible()
    stage(page, "Hand-off")
    as_a_file(page)
    page.get_by_role("radio", name=re.compile("^QTI 3.0")).check()
    page.get_by_role("button", name="Write it as QTI 3.0 and compare").click()
    with page.expect_download() as started:
        page.get_by_role("link", name="Download the QTI 3.0 file").click()
    path = folder / started.value.suggested_filename
    started.value.save_as(path)
    return path
