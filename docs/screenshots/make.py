"""Takes the pictures of the main views from a running demo: `python docs/screenshots/make.py [http://127.0.0.1:8000] [name …]`."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

HERE = Path(__file__).parent
CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--no-first-run",
]


def check(page: Page) -> None:
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile("Check")).click()
    page.get_by_role("link", name="chapter-4-from-paper.txt").click()
    page.get_by_role("region", name="Item as it was read").wait_for()
    page.keyboard.press("n")
    page.keyboard.press("n")
    page.get_by_label("Findings about this item").wait_for()


def take(page: Page) -> None:
    _stage(page, "Check")
    page.get_by_role("link", name="week-3-quiz-last-year.zip").click()
    page.get_by_role("region", name="Item as it was read").wait_for()
    page.keyboard.press("t")
    page.get_by_label("Make the quiz").check()


def pools(page: Page) -> None:
    _stage(page, "Pools")
    page.get_by_role("tree").get_by_text("Texture", exact=True).click()
    page.get_by_text("A sample has 40").click()
    page.get_by_label("Item", exact=True).locator("img").wait_for()


def sorting(page: Page) -> None:
    _stage(page, "Pools")
    page.get_by_role("tree").get_by_text("Mixed bank", exact=True).click()
    page.get_by_role("link", name="Sort it").click()
    item = page.get_by_role("region", name="Item to sort")
    for left, key in ((23, "1"), (22, "1"), (21, "1"), (20, "2")):
        item.get_by_text(f"{left} items left").wait_for()
        page.keyboard.press(key)
    item.get_by_text("19 items left").wait_for()
    page.locator("li.best").wait_for()


def alike(page: Page) -> None:
    _stage(page, "Pools")
    page.get_by_role("link", name="Near-duplicates").click()
    page.get_by_role("group", name="What becomes of them").wait_for()


def quiz(page: Page) -> None:
    _stage(page, "Quizzes")
    page.get_by_role("link", name="Week 3").click()
    page.get_by_role("img", name=re.compile("^How many items two students share")).wait_for()


def _view(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Views of the quiz").get_by_role("link", name=re.compile(name)).click()


def plan(page: Page) -> None:
    _stage(page, "Quizzes")
    page.get_by_role("link", name="Final").click()
    _view(page, "Plan")
    page.get_by_label("How many of row 2").fill("9")
    page.get_by_text("are short").or_(page.get_by_text("is short")).wait_for()


def settings(page: Page) -> None:
    quiz(page)
    _view(page, "Settings")
    page.get_by_text("Worth a second look").wait_for()


def trying(page: Page) -> None:
    quiz(page)
    page.keyboard.press("y")
    page.get_by_label("You try it as").select_option("student R. Vane")
    page.get_by_text("You have 37.5 minutes").wait_for()
    page.get_by_role("button", name="Start anew").click()
    page.get_by_role("button", name="Begin", exact=True).click()
    page.locator("input[type=radio]").first.check()
    page.get_by_text("All answers are saved").wait_for()


def handoff(page: Page) -> None:
    _stage(page, "Hand-off")
    page.locator(".scopes .el-select__suffix").click()
    page.get_by_role("option", name="Pool: Chapter 2: Texture and Structure").click()
    page.get_by_role("heading", name="Hand on", exact=True).click()
    page.get_by_role("checkbox", name=re.compile("A platform without numbers")).check()
    page.get_by_role("row", name=re.compile("Paper")).get_by_role("link", name="Item by item").wait_for()


def forecast(page: Page) -> None:
    handoff(page)
    page.get_by_role("row", name=re.compile("A platform with choices only")).get_by_role("link", name="Item by item").click()
    grid = page.get_by_role("grid", name="Items by facets")
    grid.get_by_role("button", name=re.compile("A sample of 50")).click()
    page.get_by_label("What will happen to this item").get_by_text("Turn it into").first.wait_for()


def ledger(page: Page) -> None:
    _stage(page, "Hand-off")
    page.locator(".history").get_by_role("row").filter(has_text="A platform without numbers").get_by_role("link").first.click()
    page.get_by_role("tab", name=re.compile("As it stands")).click()
    page.get_by_role("grid", name="Ledger").wait_for()
    page.get_by_role("grid", name="Ledger").get_by_role("button").nth(3).click()


def _stage(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile(name)).click()


def dark(page: Page) -> None:
    page.get_by_role("navigation", name="Stages").wait_for()
    page.evaluate("localStorage.setItem('rogatum-theme', 'dark')")
    page.reload()
    check(page)


def sources(page: Page) -> None:
    page.get_by_role("table").wait_for()


def document(page: Page) -> None:
    _stage(page, "Check")
    page.get_by_role("link", name="week-2-quiz.docx").click()
    page.get_by_role("region", name="Item as it was read").wait_for()
    for _ in range(5):
        page.keyboard.press("ArrowDown")
    page.get_by_text("Item 6 of 6").wait_for()


def package(page: Page) -> None:
    _stage(page, "Check")
    page.get_by_role("link", name="week-3-quiz-last-year.zip").click()
    page.get_by_label("Parts of the source").wait_for()
    page.locator(".item .choices li").nth(1).hover()


def proof(page: Page) -> None:
    check(page)
    page.keyboard.press("v")
    page.get_by_role("region", name="Item 4", exact=True).wait_for()


def edit(page: Page) -> None:
    check(page)
    page.keyboard.press("e")
    page.get_by_role("textbox", name="Stem").click()


VIEWS: dict[str, Callable[[Page], None]] = {
    "sources": sources,
    "check": check,
    "check-document": document,
    "package": package,
    "proof": proof,
    "edit": edit,
    "take": take,
    "pools": pools,
    "alike": alike,
    "quiz": quiz,
    "plan": plan,
    "settings": settings,
    "trying": trying,
    "hand-off": handoff,
    "forecast": forecast,
    "ledger": ledger,
    "check-dark": dark,
    "sorting": sorting,
}


def main(address: str, names: list[str]) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for name in names or ["sign-in", *VIEWS]:
            page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
            page.goto(address)
            page.get_by_role("button", name="Sign in as mara").wait_for()
            if name in VIEWS:
                page.get_by_role("button", name="Sign in as mara").click()
                page.get_by_role("link", name="Soil Science 110").click()
                VIEWS[name](page)
            page.wait_for_timeout(350)
            page.screenshot(path=HERE / f"{name}.png")
            page.close()
        browser.close()


if __name__ == "__main__":
    words = sys.argv[1:]
    main(words[0] if words else "http://127.0.0.1:8000", words[1:])
