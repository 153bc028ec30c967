"""The real program, started as `make demo` starts it, on a data folder of its own; and Debian's Chromium to use it."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

ROOT = Path(__file__).parent.parent.parent
CHROMIUM = "/usr/bin/chromium"
PATIENCE = 30_000  # ms; a busy machine is slow, not wrong
expect.set_options(timeout=PATIENCE)
# `SLOWNESS=6 make browser-test` gives the page a sixth of the processor and each answer 600 ms: what waits for the wrong thing fails.
SLOWNESS = int(os.environ.get("SLOWNESS", "1"))
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--no-first-run"]


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The address of a running program with the demo course."""
    environment = os.environ | {"ROGATUM_DATA": str(tmp_path_factory.mktemp("data")), "ROGATUM_DEMO": "1"}
    environment.pop("ROGATUM_JOBS", None)
    for words in (["rogatum.web", "migrate", "-v", "0"], ["rogatum.demo"]):
        subprocess.run([sys.executable, "-m", *words], cwd=ROOT, env=environment, check=True)
    port = _free_port()
    server = subprocess.Popen([sys.executable, "-m", "rogatum.web", "serve", "--port", str(port)], cwd=ROOT, env=environment)
    home = f"http://127.0.0.1:{port}"
    try:
        _wait_for(home, server)
        yield home
    finally:
        server.terminate()
        server.wait(15)


def _wait_for(home: str, server: subprocess.Popen[bytes]) -> None:
    for _ in range(150):
        try:
            urllib.request.urlopen(home, timeout=2).close()
            return
        except OSError:
            assert server.poll() is None, "the server ended"
            time.sleep(0.2)
    raise AssertionError("the server does not answer")


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield chromium
        chromium.close()


@pytest.fixture
def page(browser: Browser, address: str) -> Iterator[Page]:
    """A page at the sign-in; an error in the page's own scripts fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce", accept_downloads=True)
    context.set_default_timeout(PATIENCE)
    opened = context.new_page()
    if SLOWNESS > 1:
        _slow(opened)
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    opened.goto(address)
    yield opened
    context.close()
    assert not errors


def _slow(page: Page) -> None:
    tools = page.context.new_cdp_session(page)
    tools.send("Emulation.setCPUThrottlingRate", {"rate": SLOWNESS})
    tools.send("Network.enable")
    slow = {"offline": False, "latency": 100 * SLOWNESS, "downloadThroughput": -1, "uploadThroughput": -1}
    tools.send("Network.emulateNetworkConditions", slow)
