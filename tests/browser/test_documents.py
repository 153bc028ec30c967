"""Documents in the real interface: keys that came in a file of their own, and a copy for students handed on."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from rogatum.core.receiving import read_source
from tests.browser.steps import as_a_file, hand_on, open_course, stage

pytestmark = pytest.mark.browser

TEST = (
    b"1. Which particle of marl is the smallest?\na. sand\nb. clay\n\n2. Which particle of marl is the largest?\na. sand\nb. clay\n"
)
KEYS = b"Answer key\n1. B\n2. A\n"


def test_keys_are_joined_to_their_test(page):
    open_course(page)
    files = [("marl-test.txt", TEST), ("marl-key.txt", KEYS)]
    page.get_by_label("Files").set_input_files([{"name": n, "mimeType": "text/plain", "buffer": data} for n, data in files])
    keys = page.get_by_role("row").filter(has_text="marl-key.txt is a list of 2 keys")
    test = page.get_by_role("row").filter(has=page.get_by_role("link", name="marl-test.txt"))
    expect(test).to_contain_text("2 with errors")
    expect(keys.get_by_label("They are the keys of")).to_contain_text("marl-test.txt")
    keys.get_by_role("button", name="Join them").click()
    expect(test).to_contain_text("with the keys of marl-key.txt")
    expect(test).not_to_contain_text("with errors")
    test.get_by_role("link", name="marl-test.txt").click()
    expect(page.get_by_text("Nothing needs a look")).to_be_visible()
    expect(page.get_by_label("Lines of the source")).to_contain_text("1. B")


def test_a_copy_for_students_has_no_key(page, tmp_path):
    open_course(page)
    stage(page, "Hand-off")
    hand_on(page, "Pool: Texture")
    as_a_file(page)
    page.get_by_role("radio", name=re.compile("^Word document")).check()
    page.get_by_role("radio", name="students: no key").check()
    page.get_by_role("button", name="Write it as Word document and compare").click()
    expect(page.get_by_role("grid", name="Ledger")).to_be_visible()
    with page.expect_download() as started:
        page.get_by_role("link", name="Download the Word document file").click()
    path = tmp_path / started.value.suggested_filename
    started.value.save_as(path)
    bank = read_source(path).bank
    asked = [item for item in bank.items if item.type.startswith("multiple")]
    assert asked and not [choice for item in asked for choice in item.choices if choice.weight > 0]
    assert "for-students" in path.name
