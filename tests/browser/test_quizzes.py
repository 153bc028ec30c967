"""A test of a source becomes a quiz of the course, and goes out as it came in."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from rogatum.core.exporting import export_bank
from rogatum.core.sources import MediaBox
from tests.browser.steps import open_course
from tests.core.test_quiz_values import soils

pytestmark = pytest.mark.browser


def test_a_quiz_comes_along_with_its_items_and_is_handed_on_whole(page):
    bank = soils(time_limit=35, release="marks")
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
    expect(page.get_by_label("Time limit, minutes")).to_have_value("35")
    expect(page.get_by_label("How many from Then")).to_have_value("2")
    expect(page.get_by_label("Points each in Then")).to_have_value("4")
    page.get_by_role("link", name="Hand it on").click()
    page.get_by_role("radio", name=re.compile("^QTI 2.2")).check()
    lacking = re.compile("^QTI 2.2 has no place for which attempt counts")
    expect(page.get_by_role("radio", name=lacking)).to_be_checked()
    page.get_by_role("button", name="Write it as QTI 2.2 and compare").click()
    expect(page.get_by_text("nothing was changed, nothing was lost")).to_be_visible()
    expect(page.get_by_label("Quizzes", exact=True)).to_contain_text("Marl quiz")
