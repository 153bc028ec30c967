"""Pools kept in order and shared: sorted by keys, doubles merged, a copy sent and taken, a reader who changes nothing."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.steps import open_course, sign_in, stage

pytestmark = pytest.mark.browser

# What of the mixed bank is about sampling; the rest is about profiles.
SAMPLING = re.compile(r"\b[Ss]amples?\b|sample ring|core of known volume")


# The open pair of a document and a chapter, as the program itself tells. Other tests read the same document into courses of their
# own: what has the very same words is paired with the first of it alone.
PAIR_OF = """async (sources) => {
    const ask = async (path) => (await fetch('/api' + path)).json()
    for (const row of (await ask('/alike?limit=1000')).rows) {
        const pair = await ask('/alike/' + row.id)
        if (row.percent < 100 && sources.every((name) => [pair.a, pair.b].some((side) => side.origin.includes(name))))
            return row.id
    }
}"""


# Ends when pairs were looked for once more: those found before are gone then.
LOOKED = """async (before) => {
    for (;;) {
        const now = await (await fetch('/api/alike')).json()
        if (!now.running && now.looked !== before) return
        await new Promise((done) => setTimeout(done, 100))
    }
}"""


def pool(page: Page, name: str):
    return page.get_by_role("tree").get_by_text(name, exact=True)


def count_of(page: Page, name: str):
    return page.get_by_role("tree").locator(".node").filter(has=page.get_by_text(name, exact=True))


def sign_out(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^(mara|tobin)")).click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in as tobin")).to_be_visible()


def sign_in_as_tobin(page: Page) -> None:
    page.get_by_role("button", name="Sign in as tobin").click()
    expect(page.get_by_role("heading", name="Courses")).to_be_visible()


def test_a_mixed_bank_is_sorted_into_two_pools_by_keys(page):
    open_course(page)
    stage(page, "Pools")
    pool(page, "Mixed bank").click()
    page.get_by_role("link", name="Sort it").click()
    item = page.get_by_role("region", name="Item to sort")
    expect(item).to_contain_text("23 items left")
    first = item.locator(".stem").inner_text()
    page.keyboard.press("s")
    expect(item).to_contain_text("1 skipped")
    expect(item.locator(".stem")).not_to_have_text(first)
    taken_as_suggested = 0
    for left in range(23, 0, -1):
        expect(item).to_contain_text(f"{left} {'item' if left == 1 else 'items'} left")
        own = "2" if SAMPLING.search(item.locator(".stem").inner_text()) else "1"
        suggested = page.locator("li.best kbd").first
        as_suggested = suggested.count() and suggested.inner_text() == own
        taken_as_suggested += bool(as_suggested)
        page.keyboard.press("Enter" if as_suggested else own)
    expect(page.get_by_text("All sorted")).to_be_visible()
    assert taken_as_suggested >= 15
    page.keyboard.press("u")
    expect(item).to_contain_text("1 item left")
    page.get_by_role("link", name="Mixed bank").first.click()
    expect(count_of(page, "Mixed bank")).to_contain_text("23")
    held = [int(count_of(page, name).locator(".faint").inner_text()) for name in ("Describing a profile", "Taking samples")]
    assert sum(held) == 22 and min(held) >= 9


def test_a_near_duplicate_of_the_word_test_is_merged(page):
    open_course(page)
    row = page.get_by_role("row").filter(has_text="week-2-quiz.docx")
    row.get_by_role("link").first.click()
    page.get_by_role("button", name="In the pools already?").click()
    known = page.get_by_role("dialog", name="In the pools already")
    expect(known).to_contain_text("nearly the same")
    page.keyboard.press("Escape")
    expect(known).to_be_hidden()
    page.get_by_role("button", name=re.compile(r"Take \d+ (of \d+ )?into pools")).click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Take . items? into")).click()
    expect(pool(page, "Week 2: Texture and Structure")).to_be_visible()

    page.get_by_role("link", name="Near-duplicates").click()
    before = page.evaluate("async () => (await (await fetch('/api/alike')).json()).looked")
    page.get_by_role("button", name=re.compile("^Look")).click()
    page.evaluate(LOOKED, before)
    expect(page.get_by_text(re.compile(r"open, looked for"))).to_be_visible()
    pairs = page.get_by_role("region", name="Pair")
    found = page.evaluate(PAIR_OF, ["docx", "ground-beneath-chapters.zip"])
    page.goto(re.sub(r"/alike.*", f"/alike/{found}", page.url))
    expect(pairs.locator(".sides").first).to_contain_text("Chapter 2: Texture and Structure")
    chapter_is_left = "Chapter 2: Texture and Structure" in pairs.locator(".where").first.inner_text()
    expect(pairs.locator("mark").first).to_be_visible()
    page.keyboard.press("L" if chapter_is_left else "R")
    expect(page.get_by_role("status").filter(has_text="Kept one.")).to_be_visible()
    stage(page, "Pools")
    page.get_by_label("Filter by words").fill('"particles is the smallest"')
    expect(page.get_by_role("heading", name="All items")).to_be_visible()
    expect(page.locator(".item").filter(has_text="Which of these particles is the smallest?")).to_have_count(1)


def test_a_copy_is_sent_to_a_colleague_who_looks_at_it_and_takes_it(page):
    open_course(page)
    stage(page, "Pools")
    pool(page, "Chapter 3: Water in Soil").click()
    page.get_by_role("button", name="Send a copy").click()
    dialog = page.get_by_role("dialog", name=re.compile("Send a copy of Chapter 3"))
    dialog.get_by_label("To colleagues").fill("tobin")
    dialog.get_by_label("A word with it").fill("For your wet week.")
    dialog.get_by_role("button", name="Send a copy").click()
    expect(page.get_by_role("status").filter(has_text="Offered 21 items to tobin")).to_be_visible()
    stage(page, "Sources")
    offers = page.get_by_role("region", name="Offers")
    expect(offers).to_contain_text("has not looked yet")
    sign_out(page)

    sign_in_as_tobin(page)
    page.get_by_role("link", name="Field Methods 210").click()
    offer = page.get_by_role("region", name="Offers").get_by_role("listitem").filter(has_text="Chapter 3")
    expect(offer).to_contain_text("For your wet week.")
    offer.get_by_role("link", name="Its ledger").click()
    expect(page.get_by_role("heading", name=re.compile("sent by mara"))).to_be_visible()
    page.go_back()
    offer.get_by_role("button", name="Look at it in Check").click()
    row = page.get_by_role("row").filter(has_text="Chapter 3: Water in Soil from mara")
    expect(row).to_contain_text("21")
    row.get_by_role("link").first.click()
    page.get_by_role("button", name=re.compile(r"Take (\d+ of )?21 into pools")).click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Take 21 items")).click()
    expect(count_of(page, "Storage")).to_contain_text("8")
    expect(count_of(page, "Chapter 3: Water in Soil")).to_contain_text("21")
    sign_out(page)

    open_course(page)
    expect(page.get_by_role("region", name="Offers")).to_contain_text("took 21 of 21 items")


def test_a_reader_looks_and_copies_and_cannot_change(page):
    sign_in(page)
    page.get_by_role("link", name="Field Methods 210").click()
    expect(page.get_by_role("link", name=re.compile("tobin’s · you read"))).to_be_visible()
    expect(page.get_by_role("button", name="Open files")).to_have_count(0)
    stage(page, "Pools")
    expect(page.locator(".item").first).to_be_visible()
    page.keyboard.press("a")
    bar = page.get_by_role("toolbar", name="Selected items")
    expect(bar).to_contain_text(re.compile(r"all \d+ that match"))
    held = re.search(r"all (\d+) that match", bar.inner_text())[1]
    for action in ("Move", "Change", "Into a quiz", "Hand on"):
        expect(bar.get_by_role("button", name=action)).to_have_count(0)
    page.locator(".item").first.click()
    expect(page.get_by_role("region", name="Item", exact=True)).to_contain_text("Soil colour")
    expect(page.get_by_role("button", name=re.compile("^Edit"))).to_have_count(0)
    refused = page.evaluate(
        """async () => {
            const token = document.cookie.match(/csrftoken=([^;]+)/)[1]
            const send = (path, method, body) => fetch('/api' + path, {
                method, body: JSON.stringify(body),
                headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token } })
            const course = location.pathname.split('/')[2]
            const answer = await send(`/courses/${course}/items/delete`, 'POST', { all_matching: true })
            return [answer.status, (await answer.json()).way_out] }"""
    )
    assert refused[0] == 403 and "tobin" in refused[1]
    bar.get_by_role("button", name=re.compile("^Copy")).click()
    dialog = page.get_by_role("dialog", name=f"Copy all {held} that match")
    dialog.get_by_label("Name of a new pool").fill("From tobin’s field days")
    dialog.get_by_role("button", name=f"Copy all {held} that match").click()
    expect(page.get_by_role("status").filter(has_text=f"Copied {held} items.")).to_be_visible()
    page.get_by_role("link", name="Rogatum").click()
    page.get_by_role("link", name="Soil Science 110").click()
    stage(page, "Pools")
    expect(count_of(page, "From tobin’s field days")).to_contain_text(held)
