"""A chapter handed on to three receivers: what one cannot take is repaired, what is too long is shortened, and it is found as forecast."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.steps import hand_on, open_course, stage

pytestmark = pytest.mark.browser

CHAPTER = "Pool: Chapter 2: Texture and Structure"
WHOLE, CHOICES, BOARD = "A platform that takes QTI 3.0 whole", "A platform with choices only", "A live quiz board"


def line(page: Page, receiver: str) -> Locator:
    return page.get_by_role("row", name=re.compile(receiver)).filter(has=page.get_by_role("checkbox", name=re.compile(receiver)))


def item_by_item(page: Page, receiver: str) -> Locator:
    line(page, receiver).get_by_role("link", name="Item by item").click()
    grid = page.get_by_role("grid", name="Items by facets")
    expect(page.get_by_role("heading", name=receiver)).to_be_visible()
    return grid


def back(page: Page) -> None:
    page.get_by_role("main").or_(page.locator(".back")).get_by_role("link", name="Hand on", exact=True).first.click()
    expect(page.get_by_role("heading", name="Hand on", exact=True)).to_be_visible()


def counts(row: Locator) -> list[str]:
    """How many items stand how in a row: “9 added”, “1 refused”."""
    expect(row).to_be_visible()
    return [" ".join(re.findall(r"\w+", text)) for text in row.locator(".verdict, .refused").all_inner_texts()]


def shorten(page: Page, left: int) -> None:
    """Writes the first stem that is too long shorter, for this receiver."""
    offers = page.get_by_role("region", name="What would save something")
    expect(offers).to_contain_text(re.compile(rf"Write it shorter {left} items?"))
    offers.get_by_role("button", name="Write the first").click()
    pane = page.get_by_label("What will happen to this item")
    count = pane.get_by_role("status").first
    expect(count).to_contain_text(re.compile(r"\d+ of 80, \d+ too many"))
    pane.get_by_label("Stem for this receiver").fill(f"Which of them is it, in few words ({left})?")
    expect(count).not_to_contain_text("too many")
    pane.get_by_role("button", name="Keep for this receiver").click()
    expect(pane.get_by_role("heading", name=f"Written for {BOARD}")).to_be_visible()


def as_texts(page: Page, grid: Locator) -> None:
    """Numbers as typed texts, which mark some responses differently: item by item, since that is no repair of all."""
    refused = grid.locator(".body").filter(has_text="does not take numeric items.")
    for left in range(refused.count(), 0, -1):
        expect(refused).to_have_count(left)
        refused.first.get_by_role("button").click()
        offer = page.get_by_label("What will happen to this item").locator(".offer").filter(has_text="Turn it into a fill-in")
        expect(offer.get_by_text("It will be marked differently.")).to_be_visible()
        offer.get_by_role("button", name="For this receiver all the same").click()
    expect(refused).to_have_count(0)


def test_a_chapter_goes_to_three_receivers_and_is_found_there_as_forecast(page):
    open_course(page)
    stage(page, "Hand-off")
    hand_on(page, CHAPTER)
    expect(line(page, WHOLE)).to_contain_text(re.compile(r"\d+ (same|added)"))
    expect(line(page, CHOICES)).to_contain_text(re.compile(r"\d+ refused"))

    grid = item_by_item(page, CHOICES)
    expect(grid.get_by_text(f"{CHOICES} does not take numeric items.").first).to_be_visible()
    as_texts(page, grid)
    back(page)
    expect(line(page, CHOICES)).not_to_contain_text("refused")

    item_by_item(page, BOARD)
    shorten(page, 2)
    shorten(page, 1)
    expect(page.get_by_role("button", name="Write the first")).to_have_count(0)
    back(page)

    for receiver in (WHOLE, CHOICES, BOARD):
        page.get_by_role("checkbox", name=re.compile(receiver)).check()
    forecast = {receiver: counts(line(page, receiver)) for receiver in (WHOLE, CHOICES, BOARD)}
    page.get_by_role("button", name="Hand on to these 3 receivers").click()
    expect(page.get_by_text("3 hand-offs are ready below")).to_be_visible()
    for receiver in (CHOICES, BOARD):
        made = page.get_by_role("row").filter(has_text=f"{receiver}, ").first
        assert counts(made) == forecast[receiver], "what was forecast is what the history tells"
        made.get_by_role("link").click()
        assert counts(page.get_by_text(f"At {receiver}, as forecast:")) == forecast[receiver]
        with page.expect_download() as started:
            page.get_by_role("link", name="Download the folder").click()
        assert receiver in started.value.suggested_filename and "Chapter 2" in started.value.suggested_filename
        page.get_by_role("button", name="Send it to the stand-in").click()
        expect(page.get_by_role("tab", name=re.compile("As it stands at the stand-in as forecast"))).to_have_attribute(
            "aria-selected", "true"
        )
        stage(page, "Hand-off")
    expect(page.get_by_role("row").filter(has_text=f"{CHOICES}, ").first).to_contain_text("found as forecast")


def test_a_receiver_of_ones_own_is_written_in_sentences(page):
    open_course(page)
    stage(page, "Hand-off")
    page.get_by_role("link", name=re.compile("^Receivers")).click()
    page.get_by_role("link", name=WHOLE).click()
    page.get_by_role("button", name="Copy it").click()
    expect(page.get_by_label("Title", exact=True)).to_have_value(f"{WHOLE}, ours")
    page.get_by_label("Characters of a stem").fill("0")
    page.get_by_label("Title", exact=True).fill("Our shelf")
    expect(page.get_by_text("limits.stem.most: it must be at least 1")).to_be_visible()
    page.get_by_label("Characters of a stem").fill("40")
    page.keyboard.press("Tab")
    page.get_by_label("What becomes of essay").select_option("not taken")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Our shelf: edition 2.")).to_be_visible()
    page.get_by_role("link", name="Hand on", exact=True).click()
    expect(line(page, "Our shelf")).to_contain_text(re.compile(r"\d+ refused"))
    page.get_by_role("link", name=re.compile("^Receivers")).click()
    page.get_by_role("button", name="Forget it").click()
    page.get_by_role("button", name="Forget it for good").click()
    expect(page.get_by_role("link", name="Our shelf")).to_have_count(0)
