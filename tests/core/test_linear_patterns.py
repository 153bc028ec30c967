"""No pattern of the core takes longer than in proportion to the text: each is timed on texts that are made to hold it up.

The patterns are found in the code, with the methods that they are used by; the texts are made of the signs and words that each
pattern itself looks for. The measure is a plain scan of the same text in the same run, so that the machine does not count; and
what looks slow on a short text is judged by a long one only, where the square of the length is far from any multiple of it: a
pattern of today takes 24 plain scans at most on either, one that takes the square 100 on the short text and 500 on the long.
"""

from __future__ import annotations

import ast
import importlib
import pkgutil
import re
import re._constants as op  # type: ignore[import-not-found]
import re._parser as parser  # type: ignore[import-not-found]
import signal
from collections import deque
from collections.abc import Iterator
from pathlib import Path

import pytest

import rogatum.core
from tests.core.paces import plain_scan, reaches, seconds

ROOT = Path(rogatum.core.__file__).parent
SHORT = 20_000
LONG = 100_000
# In plain scans: what is worth a long text, and what is too much there.
DOUBTFUL = 20
MOST = 120
METHODS = {"search", "match", "fullmatch", "finditer", "findall", "split", "sub", "subn"}
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


def taken(pattern: re.Pattern, method: str, text: str | bytes, most: float) -> float:
    """Seconds, at most `most`: the engine heeds signals, so a pattern that would take hours costs no more."""
    finding = method in ("finditer", "findall", "split", "sub", "subn")
    use = (lambda: deque(pattern.finditer(text), maxlen=0)) if finding else (lambda: getattr(pattern, method)(text))
    try:
        signal.setitimer(signal.ITIMER_VIRTUAL, most)
        took = seconds(use)
        signal.setitimer(signal.ITIMER_VIRTUAL, 0)
    except TooSlow:
        return most
    return took


@pytest.fixture
def alarm():
    before = signal.signal(signal.SIGVTALRM, _ring)
    yield
    signal.signal(signal.SIGVTALRM, before)


def slow(pattern: re.Pattern, method: str, text: str | bytes, length: int, most: int) -> bool:
    limit = most * plain_scan(length)
    return reaches(limit, lambda: taken(pattern, method, text, limit))


def held_up(where: str, pattern: re.Pattern, methods: tuple[str, ...]) -> str | None:
    # The long text is made of the same sign or word as the short one, in the same order.
    for short, long in zip(texts(pattern, SHORT), texts(pattern, LONG), strict=True):
        for method in methods:
            if slow(pattern, method, short, SHORT, DOUBTFUL) and slow(pattern, method, long, LONG, MOST):
                return f"{where}.{method} on {long[:24]!r}… of {LONG}: more than {MOST} plain scans"
    return None


CASES = cases()


@pytest.mark.parametrize("part", range(4))
def test_no_pattern_is_held_up(part, alarm):
    told = [told for case in CASES[part::4] if (told := held_up(*case))]
    assert not told, "\n".join(told)


@pytest.mark.parametrize("bad", [r"\s*;", r"^(?:a|a)*$", r"\(.*\)"])
def test_the_measure_finds_what_takes_the_square(bad, alarm):
    assert held_up("bad", re.compile(bad), ("search",))


def test_the_patterns_of_the_core_are_found():
    assert len(CASES) > 200 and sum(bool(methods) for *_, methods in CASES) > 200


@pytest.mark.parametrize("unit", [" ", "<", "(", "a", "1 ", "_", "\t"])
def test_a_line_of_100_kb_costs_what_it_is_long(unit, alarm):
    text = "1. What " + unit * (LONG // len(unit)) + "!x"
    told = []
    for where, pattern, methods in CASES:
        made = text.encode() if isinstance(pattern.pattern, bytes) else text
        told += [f"{where}.{method}" for method in methods if slow(pattern, method, made, LONG, MOST)]
    assert not told, told
