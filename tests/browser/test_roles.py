"""Roles of lines, said by hand: in the paste box with a key, and beside the source with a choice."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.browser.steps import open_course

pytestmark = pytest.mark.browser

TEXT = """1. Which particle of a gravelly soil is the smallest?
Think of the settling tube
*a. clay
b. sand
"""


def test_what_a_line_is_can_be_said_by_hand(page):
    open_course(page)
    page.get_by_role("button", name="Paste a test").click()
    dialog = page.get_by_role("dialog", name="Paste a test")
    box = dialog.get_by_label("Text of the test")
    box.fill(TEXT)
    gutter = dialog.locator(".gutter .row")
    expect(gutter.nth(2)).to_contain_text("choice ✓")
    box.evaluate("(field) => field.setSelectionRange(60, 60)")
    box.press("Alt+6")
    expect(gutter.nth(1)).to_contain_text("set aside")
    box.press("Alt+0")
    expect(gutter.nth(1)).not_to_contain_text("set aside")
    box.press("Alt+6")
    dialog.get_by_label("Name").fill("Gravel test")
    expect(gutter.nth(1)).to_contain_text("set aside")
    dialog.get_by_role("button", name="Read the text").click()
    page.get_by_role("row").filter(has_text="Gravel test").get_by_role("link").first.click()

    item = page.get_by_role("region", name="Item as it was read")
    expect(item).to_contain_text("Which particle of a gravelly soil")
    expect(item).not_to_contain_text("settling tube")
    role = page.get_by_label("What line 2 is")
    expect(role).to_have_value("aside")
    role.select_option(label="goes on with the line above")
    expect(item).to_contain_text("settling tube")
    expect(page.get_by_label("What line 2 is")).to_have_value("more")
