"""Each main view: no serious finding of axe-core, addresses that hold, undo, and large lists that stay quick to use."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ROOT
from tests.browser.steps import open_course, stage

pytestmark = pytest.mark.browser
AXE = ROOT / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
SAMPLE = "A sample has 40"
# Done when nothing moves any more; what turns for ever is not waited for.
STILL = """() => Promise.all(document.getAnimations()
    .filter((one) => one.effect.getTiming().iterations !== Infinity)
    .map((one) => one.finished.catch(() => null)))
    .then(() => true)"""


def reading(page: Page) -> None:
    stage(page, "Check")
    page.get_by_role("link", name="chapter-4-from-paper.txt").click()
    page.get_by_role("region", name="Item as it was read").wait_for()
    page.keyboard.press("n")
    page.get_by_label("Findings about this item").wait_for()


def editing(page: Page) -> None:
    page.keyboard.press("e")
    page.get_by_role("textbox", name="Stem").click()
    page.get_by_role("toolbar").wait_for()


def proof(page: Page) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Leave it as it was").click()
    page.keyboard.press("v")
    page.get_by_role("region", name="Item 1", exact=True).wait_for()


def mending(page: Page) -> None:
    page.keyboard.press("M")
    page.get_by_role("dialog", name="Mend many at once").get_by_label("no points becomes").fill("1")
    page.get_by_role("dialog", name="Mend many at once").get_by_role("row").filter(has_text="1 point").first.wait_for()


def package(page: Page) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    stage(page, "Check")
    page.get_by_role("link", name="week-3-quiz-last-year.zip").click()
    page.get_by_label("Parts of the source").wait_for()
    page.get_by_role("region", name="Proof by sample").wait_for()


def markup(page: Page) -> None:
    page.keyboard.press("m")
    page.get_by_label("Markup of the item").wait_for()


def chosen(page: Page) -> None:
    stage(page, "Sources")
    for name in ("week-2-quiz.docx", "quick-questions.csv"):
        page.get_by_role("checkbox", name=f"Choose {name}").check()
    page.get_by_role("region", name="Chosen sources").wait_for()


def comparison(page: Page) -> None:
    page.get_by_role("button", name="Compare").click()
    page.get_by_role("heading", name=re.compile("No item is in both")).wait_for()


def taking(page: Page) -> None:
    stage(page, "Sources")
    page.get_by_role("button", name=re.compile("^Take")).first.click()
    page.get_by_role("dialog", name="Take several sources as one").get_by_role("row").first.wait_for()


def pools(page: Page) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    stage(page, "Pools")
    page.get_by_role("tree").get_by_text("Texture", exact=True).click()
    page.get_by_text(SAMPLE).first.click()
    expect(page.get_by_label("Item", exact=True)).to_contain_text(SAMPLE)


def filters(page: Page) -> None:
    stage(page, "Pools")
    page.locator("body").evaluate("() => document.activeElement.blur()")
    page.keyboard.press("F")
    page.get_by_label("Filter by type").select_option("multiple_choice")
    page.get_by_role("button", name="Type: multiple choice").wait_for()


def changing(page: Page) -> None:
    page.locator("body").evaluate("() => document.activeElement.blur()")
    page.keyboard.press("a")
    page.keyboard.press("v")
    expect(page.get_by_label("What it will do")).to_contain_text("will change")


def splitting(page: Page) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    page.get_by_role("button", name="More").last.click()
    page.get_by_role("menuitem", name="Split into pools").click()
    page.get_by_role("list", name="Groups").wait_for()


def sorting(page: Page) -> None:
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    page.get_by_role("button", name="Select none").click()
    page.get_by_role("tree").get_by_text("Mixed bank", exact=True).click()
    page.get_by_role("link", name="Sort it").click()
    expect(page.get_by_role("region", name="Item to sort")).to_contain_text("left")


def alike(page: Page) -> None:
    stage(page, "Pools")
    page.get_by_role("link", name="Near-duplicates").click()
    page.get_by_role("group", name="What becomes of them").wait_for()


def whole_item(page: Page) -> None:
    page.get_by_role("region", name="Pair").get_by_role("link").first.click()
    page.get_by_role("heading", name="History").wait_for()


def course(page: Page) -> None:
    page.get_by_role("button", name="mara").click()
    page.get_by_role("menuitem", name="People, saving, deleted").click()
    page.get_by_role("heading", name="People").wait_for()


def quiz(page: Page) -> None:
    stage(page, "Quizzes")
    page.get_by_role("link", name="Week 3").click()
    page.get_by_role("img", name=re.compile("^How many items two students share")).wait_for()


def quizzes(page: Page) -> None:
    stage(page, "Quizzes")
    page.get_by_role("checkbox", name="Choose Final", exact=True).check()
    page.get_by_role("region", name="Chosen quizzes").wait_for()


def carrying(page: Page) -> None:
    page.get_by_role("button", name="Carry it on").click()
    page.get_by_role("dialog", name="Carry Final on").wait_for()


def plan(page: Page) -> None:
    page.get_by_role("button", name="Not now").click()
    page.get_by_role("dialog").wait_for(state="hidden")
    page.get_by_role("link", name="Final", exact=True).click()
    view(page, "Plan")
    page.get_by_text("All 24 items can be had.").wait_for()


def settings(page: Page) -> None:
    quiz(page)
    view(page, "Settings")
    page.get_by_text("Each student gets 11 of 26 items").wait_for()


def draws(page: Page) -> None:
    view(page, "Draws")
    page.get_by_role("table", name="Items that two students share").wait_for()


def view(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Views of the quiz").get_by_role("link", name=re.compile(name)).click()


def starting(page: Page) -> None:
    page.get_by_role("button", name=re.compile("Try it as a student")).click()
    page.get_by_role("button", name="Start anew").click()
    page.get_by_role("button", name="Begin", exact=True).wait_for()


def trying(page: Page) -> None:
    page.get_by_role("button", name="Begin", exact=True).click()
    page.locator("li.question").first.wait_for()


def reviewing(page: Page) -> None:
    page.get_by_role("button", name="Hand it in").click()
    page.get_by_role("button", name="Hand it in as it is").click()
    page.get_by_role("button", name="Look at attempt 1").click()
    page.get_by_role("status").filter(has_text="of 11 points").wait_for()


def handing_on(page: Page) -> None:
    page.get_by_role("link", name="Back to the quiz").click()
    stage(page, "Hand-off")


def ledger(page: Page) -> None:
    stage(page, "Hand-off")
    page.locator(".history").get_by_role("link").first.click()
    page.get_by_role("grid", name="Ledger").wait_for()


def forecast(page: Page) -> None:
    stage(page, "Hand-off")
    page.get_by_role("link", name="Item by item").nth(2).click()
    page.get_by_role("grid", name="Items by facets").get_by_role("row").nth(2).click()
    page.get_by_label("What will happen to this item").wait_for()


def receivers(page: Page) -> None:
    stage(page, "Hand-off")
    page.get_by_role("link", name=re.compile("^Receivers")).click()
    page.get_by_label("Formulas", exact=True).wait_for()


VIEWS = {
    "sources": lambda page: page.get_by_role("table").wait_for(),
    "check": reading,
    "editing": editing,
    "proof": proof,
    "mending": mending,
    "package": package,
    "markup": markup,
    "chosen": chosen,
    "comparison": comparison,
    "taking": taking,
    "pools": pools,
    "filters": filters,
    "changing": changing,
    "splitting": splitting,
    "sorting": sorting,
    "alike": alike,
    "item": whole_item,
    "course": course,
    "quizzes": quizzes,
    "carrying": carrying,
    "plan": plan,
    "quiz": quiz,
    "settings": settings,
    "draws": draws,
    "starting": starting,
    "trying": trying,
    "reviewing": reviewing,
    "hand-off": handing_on,
    "forecast": forecast,
    "receivers": receivers,
    "ledger": ledger,
}


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_no_view_has_a_serious_barrier(page, theme):
    found = {}
    page.evaluate(f"localStorage.setItem('rogatum-theme', '{theme}')")
    page.reload()
    found["sign-in"] = barriers(page)
    open_course(page)
    for name, show in VIEWS.items():
        show(page)
        found[name] = barriers(page)
    assert [f"{name}: {rule}" for name, rules in found.items() for rule in rules] == []


def barriers(page: Page) -> list[str]:
    page.evaluate(STILL)
    if not page.evaluate("typeof window.axe !== 'undefined'"):
        page.evaluate(AXE.read_text())
    result = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    serious = [v for v in result["violations"] if v["impact"] in ("serious", "critical")]
    return [f"{v['id']}: {node['html'][:120]} {node['any'][:1]}" for v in serious for node in v["nodes"][:3]]


def test_an_address_lands_in_the_same_place(page):
    open_course(page)
    pools(page)
    page.reload()
    expect(page.get_by_label("Item", exact=True)).to_contain_text(SAMPLE)


def test_bad_files_are_said_with_a_way_out(page):
    open_course(page)
    bad = [("empty.xml", b""), ("broken.xml", b"<questestinterop><item"), ("photo.txt", b"\x89PNG\r\n\x1a\n")]
    page.get_by_label("Files").set_input_files([{"name": n, "mimeType": "text/plain", "buffer": data} for n, data in bad])
    for (name, _), fact in zip(bad, ("empty", "breaks off", "picture"), strict=True):
        expect(page.get_by_role("table").filter(has_text=name)).to_contain_text(fact)


def test_points_in_bulk_are_undone(page):
    open_course(page)
    pools(page)
    page.locator("body").evaluate("() => document.activeElement.blur()")
    page.keyboard.press("a")
    page.keyboard.press("v")
    dialog = page.get_by_role("dialog", name="Change all 9 that match")
    dialog.get_by_label("Points", exact=True).fill("7")
    expect(dialog).to_contain_text("9 items will change")
    dialog.get_by_role("button", name="Change 9 items").click()
    done = page.locator("footer.bar")
    expect(done).to_contain_text("Set points to 7 on 9 items")
    expect(dialog).to_be_hidden()
    page.locator("body").evaluate("() => document.activeElement.blur()")
    page.keyboard.press("Control+z")
    expect(done).not_to_contain_text("Set points to 7 on 9 items")


def test_the_keys_are_listed(page):
    open_course(page)
    expect(page.get_by_role("button", name="Paste a test")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("Go to Check")


def test_the_source_follows_the_item(page):
    """Stepping to an item far down a long source brings its lines into view, or its parts."""
    open_course(page)
    for name, count in (("ground-beneath-chapters.zip", 64), ("chapter-4-from-paper.txt", 14)):
        stage(page, "Check")
        page.get_by_role("link", name=name).click()
        page.get_by_role("region", name="Item as it was read").wait_for()
        page.get_by_role("navigation", name="Items in the order of the source").get_by_role("button").last.click()
        expect(page.get_by_text(f"Item {count} of {count}")).to_be_visible()
        source = page.get_by_role("region", name="Source")
        expect(source.locator(".line.joined").or_(source.locator(".part")).first).to_be_in_viewport()
