"""No pattern of the core takes longer than in proportion to the text: each is timed on texts that are made to hold it up.

The patterns are found in the code, with the methods that they are used by; the texts are made of the signs and words that each
pattern itself looks for. The measure is a plain scan of the same text in the same run, so that the machine does not count.
"""

from __future__ import annotations

import ast
import importlib
import pkgutil
import re
import re._constants as op  # type: ignore[import-not-found]
import re._parser as parser  # type: ignore[import-not-found]
import signal
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

import rogatum.core

ROOT = Path(rogatum.core.__file__).parent
LENGTH = 20_000
LONG = 100_000
# A square of the length would be hundreds of plain scans at 20 kB, and thousands at 100 kB.
MOST = 80
METHODS = {"search", "match", "fullmatch", "finditer", "findall", "split", "sub", "subn"}
PLAIN = re.compile(r"[^\W\d_]\x00|\d\x00|\s\x00|[^\w\s]\x00")
COMMON = [" ", "\t", "a", "A", "1", "i", "(", "[", "<", "_", "*", ".", "-", "a ", "1 ", "1. ", "a. ", "(a", "a,", "i,", "1,", "\n", "\n ", "<a ", "T ", "&", "$", "\\(", "\\[", "<p>"]  # fmt: skip


def modules() -> Iterator[object]:
    for found in pkgutil.walk_packages(rogatum.core.__path__, "rogatum.core."):
        yield importlib.import_module(found.name)


def patterns_in(value: object) -> Iterator[re.Pattern]:
    if isinstance(value, re.Pattern):
        yield value
    elif isinstance(value, dict):
        for part in value.values():
            yield from patterns_in(part)
    elif isinstance(value, list | tuple):
        for part in value:
            yield from patterns_in(part)


def uses() -> tuple[dict[str, set[str]], list[tuple[str, re.Pattern, str]]]:
    """By which methods each name is used, anywhere in the core; and patterns that stand where they are used."""
    named: dict[str, set[str]] = {}
    inline = []
    for path in ROOT.rglob("*.py"):
        for call in (
            node for node in ast.walk(ast.parse(path.read_text())) if isinstance(node, ast.Attribute) and node.attr in METHODS
        ):
            owner = call.value
            if isinstance(owner, ast.Name | ast.Attribute):
                named.setdefault(owner.id if isinstance(owner, ast.Name) else owner.attr, set()).add(call.attr)
        for call in (node for node in ast.walk(ast.parse(path.read_text())) if isinstance(node, ast.Call)):
            about = call.func
            if (
                isinstance(about, ast.Attribute)
                and isinstance(about.value, ast.Name)
                and about.value.id == "re"
                and about.attr in METHODS
            ):
                inline += [(f"{path.name}:{call.lineno}", made, about.attr) for made in _literal(call)]
    return named, inline


def _literal(call: ast.Call) -> list[re.Pattern]:
    flags = 0
    for part in [*call.args[1:], *(keyword.value for keyword in call.keywords)]:
        for name in re.findall(r"\bre\.([A-Z]+)\b", ast.unparse(part)):
            flags |= getattr(re, name)
    try:
        text = eval(compile(ast.Expression(call.args[0]), "", "eval"), {"spaces": rogatum.core.spaces, "re": re})  # noqa: S307
        return [re.compile(text, flags)]
    except (NameError, AttributeError):
        return []  # made of parts that only the place knows; such parts are escaped texts


def cases() -> list[tuple[str, re.Pattern, tuple[str, ...]]]:
    named, inline = uses()
    found: dict[tuple[str | bytes, int], tuple[str, re.Pattern, set[str]]] = {}
    for module in modules():
        for name, value in vars(module).items():
            for pattern in patterns_in(value):
                methods = named.get(name, set()) if isinstance(value, re.Pattern) else {"search", "match"}
                found.setdefault((pattern.pattern, pattern.flags), (f"{module.__name__}.{name}", pattern, set()))[2].update(methods)
    for where, pattern, method in inline:
        found.setdefault((pattern.pattern, pattern.flags), (where, pattern, set()))[2].add(method)
    return sorted(
        ((where, pattern, tuple(sorted(methods))) for where, pattern, methods in found.values()), key=lambda case: case[0]
    )


def pieces(tree: object, signs: set[str], words: set[str], run: str = "") -> None:
    """The signs and words that a parsed pattern looks for."""
    for code, value in tree:
        if code is op.LITERAL:
            signs.add(chr(value))
            run += chr(value)
            continue
        words.add(run)
        run = ""
        if code is op.IN:
            signs.update(
                chr(part[0] if isinstance(part, tuple) else part) for kind, part in value if kind in (op.LITERAL, op.RANGE)
            )
        for inner in _inner(code, value):
            pieces(inner, signs, words)
    words.add(run)


def _inner(code: object, value: object) -> list[object]:
    if code in (op.MAX_REPEAT, op.MIN_REPEAT, op.POSSESSIVE_REPEAT):
        return [value[2]]
    if code is op.SUBPATTERN:
        return [value[3]]
    if code is op.BRANCH:
        return value[1]
    return [value[1]] if code in (op.ASSERT, op.ASSERT_NOT) else [value] if code is op.ATOMIC_GROUP else []


def texts(pattern: re.Pattern, length: int) -> Iterator[str | bytes]:
    signs, words = set[str](), set[str]()
    pieces(parser.parse(pattern.pattern, pattern.flags & ~re.DEBUG), signs, words)
    words = set(sorted(word for word in words if len(word) > 1)[:12])
    units = [
        *COMMON,
        *sorted(signs)[:16],
        *(sign + " " for sign in sorted(signs)[:10]),
        *sorted(words),
        *(word + " " for word in words),
    ]
    starts = ["", "1. What ", *sorted(words)[:6]]
    for unit in dict.fromkeys(units):
        for start in starts if unit in (" ", "a", "1", "a ", "<", "(") else ("",):
            text = start + (unit * (length // len(unit) + 1))[:length] + "!x\n;"
            yield text.encode("utf-8", "replace") if isinstance(pattern.pattern, bytes) else text


class TooSlow(Exception):
    pass


def _ring(*_: object) -> None:
    raise TooSlow


def seconds(pattern: re.Pattern, method: str, text: str | bytes, most: float) -> float:
    """How long it takes, at most `most`: the engine heeds signals, so a pattern that would take hours costs no more."""
    finding = method in ("finditer", "findall", "split", "sub", "subn")
    try:
        # The process's own time: what else the machine does is not the pattern's.
        signal.setitimer(signal.ITIMER_VIRTUAL, most)
        started = time.process_time()
        if finding:
            for _ in pattern.finditer(text):
                pass
        else:
            getattr(pattern, method)(text)
        took = time.process_time() - started
        signal.setitimer(signal.ITIMER_VIRTUAL, 0)
    except TooSlow:
        return most
    return took


def plain(length: int) -> float:
    text = "a1 ," * (length // 4)
    times = 400_000 // length  # the clock of a process has coarse ticks
    started = time.process_time()
    for _ in range(times):
        PLAIN.search(text)
    return max(time.process_time() - started, 0.001) / times


@pytest.fixture
def alarm():
    before = signal.signal(signal.SIGVTALRM, _ring)
    yield
    signal.signal(signal.SIGVTALRM, before)


def _held_up(where: str, pattern: re.Pattern, methods: tuple[str, ...], length: int, floor: float) -> str | None:
    for text in texts(pattern, length):
        for method in methods:
            # What was slow once may have been the machine: only what is slow three times is the pattern.
            if all(seconds(pattern, method, text, MOST * floor) >= MOST * floor for _ in range(3)):
                return f"{where}.{method} on {text[:24]!r}… of {length}: more than {MOST} plain scans"
    return None


CASES = cases()


@pytest.mark.parametrize("part", range(4))
def test_no_pattern_is_held_up(part, alarm):
    floor = plain(LENGTH)
    slow = [told for case in CASES[part::4] if (told := _held_up(*case, LENGTH, floor))]
    assert not slow, "\n".join(slow)


def test_the_measure_finds_what_takes_the_square(alarm):
    assert len(CASES) > 200 and sum(bool(methods) for *_, methods in CASES) > 200
    for bad in (r"\s*;", r"^(?:a|a)*$", r"\(.*\)"):
        assert _held_up("bad", re.compile(bad), ("search",), LENGTH, plain(LENGTH))


@pytest.mark.parametrize("unit", [" ", "<", "(", "a", "1 ", "_", "\t"])
def test_a_line_of_100_kb_costs_what_it_is_long(unit, alarm):
    floor, text = plain(LONG), "1. What " + unit * (LONG // len(unit)) + "!x"
    slow = []
    for where, pattern, methods in CASES:
        made = text.encode() if isinstance(pattern.pattern, bytes) else text
        for method in methods:
            if all(seconds(pattern, method, made, MOST * floor) >= MOST * floor for _ in range(3)):
                slow.append(f"{where}.{method}")
    assert not slow, slow
