"""Two tabs over one item, what a first visit brings, and formulas that come when they are needed."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.steps import open_course, stage

pytestmark = pytest.mark.browser


def open_item(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_role("button", name="Edit").click()
    expect(page.get_by_role("button", name="Save the item")).to_be_visible()


def test_the_second_of_two_tabs_sees_what_the_first_saved(page, address):
    open_course(page)
    stage(page, "Pools")
    page.get_by_role("grid", name="Items").get_by_role("row").nth(3).click()
    expect(page).to_have_url(re.compile("item="))
    item = page.url
    other = page.context.new_page()
    open_item(page, item)
    open_item(other, item)
    for tab, points in ((page, "7"), (other, "9")):
        tab.get_by_role("textbox", name="Points").fill(points)
        tab.get_by_role("button", name="Save the item").click()
    notice = other.get_by_role("alert", name="Changed in the meantime")
    expect(notice).to_contain_text("7 points")
    expect(other.get_by_role("textbox", name="Points")).to_have_value("9")
    notice.get_by_role("button", name="Save mine over it").click()
    expect(notice).to_be_hidden()
    expect(other.get_by_label("Item", exact=True)).to_contain_text("9 points")
    other.keyboard.press("Control+z")
    expect(other.get_by_label("Item", exact=True)).to_contain_text("7 points")


def test_a_first_visit_brings_little_and_formulas_come_with_the_first_formula(browser, address):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    sizes: dict[str, int] = {}
    packed: dict[str, str] = {}

    def note(response) -> None:
        if "/assets/" in response.url:
            sizes[response.url] = response.request.sizes()["responseBodySize"]
            packed[response.url] = response.headers.get("content-encoding", "")
            assert "immutable" in response.headers["cache-control"]

    page.on("requestfinished", lambda request: note(request.response()))
    page.goto(address)
    open_course(page)
    expect(page.get_by_role("heading", name="Sources")).to_be_visible()
    page.wait_for_load_state("networkidle")
    code = sum(size for url, size in sizes.items() if url.endswith((".js", ".css")))
    assert code <= 350_000 and sum(sizes.values()) <= 600_000, (code, sum(sizes.values()))
    assert {packed[url] for url in sizes if url.endswith((".js", ".css")) and sizes[url] > 2_000} <= {"br", "gzip"}
    assert not [url for url in sizes if "katex" in url.lower()]
    stage(page, "Pools")
    page.get_by_label("Filter by words").fill("bulk density")
    expect(page.locator(".filters .soft")).to_have_text(re.compile(r"^\d items$"))
    with page.expect_event("requestfinished", lambda request: "katex" in request.url.lower()):
        page.locator(".item", has_text="ƒ").first.click()
    expect(page.locator(".katex").first).to_be_visible()
    context.close()


def test_a_password_is_changed_in_the_accounts_menu(browser, address):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(address)
    page.get_by_role("button", name="Sign in as tobin").click()
    page.get_by_role("button", name="tobin", exact=True).click()
    page.get_by_role("menuitem", name="Change the password").click()
    fresh = "horizons and humus"
    for label, text in (("Password until now", "wrong one"), ("New password", fresh), ("The new one again", fresh)):
        page.get_by_label(label).fill(text)
    dialog = page.get_by_role("dialog", name="Change the password")
    dialog.get_by_role("button", name="Change the password").click()
    expect(dialog.get_by_role("alert")).to_contain_text("not your password")
    page.get_by_label("Password until now").fill("auger-and-rope")
    dialog.get_by_role("button", name="Change the password").click()
    expect(dialog).to_be_hidden()
    context.close()
