"""The whole path in the real interface: once by hand, once with the keyboard alone."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from rogatum.core.receiving import read_source
from tests.browser.steps import as_a_file, hand_on, open_course, stage, tab_to

pytestmark = pytest.mark.browser

# The second question has two keys: the one wrong mark.
TEST = """## {chapter}

1. Which {what} particle is the smallest?
a. sand
b. silt
*c. clay

2. Which gas do the roots of {what} need? Choose one.
*a. oxygen
*b. helium
c. argon

3. Loam with {what} holds sand, silt and clay.
Answer: True

4. A wet sample of {what} of 125 g weighs 100 g dry. What is its water content in per cent?
Answer: 25 ± 0.5
Points: 2
"""


def download(page: Page, folder: Path) -> Path:
    with page.expect_download() as started:
        page.get_by_role("link", name="Download the QTI 1.2 file").click()
    path = folder / started.value.suggested_filename
    started.value.save_as(path)
    return path


def test_from_a_paste_to_a_package(page, tmp_path):
    open_course(page)
    page.get_by_role("button", name="Paste a test").click()
    dialog = page.get_by_role("dialog", name="Paste a test")
    dialog.get_by_label("Text of the test").fill(TEST.format(chapter="Peat", what="peat"))
    dialog.get_by_label("Name").fill("Peat test")
    dialog.get_by_label("Items it should have").fill("4")
    dialog.get_by_role("button", name="Read the text").click()
    row = page.get_by_role("row").filter(has_text="Peat test")
    expect(row).to_contain_text("4")
    row.get_by_role("link").first.click()

    item = page.get_by_role("region", name="Item as it was read")
    page.get_by_role("button", name=re.compile("1 needs a look")).click()
    expect(item.get_by_label("Findings about this item")).to_contain_text("2 choices are marked correct")
    expect(page.get_by_role("region", name="Source").locator(".joined").first).to_contain_text("roots of peat")
    item.get_by_role("button", name=re.compile("^Edit")).click()
    for choice in (1, 2):
        expect(item.get_by_label(f"Choice {choice} is right")).to_be_checked()
    item.get_by_label("Choice 1 is right").click()
    expect(item.get_by_label("Choice 2 is right")).not_to_be_checked()
    item.get_by_role("button", name=re.compile("Save")).click()
    expect(page.get_by_text("Nothing needs a look")).to_be_visible()

    page.get_by_role("button", name=re.compile(r"Take (\d of )?4 into pools")).click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("Take 4 items into Peat")).click()
    page.get_by_role("tree").get_by_text("Peat", exact=True).click()
    expect(page.get_by_text("4 items").first).to_be_visible()

    stage(page, "Quizzes")
    page.get_by_label("Title of a new quiz").fill("Peat quiz")
    page.get_by_role("button", name="Make the quiz").click()
    page.get_by_role("combobox", name="Pool to draw from").click()
    page.get_by_role("option", name="Peat", exact=True).click()
    page.get_by_label("How many", exact=True).fill("2")
    page.get_by_role("button", name="Add the draw").click()
    expect(page.get_by_text("It adds up to")).to_be_visible()
    page.get_by_role("button", name=re.compile("Try it as a student")).click()

    page.get_by_role("button", name="Begin", exact=True).click()
    expect(page.locator("li.question")).to_have_count(2)
    drawn = page.get_by_text(re.compile("^draw [0-9a-f]+$"))
    before = drawn.inner_text()
    page.get_by_role("button", name="Draw again").click()
    expect(drawn).not_to_have_text(before)
    expect(page.locator("li.question")).to_have_count(2)
    answer_all(page)
    page.get_by_role("button", name="Hand it in").click()
    expect(page.get_by_role("dialog", name="Hand it in?")).to_contain_text("Every item has an answer")
    page.get_by_role("dialog").get_by_role("button", name="Hand it in").click()
    expect(page.get_by_role("region", name="Attempts so far")).to_contain_text("of 2 points")
    page.get_by_role("link", name="Back to the quiz").click()

    stage(page, "Hand-off")
    hand_on(page, "Quiz: Peat quiz")
    as_a_file(page)
    page.get_by_role("radio", name=re.compile("^QTI 1.2")).check()
    page.get_by_role("button", name="Write it as QTI 1.2 and compare").click()
    expect(page.get_by_text("nothing was changed, nothing was lost")).to_be_visible()
    bank = read_source(download(page, tmp_path)).bank
    assert len(bank.items) == 4 and [draw.pick for draw in bank.draws] == [2]
    assert not [finding for finding in bank.findings if finding.level == "error"]
    keyed = next(item for item in bank.items if "roots of peat" in item.stem)
    assert [choice.content for choice in keyed.choices if choice.weight == 1] == ["oxygen"]


def answer_all(page: Page) -> None:
    questions = page.locator("li.question")
    for number in range(questions.count()):
        question = questions.nth(number)
        radios = question.get_by_role("radio")
        if radios.count():
            radios.first.check()
        else:
            question.get_by_role("textbox").fill("25")


def test_the_same_path_by_keyboard(page, tmp_path):
    keys = page.keyboard
    page.get_by_label("Name").focus()
    keys.type("mara")
    keys.press("Tab")
    keys.type("soil-and-water")
    keys.press("Enter")
    expect(page.get_by_role("link", name="Soil Science 110")).to_be_visible()
    tab_to(page, "Soil Science 110")
    keys.press("Enter")
    expect(page.get_by_role("button", name="Paste a test")).to_be_visible()
    keys.press("p")
    expect(page.get_by_role("dialog", name="Paste a test")).to_be_visible()
    tab_to(page, "Text of the test")
    keys.insert_text(TEST.format(chapter="Moor", what="moor"))
    tab_to(page, "Name")
    keys.type("Moor test")
    tab_to(page, "Read the text")
    keys.press("Enter")
    expect(page.get_by_role("row").filter(has_text="Moor test")).to_contain_text("4")
    keys.press("g")
    keys.press("c")
    tab_to(page, "Moor test")
    keys.press("Enter")

    expect(page.get_by_role("region", name="Item as it was read")).to_be_visible()
    keys.press("n")
    expect(page.get_by_label("Findings about this item")).to_contain_text("2 choices are marked correct")
    keys.press("r")
    expect(page.get_by_text("Nothing needs a look")).to_be_visible()
    keys.press("t")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("button", name=re.compile("Take 4 items into Moor"))).to_be_visible()
    keys.press("Control+Enter")
    expect(page.get_by_role("tree")).to_contain_text("Moor")

    keys.press("g")
    keys.press("q")
    tab_to(page, "Title of a new quiz")
    keys.type("Moor quiz")
    keys.press("Enter")
    tab_to(page, "How many")
    keys.press("Control+a")
    keys.type("3")
    tab_to(page, "Pool to draw from")
    keys.type("Moor")
    expect(page.get_by_role("option", name="Moor", exact=True)).to_be_visible()
    keys.press("ArrowDown")
    keys.press("Enter")
    tab_to(page, "Add the draw")
    keys.press("Enter")
    expect(page.get_by_text("It adds up to")).to_be_visible()
    expect(page.locator("li.part")).to_contain_text("Moor")
    page.locator("body").evaluate("() => document.activeElement.blur()")
    keys.press("y")
    expect(page.get_by_role("button", name="Begin", exact=True)).to_be_visible()
    tab_to(page, "Begin")
    keys.press("Enter")
    expect(page.locator("li.question")).to_have_count(3)
    tab_to(page, "Hand it in")
    keys.press("Enter")
    expect(page.get_by_role("dialog", name="Hand it in?")).to_contain_text("3 items have no answer yet")
    tab_to(page, "Hand it in as it is")
    keys.press("Enter")
    expect(page.get_by_role("region", name="Attempts so far")).to_contain_text("0 of 3 points")
    tab_to(page, "← Back to the quiz")
    keys.press("Enter")
    expect(page.get_by_text("It adds up to")).to_be_visible()
    page.locator("body").evaluate("() => document.activeElement.blur()")

    keys.press("g")
    keys.press("h")
    tab_to(page, "What to hand on")
    keys.type("Quiz: Moor")
    expect(page.get_by_role("option", name="Quiz: Moor quiz")).to_be_visible()
    keys.press("ArrowDown")
    keys.press("Enter")
    keys.press("Escape")
    tab_to(page, "As a file of one format")
    keys.press("Enter")
    tab_to(page, "Write it as")
    keys.press("Enter")
    expect(page.get_by_role("grid", name="Ledger")).to_be_visible()
    tab_to(page, "Download the")
    with page.expect_download() as started:
        keys.press("Enter")
    started.value.save_as(tmp_path / "moor.zip")
    assert [draw.pick for draw in read_source(tmp_path / "moor.zip").bank.draws] == [3]
