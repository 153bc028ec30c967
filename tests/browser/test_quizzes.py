"""Quizzes in the real program: by plan, tried as a student with an exception, carried into the next term, in and out whole."""

from __future__ import annotations

import re
from datetime import datetime, timedelta
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from rogatum.core.exporting import export_bank
from rogatum.core.sources import MediaBox
from tests.browser.steps import as_a_file, open_course, stage
from tests.core.test_quiz_values import soils

pytestmark = pytest.mark.browser
CHAPTERS = {"Chapter 1: How Soil Forms": 8, "Chapter 2: Texture and Structure": 6, "Chapter 3: Water in Soil": 10}


def make(page: Page, title: str) -> None:
    stage(page, "Quizzes")
    page.get_by_label("Title of a new quiz").fill(title)
    page.get_by_role("button", name="Make the quiz").click()
    expect(page.get_by_role("heading", name=title)).to_be_visible()


def view(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Views of the quiz").get_by_role("link", name=re.compile(name)).click()


def choose(page: Page, field: str, option: str) -> None:
    page.get_by_role("combobox", name=field, exact=True).focus()
    page.keyboard.press("Enter")
    page.get_by_role("listbox", name=field, exact=True).get_by_role("option", name=option, exact=True).click()


def fill(field: Locator, value: str) -> None:
    """A field that is saved when it is left; the page has the answer when this returns."""
    field.fill(value)
    with field.page.expect_response(lambda answer: answer.request.method == "PATCH" and answer.ok):
        field.press("Tab")


def pick(field: Locator, value: str) -> None:
    with field.page.expect_response(lambda answer: answer.request.method == "PATCH" and answer.ok):
        field.select_option(value)


def asked(page: Page, method: str, path: str, body: object = None) -> Any:
    """What the API answers, for what a test needs and does not look at."""
    token = next(cookie["value"] for cookie in page.context.cookies() if cookie["name"] == "csrftoken")
    home = page.url.partition("/c/")[0]
    answer = page.request.fetch(f"{home}/api{path}", method=method, data=body, headers={"X-CSRFToken": token})
    assert answer.ok, answer.text()
    return answer.json()


def finished(page: Page, job: str) -> dict[str, Any]:
    """The result of a job, when it is done."""
    while (state := asked(page, "get", f"/jobs/{job}"))["state"] in ("waiting", "running"):
        page.wait_for_timeout(100)
    assert state["state"] == "done"
    return state["result"]


def bank_of_25(page: Page) -> None:
    """A pool with 25 items."""
    text = "\n".join(f"{n}. Which core is number {n}?\n*a. core {n}\nb. core {n + 1}\nc. core {n + 2}\n" for n in range(1, 26))
    read = asked(page, "post", "/courses/1/sources/paste", {"text": text, "name": "Core bank"})
    reading = finished(page, read["id"])["reading"]
    taken = asked(page, "post", f"/readings/{reading}/take", {"which": "all", "pattern": "Core bank"})
    assert finished(page, taken["id"])["taken"] == 25


def test_a_final_by_plan_has_no_item_of_week_3(page):
    open_course(page)
    stage(page, "Quizzes")
    page.get_by_role("link", name="Week 3: From Rock to Water").click()
    shared = page.get_by_role("list").filter(has_text="The table gives two cores").first
    expect(shared).to_be_visible()
    make(page, "Winter final")
    view(page, "Plan")
    for number, (chapter, count) in enumerate(CHAPTERS.items(), 1):
        page.get_by_role("button", name="Add a row").click()
        page.get_by_label(f"How many of row {number}").fill(str(count))
        choose(page, f"Pool of row {number}", chapter)
    choose(page, "No item of these quizzes", "Week 3: From Rock to Water")
    page.keyboard.press("Escape")
    expect(page.get_by_text("All 24 items can be had.")).to_be_visible()
    page.get_by_label("How many of row 2").fill("19")
    expect(
        page.get_by_text(re.compile(r"Texture and Structure holds 21 items, \d+ of them in quizzes .*, the plan asks for 19"))
    ).to_be_visible()
    page.get_by_label("How many of row 2").fill("6")
    page.get_by_role("button", name="Pick 24 items").click()
    sums = page.get_by_role("complementary", name="What it adds up to")
    expect(sums).to_contain_text("Items for each student24")
    expect(page.locator("ol.fixed > li")).to_have_count(24)
    parts = page.get_by_role("region", name="Parts of the quiz")
    expect(parts).not_to_contain_text("The table gives two cores")
    picked = set(page.locator("ol.fixed .text").evaluate_all("links => links.map((link) => link.getAttribute('href'))"))
    week = next(row["id"] for row in asked(page, "get", "/courses/1/quizzes") if row["title"].startswith("Week 3"))
    drawn = asked(page, "post", f"/quizzes/{week}/draws-of-many", {"students": 60})
    assert len(picked) == 24 and not picked & {f"/c/1/items/{key}" for key in drawn["texts"]}
    # One of the picked is put back, and another is drawn.
    first = page.locator("ol.fixed > li").first
    before = first.inner_text()
    first.get_by_role("button", name="More of item 1").click()
    page.get_by_role("menuitem", name="Put it back, and draw another").click()
    expect(first).not_to_have_text(before)
    expect(page.locator("ol.fixed > li")).to_have_count(24)


def moment(page: Page, label: str, when: datetime) -> None:
    field = page.get_by_role("textbox", name=label, exact=True)
    field.fill(f"{when.day} {when:%b %Y, %H:%M}")
    with page.expect_response(lambda answer: answer.request.method == "PATCH" and answer.ok):
        field.press("Enter")


def test_a_quiz_is_tried_as_the_student_with_an_exception_and_reviewed_before_and_after_closing(page):
    open_course(page)
    bank_of_25(page)
    make(page, "Code quiz")
    choose(page, "Pool to draw from", "Core bank")
    page.get_by_label("How many", exact=True).fill("10")
    page.get_by_role("button", name="Add the draw").click()
    expect(page.get_by_role("complementary", name="What it adds up to")).to_contain_text("10 of 25")
    view(page, "Settings")
    words = page.get_by_role("complementary", name="What the settings mean")
    today = datetime.now()
    moment(page, "Closes", today + timedelta(days=7))
    fill(page.get_by_label("Time limit, minutes"), "10")
    fill(page.get_by_label("Access code"), "loam")
    pick(page.get_by_label("Items come"), "one at a time")
    pick(page.get_by_label("A way back"), "in order")
    for thing in ("their own answers", "which were right", "the key", "feedback"):
        pick(page.get_by_label(f"When students see: {thing}"), "after closing")
    page.get_by_label("Name of a student").fill("A. Loam")
    page.get_by_role("button", name="Make an exception").click()
    expect(words).to_contain_text("Each student gets 10 of 25 items, one at a time, without a way back, 10 minutes, once.")
    expect(words).to_contain_text("A. Loam has 15 minutes.")

    page.get_by_role("button", name=re.compile("Try it as a student")).click()
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        page.get_by_label("You try it as").select_option("student A. Loam")
    expect(page.get_by_text("You have 15 minutes.")).to_be_visible()
    page.get_by_label("Access code").fill("clay")
    page.get_by_role("button", name="Begin", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("This is not the access code")
    page.get_by_label("Access code").fill("loam")
    page.get_by_role("button", name="Begin", exact=True).click()
    expect(page.get_by_text("Page 1 of 10")).to_be_visible()
    expect(page.get_by_text(re.compile(r"1[45]:\d\d left"))).to_be_visible()
    answer(page)
    expect(page.get_by_text("All answers are saved")).to_be_visible()
    asked = page.locator("li.question").inner_text()
    page.reload()
    expect(page.locator("li.question")).to_have_text(re.compile(re.escape(asked[:40].split("\n")[0])))
    page.get_by_role("button", name="Hand it in").click()
    expect(page.get_by_role("dialog")).to_contain_text("9 items have no answer yet")
    page.get_by_role("button", name="Go on with it").click()
    page.get_by_role("button", name="On to page 2").click()
    expect(page.get_by_text("Page 2 of 10")).to_be_visible()
    expect(page.get_by_role("button", name="Back", exact=True)).to_have_count(0)
    page.get_by_role("button", name="Hand it in").click()
    page.get_by_role("button", name="Hand it in as it is").click()
    attempts = page.get_by_role("region", name="Attempts so far")
    expect(attempts).to_contain_text("of 10 points")
    page.get_by_role("button", name="Look at attempt 1").click()
    expect(page.get_by_role("status")).to_contain_text("not shown: their own answers, which were right, the key, feedback")
    expect(page.locator("li.question")).to_have_count(0)
    page.get_by_label("with the clock").select_option("after closing")
    expect(page.locator("li.question")).to_have_count(10)
    expect(page.get_by_text("Key:").first).to_be_visible()
    page.set_viewport_size({"width": 360, "height": 740})
    assert page.evaluate("document.documentElement.scrollWidth <= 360")


def answer(page: Page) -> None:
    """Something for the item on the page, whatever its type."""
    item = page.locator("li.question")
    if item.get_by_role("radio").count():
        item.get_by_role("radio").first.check()
    elif item.get_by_role("checkbox").count():
        item.get_by_role("checkbox").first.check()
    elif item.get_by_role("textbox").count():
        item.get_by_role("textbox").first.fill("12")
    elif item.locator("select").count():
        item.locator("select").first.select_option(index=1)
    else:
        item.get_by_role("button", name=re.compile("^Down")).first.click()


def test_a_quiz_is_carried_into_the_next_term(page):
    open_course(page)
    stage(page, "Quizzes")
    page.get_by_role("checkbox", name="Choose Midterm").check()
    page.get_by_role("button", name="Carry it on").click()
    dialog = page.get_by_role("dialog", name="Carry Midterm on")
    dialog.get_by_label("Weeks").fill("20")
    dialog.get_by_label("Weeks").press("Tab")
    said = dialog.get_by_text("becomes").inner_text()
    before, after = re.findall(r"(\w{3}) \d+ \w{3} \d{4}, (\d\d:\d\d)", said)
    assert before == after
    dialog.get_by_role("button", name="Copy Midterm").click()
    expect(page.get_by_role("heading", name="Midterm")).to_be_visible()
    page.wait_for_url(re.compile(r"/quizzes/\d+$"))
    expect(page.locator("ol.fixed > li")).to_have_count(10)
    view(page, "Settings")
    expect(page.get_by_role("textbox", name="Opens", exact=True)).to_have_value(re.compile(f", {after[1]}$"))
    expect(page.get_by_label("Access code")).to_have_value("loam")
    page.locator("body").evaluate("() => document.activeElement.blur()")
    page.keyboard.press("Control+z")
    stage(page, "Quizzes")
    expect(page.get_by_role("link", name="Midterm", exact=True)).to_have_count(1)


def test_a_quiz_comes_along_with_its_items_and_is_handed_on_whole(page):
    bank = soils(time_limit=35, show_key="never")
    bank.title = bank.quizzes[0].title = "Marl quiz"
    package = export_bank(bank, MediaBox(), "qti-2.2").written.data
    open_course(page)
    page.get_by_label("Files").set_input_files([{"name": "marl.zip", "mimeType": "application/zip", "buffer": package}])
    page.get_by_role("link", name="marl.zip").click()
    page.get_by_role("region", name="Item as it was read").wait_for()
    page.keyboard.press("t")
    page.get_by_label("Make the quiz “Marl quiz” too: 2 items and 1 draw").check()
    page.keyboard.press("Control+Enter")
    page.get_by_role("link", name="Marl quiz").click()
    expect(page.get_by_label("How many from Then")).to_have_value("2")
    expect(page.get_by_label("Points each in Then")).to_have_value("4")
    view(page, "Settings")
    expect(page.get_by_label("Time limit, minutes")).to_have_value("35")
    page.get_by_role("link", name="Hand it on").click()
    as_a_file(page)
    page.get_by_role("radio", name=re.compile("^QTI 2.2")).check()
    lacking = re.compile("^QTI 2.2 has no place for .*which attempt counts")
    expect(page.get_by_role("radio", name=lacking)).to_be_checked()
    page.get_by_role("button", name="Write it as QTI 2.2 and compare").click()
    expect(page.get_by_text("nothing was changed, nothing was lost")).to_be_visible()
    expect(page.get_by_label("Quizzes", exact=True)).to_contain_text("Marl quiz")
