"""How long somebody waits while another account sends eight requests of 20 KB, each as hard as can be, and gives them up."""

from __future__ import annotations

import json
import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any

from tests.running.program import Person, Program

SIZE, AT_ONCE, GIVEN_UP = 20_000, 8, 2.0
TEXTS = {
    "brackets": "[" * SIZE,
    "links": "[a](b " * (SIZE // 6),
    "emphasis": "_a_*b*" * (SIZE // 6),
    "formulas": "$" * SIZE,
    "fractions": r"\(" + r"\frac{" * (SIZE // 6) + r"\)",
    "blanks": "____ " * (SIZE // 5),
    "tables": "<table><tr><td>" * (SIZE // 15),
    "lists": "<ul><li>" * (SIZE // 8),
    "lines": "".join(f"{n}. a\n*a. b\nb. c\n" for n in range(SIZE // 18)),
    "pairs": "::a::b {" + "=a->b\n" * (SIZE // 7) + "}",
}
TOML = {"dotted": "a." * (SIZE // 2) + "b=1", "nested": "a=" + "[" * SIZE, "inline": "a=" + "{a=" * (SIZE // 3)}
OF_AN_ITEM = ("item-check", "item-type", "item-blanks", "item-lengths")


class Crowd:
    def __init__(self, folder: Path) -> None:
        self.program = Program(folder / "data", ["many", "one"], folder / "told.log")

    def report(self, report: Callable[[str, float, float, str], None]) -> None:
        try:
            many, one = Person(self.program, "many"), Person(self.program, "one")
            alone = min(self._look(one) for _ in range(20))
            beside = max(self._beside(many, one, path, body) for path, body in _requests(many.course))
            report("Another's look beside eight requests given up, worst", beside, alone, "the look alone")
        finally:
            self.program.stop()

    def _look(self, person: Person) -> float:
        start = time.perf_counter()
        person.ok("GET", "/courses")
        return time.perf_counter() - start

    def _beside(self, many: Person, one: Person, path: str, body: Any) -> float:
        """The longest look while eight such requests are at work and just behind them, in seconds."""
        sending = [threading.Thread(target=self._give_up, args=(many, path, body)) for _ in range(AT_ONCE)]
        for thread in sending:
            thread.start()
        looks = [self._look(one) for _ in range(5)]
        while any(thread.is_alive() for thread in sending):
            looks.append(self._look(one))
        return max(*looks, self._look(one))

    def _give_up(self, person: Person, path: str, body: Any) -> None:
        data = json.dumps(body).encode()
        cookies = {str(cookie.name): str(cookie.value) for cookie in person.jar}
        heads = {
            "Host": f"127.0.0.1:{self.program.port}",
            "Cookie": "; ".join(f"{name}={value}" for name, value in cookies.items()),
            "X-CSRFToken": cookies["csrftoken"],
            "Content-Type": "application/json",
            "Content-Length": str(len(data)),
        }
        head = f"POST /api{path} HTTP/1.1\r\n" + "".join(f"{name}: {value}\r\n" for name, value in heads.items())
        with suppress(OSError), socket.create_connection(("127.0.0.1", self.program.port), GIVEN_UP) as line:
            line.sendall(f"{head}\r\n".encode() + data)
            line.recv(1)


def _requests(course: int) -> Iterator[tuple[str, Any]]:
    for text in TEXTS.values():
        yield f"/courses/{course}/sources/preview", {"text": f"1. {text}"}
        for path in OF_AN_ITEM:
            yield f"/{path}", {"item": {"type": "essay", "id": "x", "title": "", "stem": text}, "type": "cloze"}
    for text in TOML.values():
        yield "/receivers/of-toml", {"toml": text}
