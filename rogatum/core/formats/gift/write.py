"""Writes GIFT, ids and metadata in comments. What it has no place for (points, cloze, ordering) the ledger lists afterwards."""

from __future__ import annotations

import base64
import re
from collections.abc import Callable
from typing import Any

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.gift.carries import CARRIES
from rogatum.core.formats.shared.base import TEACHERS_COPY, WriteOptions, Written
from rogatum.core.items import (
    Bank,
    Choice,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    TrueFalse,
)
from rogatum.core.items.by_type import ByType
from rogatum.core.items.content import MATH, TEX, escape, plain_text, with_refs
from rogatum.core.items.retyping import as_type
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.sources import MediaBox

_LABEL = re.compile(r"(?!id$)[^\W\d_][\w .-]{0,60}")
_SPECIAL = re.compile(r"[~=#{}:]")
_BACKSLASH = re.compile(r"\\(?=[~=#{}:\\n]|$)")


def write_gift(bank: Bank, media: MediaBox, _options: WriteOptions = TEACHERS_COPY) -> Written:
    """The bank as one GIFT file in UTF-8."""
    writer = _Writer(media)
    paths = bank.pool_paths()
    current: tuple[str, ...] | None = None
    parts: list[str] = []
    for item in bank.items:
        text = writer.question(item)
        if text is None:
            continue
        path = paths.get(item.id, ())
        if path != current and path:
            parts.append("$CATEGORY: " + "/".join(_escaped(name.replace("/", "//")) for name in path))
            current = path
        parts.append(text)
    return Written(("\n\n".join(parts) + "\n").encode(), ".gift", writer.findings)


class _Writer:
    def __init__(self, media: MediaBox) -> None:
        self.media = media
        self.findings: list[Finding] = []

    def question(self, item: Item) -> str | None:
        """One question, or None for a type that GIFT has not; then a finding says so."""
        if item.type not in CARRIES.types:
            self.findings.append(LEFT_OUT.at("", item.id, detail=f"GIFT has no {TYPE_LABELS[item.type]} items."))
            return None
        told = [f"[id:{item.id}]", *_brackets(item)]
        title = f"::{_escaped(item.title)}::" if item.title else ""
        answers = _BODIES.of(item)(self, item)
        stem = self.text(item.stem)
        braces = "" if answers is None else f"{{{answers}}}"
        return f"// {' '.join(told)}\n{title}{stem}{' ' if braces and stem else ''}{braces}"

    def text(self, content: str) -> str:
        """Content as GIFT text: plain where it is plain, else HTML with inline pictures and TeX."""
        plain = MATH.sub("", content)
        if "<" not in plain and "&" not in plain:
            return _escaped(_with_tex(content, html=False))
        markup = _with_tex(with_refs(content, self._inline), html=True)
        return "[html]" + _escaped(markup)

    def _inline(self, ref: str) -> str:
        if ref not in self.media:
            return ref
        entry = self.media.entry(ref)
        with self.media.open(ref) as stream:
            return f"data:{entry.type};base64,{base64.b64encode(stream.read()).decode()}"

    def feedback(self, text: str | None) -> str:
        return f"#{self.text(text)}" if text and plain_text(text) else ""

    def general(self, item: Item) -> str:
        """General feedback on a line of its own, behind what ended a line: a blank line would end the question."""
        text = item.feedback.get("general")
        return f"####{self.text(text)}\n" if text else ""

    def choices(self, choices: list[Choice], single: bool) -> str:
        lines = []
        for choice in choices:
            if single and choice.weight == 1:
                mark = "="
            else:
                mark = "~" if choice.weight == 0 else f"~%{_percent(choice.weight)}%"
            lines.append(f"\n{mark}{self.text(choice.content)}{self.feedback(choice.feedback)}")
        return "".join(lines)

    def number(self, answer: NumericAnswer) -> str:
        low, high = answer.bounds()
        if answer.value is not None:
            return f"{_number(answer.value)}:{_number(answer.tolerance or 0)}"
        return f"{_number(max(low, -1e15))}..{_number(min(high, 1e15))}"


def _brackets(item: Item) -> list[str]:
    """The metadata of an item as readers of comments find them: a bracket for each value, its label before a colon."""
    fitting = [(label, values) for label, values in item.metadata.items() if _LABEL.fullmatch(label)]
    return [f"[{label}:{_in_bracket(value)}]" for label, values in fitting for value in values]


def _in_bracket(value: str) -> str:
    return " ".join(value.split()).replace("]", "\\]")


def _escaped(text: str) -> str:
    doubled = _BACKSLASH.sub(r"\\\\", text)
    return _SPECIAL.sub(lambda m: "\\" + m[0], doubled).replace("\n", "\\n")


def _with_tex(content: str, html: bool) -> str:
    def replaced(match: re.Match[str]) -> str:
        tex = TEX.search(match[0])
        if tex is None:
            return match[0] if html else plain_text(match[0])
        display = 'display="block"' in match[0]
        return f"\\[{tex[1]}\\]" if display else f"\\({tex[1]}\\)"

    content = MATH.sub(replaced, content)
    return content if html else plain_text(content)


def _percent(weight: float) -> str:
    return f"{weight * 100:.5f}".rstrip("0").rstrip(".")


def _number(value: float) -> str:
    return repr(int(value)) if value == int(value) and abs(value) < 1e15 else repr(value)


def _choice_body(writer: _Writer, item: MultipleChoice) -> str:
    return writer.choices(item.choices, single=True) + "\n" + writer.general(item)


def _response_body(writer: _Writer, item: MultipleResponse) -> str:
    choices = item.choices
    if item.scoring == "all_or_nothing":
        # The nearest that GIFT has: a wrong pick costs everything.
        choices = [c if c.weight > 0 else c.model_copy(update={"weight": -1.0}) for c in choices]
    return writer.choices(choices, single=False) + "\n" + writer.general(item)


def _true_false_body(writer: _Writer, item: TrueFalse) -> str:
    if item.answer is None:
        # What is said to be true or false has a key: without one it is two choices of which none is right.
        return _choice_body(writer, as_type(item, "multiple_choice").item)  # type: ignore[arg-type]
    right, wrong = ("true", "false") if item.answer else ("false", "true")
    texts = [item.choice_feedback.get(key) for key in (wrong, right)]  # type: ignore[call-overload]
    shown = "".join("#" + (writer.text(text) if text else "") for text in texts) if any(texts) else ""
    general = writer.general(item)
    return ("TRUE" if item.answer else "FALSE") + shown + (f"\n{general}" if general else "")


def _fill_in_body(writer: _Writer, item: FillIn) -> str:
    lines = []
    for answer in item.answers:
        weight = "" if answer.weight == 1 else f"%{_percent(answer.weight)}%"
        lines.append(f"\n={weight}{writer.text(escape(answer.text))}{writer.feedback(answer.feedback)}")
    return "".join(lines) + "\n" + writer.general(item)


def _numeric_body(writer: _Writer, item: Numeric) -> str:
    lines = []
    for answer in item.answers:
        weight = "" if answer.weight == 1 else f"%{_percent(answer.weight)}%"
        lines.append(f"\n={weight}{writer.number(answer)}{writer.feedback(answer.feedback)}")
    return "#" + "".join(lines) + "\n" + writer.general(item)


def _matching_body(writer: _Writer, item: Matching) -> str:
    lines = [f"\n={writer.text(pair.left)} -> {writer.text(pair.right)}" for pair in item.pairs]
    lines += [f"\n= -> {writer.text(text)}" for text in item.distractors]
    return "".join(lines) + "\n" + writer.general(item)


def _essay_body(writer: _Writer, item: Essay) -> str:
    general = writer.general(item)
    return f"\n{general}" if general else ""


def _no_body(_writer: _Writer, _item: Information) -> None:
    """A text without braces asks nothing."""


_BODIES: ByType[Callable[[_Writer, Any], str | None]] = ByType(
    "what stands in the braces in GIFT",
    {
        "multiple_choice": _choice_body,
        "multiple_response": _response_body,
        "true_false": _true_false_body,
        "fill_in": _fill_in_body,
        "numeric": _numeric_body,
        "matching": _matching_body,
        "essay": _essay_body,
        "information": _no_body,
    },
    CARRIES.types,
)
