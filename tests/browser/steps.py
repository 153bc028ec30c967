"""Steps that most tests take. Each ends when the page is where it leads, so that the next does not find what was there before."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

# What the element with the focus is called, for those who cannot see it.
NAME_OF_FOCUSED = """() => {
    const element = document.activeElement
    const labels = element.labels ? [...element.labels].map((label) => label.textContent).join(' ') : ''
    return (element.getAttribute('aria-label') || labels || element.textContent || '').trim()
}"""


def sign_in(page: Page) -> None:
    page.get_by_role("button", name="Sign in as mara").click()
    expect(page.get_by_role("link", name="Soil Science 110")).to_be_visible()


def open_course(page: Page) -> None:
    sign_in(page)
    page.get_by_role("link", name="Soil Science 110").click()
    expect(stage_link(page, "Sources")).to_have_attribute("aria-current", "page")


def stage_link(page: Page, name: str) -> Locator:
    return page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(name))


def stage(page: Page, name: str) -> None:
    stage_link(page, name).click()
    expect(stage_link(page, name)).to_have_attribute("aria-current", "page")


def hand_on(page: Page, *names: str) -> None:
    """Chooses on Hand-off what is handed on, by the words of the list."""
    page.locator(".scopes .el-select__suffix").click()
    for name in names:
        page.get_by_role("option", name=name).click()
        expect(page.locator(".scopes").get_by_text(name)).to_be_visible()
    page.get_by_role("heading", name="Hand on", exact=True).click()
    expect(page.get_by_role("option", name=names[0])).to_be_hidden()


def as_a_file(page: Page) -> None:
    details = page.locator("details.file")
    details.get_by_text("As a file of one format").click()
    expect(details).to_have_attribute("open", "")


def tab_to(page: Page, name: str) -> None:
    """Presses Tab until the element whose name begins so has the focus."""
    for _ in range(120):
        if page.evaluate(NAME_OF_FOCUSED).startswith(name):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab does not reach {name}")
