"""Reads GIFT: categories become pools, comments in brackets metadata, and every line is claimed or listed."""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Callable
from dataclasses import dataclass, field

from markdown_it import MarkdownIt

from rogatum.core.finding import Finding
from rogatum.core.findings.items import INVALID_ITEM, TYPE_GUESSED, TYPE_UNSURE
from rogatum.core.findings.keys import KEY_UNREAD
from rogatum.core.formats.gift.lexer import Answer, Block, blocks, plain, split_answers, split_general, unescaped
from rogatum.core.formats.shared.base import BankBuilder, Reading, ViewLine
from rogatum.core.formats.shared.media_finder import MediaFinder
from rogatum.core.formats.shared.vocabulary import meaning_of
from rogatum.core.items import (
    Blank,
    Choice,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Information,
    Item,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericAnswer,
    NumericBlank,
    Pair,
    Place,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.items.content import escape, plain_text
from rogatum.core.sources import SourceTree, decode_text

# A bracket within a value has a backslash before it; a label of several words is told by what it holds: a colon before its value.
_BRACKETS = re.compile(r"\[([^\W\d_][\w .-]{0,60}):((?:\\\]|[^\]])*+)\]")
_TITLE = re.compile(r"^\s*::(.*?)(?<!\\)::", re.S)
# A format prefix is a lower-case word directly before the text: "[html]<p>…"; "[sic] …" is not one.
_PREFIX = re.compile(r"^\s*\[([a-z]{3,})\](?=\S)")
_NAMED_PREFIX = re.compile(r"^\s*\[(html|plain|markdown)\]")
_TRUE_FALSE = re.compile(r"^\s*(TRUE|FALSE|T|F)\s*(?=#|$)", re.I)
_KNOWN_TAG = re.compile(
    r"<(?!/?(?:p|br|b|i|u|s|em|strong|sub|sup|code|pre|blockquote|ul|ol|li|table|caption|thead|tbody|tr|th|td|img|a|span|div|"
    r"h[1-6]|math|mi|mo|mn|mrow|mfrac|msup|msub|font|hr|audio|video|script|style)\b[^<>]*>)",
    re.I,
)
_DATA_URI = re.compile(r"^data:([\w.+-]+/[\w.+-]+)?(?:;[\w=.-]+)*;base64,(.*)$", re.S)
_NUMBER = r"[-+]?(?:\d++(?:\.\d*+)?|\.\d++)(?:[eE][-+]?\d++)?"
_RANGE = re.compile(rf"^({_NUMBER})\s*\.\.\s*({_NUMBER})$")
_TOLERANT = re.compile(rf"^({_NUMBER})(?:\s*:\s*({_NUMBER}))?$")


def read_gift(tree: SourceTree) -> Reading:
    """Reads one GIFT file. Raises UnreadableSource when it is no text."""
    file = tree.only()
    text, findings = decode_text(file.read(), file.name)
    builder = BankBuilder(tree.name, "gift")
    builder.bank.findings += findings
    reader = _Reader(builder, MediaFinder(tree, builder), file.path)
    for block in blocks(text):
        reader.take(block)
    builder.view = reader.view(text)
    return builder.finish()


@dataclass
class _Question:
    """A question in parts, still escaped: title, format prefix, the texts around the braces, and the bodies within."""

    title: str
    prefix: str
    texts: list[str]
    bodies: list[str]
    unclosed: bool = False


def split_question(text: str) -> _Question:
    """Splits a block at its title and its unescaped braces."""
    title = _TITLE.match(text)
    rest = text[title.end() :] if title else text
    prefix = _NAMED_PREFIX.match(rest) or _PREFIX.match(rest)
    if prefix:
        rest = rest[prefix.end() :]
    texts, bodies, start, opened = [], [], 0, None
    for position in unescaped(rest, "{}"):
        if rest[position] == "{" and opened is None:
            texts.append(rest[start:position])
            opened = position + 1
        elif rest[position] == "}" and opened is not None:
            bodies.append(rest[opened:position])
            start, opened = position + 1, None
    if opened is not None:
        bodies.append(rest[opened:])
        start = len(rest)
    texts.append(rest[start:])
    return _Question(title[1] if title else "", prefix[1] if prefix else "", texts, bodies, opened is not None)


@dataclass
class _Reader:
    builder: BankBuilder
    finder: MediaFinder
    file: str
    path: list[str] = field(default_factory=list)
    lines: dict[int, tuple[str | None, str]] = field(default_factory=dict)
    item_id: str = ""
    where: str = ""
    prefix: str = ""

    def take(self, block: Block) -> None:
        metadata, identifier = self._comments(block)
        if block.category:
            self.path = category_path(block.text)
            self.builder.account.claim()
            self.lines[block.first] = (None, "heading")
        elif block.text.strip():
            self._question(block, metadata, identifier)

    def view(self, text: str) -> list[ViewLine]:
        shown = []
        for number, line in enumerate(text.split("\n"), 1):
            item, role = self.lines.get(number, (None, ""))
            shown.append(ViewLine(number, line, item, role))
        return shown

    def _comments(self, block: Block) -> tuple[dict[str, list[str]], str]:
        metadata: dict[str, list[str]] = {}
        identifier = ""
        for number, comment in block.comments:
            fields = _BRACKETS.findall(comment)
            self.lines[number] = (None, "metadata" if fields else "aside")
            if fields:
                self.builder.account.claim()
            rest = _BRACKETS.sub("", comment)
            self.builder.account.leave(f"line {number}", rest)
            for label, value in fields:
                value = value.replace("\\]", "]").strip()
                if label == "id":
                    identifier = value
                else:
                    metadata.setdefault(meaning_of(label), []).append(value)
        return metadata, identifier

    def _question(self, block: Block, metadata: dict[str, list[str]], identifier: str) -> None:
        self.where = f"line {block.first}"
        self.item_id = self.builder.free_id(identifier, self.where)
        question = split_question(block.text)
        if block.close_by and not question.title:
            self._note(TYPE_UNSURE.at(self.where, self.item_id, detail="no blank line parts it from the question above."))
        self.prefix = question.prefix
        item = self._item(question)
        item.title = plain_text(self._text(question.title)) if question.title.strip() else ""
        item.metadata = metadata
        for comment_line, _ in block.comments:
            self.lines[comment_line] = (self.item_id, self.lines[comment_line][1])
        for number in range(block.first, block.last + 1):
            self.lines[number] = (self.item_id, "stem" if number == block.first else "answers")
        self.builder.account.claim(sum(1 for line in block.text.split("\n") if line.strip()))
        if question.unclosed:
            self._note(INVALID_ITEM.at(self.where, self.item_id, detail="its brace is never closed."))
        place = Place(where=self.where, first=block.first, last=block.last)
        self.builder.add(item, place, self.path or None)

    def _note(self, finding: Finding) -> None:
        self.builder.note(finding)

    # Texts

    def _text(self, text: str, prefix: str | None = None) -> str:
        """Escaped GIFT text as content, by its own format prefix or the question's."""
        own = _NAMED_PREFIX.match(text)
        if own:
            text, prefix = text[own.end() :], own[1]
        prefix = self.prefix if prefix is None else prefix
        value = plain(text).strip()
        if prefix == "plain":
            return self._content(escape(value).replace("\n", "<br>"))
        if prefix == "markdown":
            return self._content(_markdown(value))
        if prefix == "html":
            return self._content(value)
        return self._content(_KNOWN_TAG.sub("&lt;", value) if "\\n" not in text else _breaks(text))

    def _content(self, markup: str) -> str:
        return self.builder.content(markup, self.where, self.item_id, self._resolve)

    def _resolve(self, address: str) -> str | None:
        inline = _DATA_URI.match(address)
        if inline is None:
            return None if address.startswith("media/") else self.finder.resolver(self.file, self.where, self.item_id)(address)
        try:
            data = base64.b64decode(re.sub(r"\s+", "", inline[2]), validate=True)
        except (binascii.Error, ValueError):
            self.builder.missing_media("an inline picture", self.where, self.item_id)
            return None
        kind = (inline[1] or "image/png").rsplit("/", 1)[-1].split("+")[0]
        return self.builder.media.add_bytes(f"inline.{'jpg' if kind == 'jpeg' else kind}", data)

    # Questions

    def _item(self, question: _Question) -> Item:
        if len(question.bodies) > 1:
            return self._cloze(question)
        before, after = question.texts[0], "".join(question.texts[1:])
        stem = self._text(before) if not after.strip() else self._text(f"{before.rstrip()} _____ {after.lstrip()}")
        if not question.bodies:
            return Information(id=self.item_id, stem=stem)
        body = question.bodies[0].strip()
        if not body or body.startswith("####"):
            return self._with_general(Essay(id=self.item_id, stem=stem), body.removeprefix("####"))
        truth = _TRUE_FALSE.match(body)
        if truth:
            return self._true_false(stem, truth, body)
        if body.startswith("#") and not body.startswith("####"):
            return self._numeric(stem, body[1:])
        return self._listed(stem, body)

    def _true_false(self, stem: str, truth: re.Match[str], body: str) -> Item:
        answer = truth[1].upper() in ("T", "TRUE")
        rest, general = split_general(body[truth.end() :])
        hashes = list(unescaped(rest, "#"))
        parts = [rest[a + 1 : b].strip() for a, b in zip(hashes, [*hashes[1:], len(rest)], strict=False)]
        item = TrueFalse(id=self.item_id, stem=stem, answer=answer)
        # The first feedback is for the wrong response, the second for the right one.
        for text, shown in zip(parts, (not answer, answer), strict=False):
            if text:
                item.choice_feedback["true" if shown else "false"] = self._text(text)
        return self._with_general(item, general)

    def _with_general(self, item: Item, general: str) -> Item:
        if general.strip():
            item.feedback["general"] = self._text(general)
        return item

    def _numeric(self, stem: str, body: str) -> Item:
        answers, head, general = split_answers(body)
        item = Numeric(id=self.item_id, stem=stem)
        if not answers and head.strip():
            hash_at = next(unescaped(head, "#"), len(head))
            answers = [Answer("=", None, head[:hash_at].strip(), head[hash_at + 1 :].strip())]
        for answer in answers:
            parsed = self._number(answer)
            if parsed is not None:
                item.answers.append(parsed)
        return self._with_general(item, general)

    def _number(self, answer: Answer) -> NumericAnswer | None:
        weight = _weight(answer)
        feedback = self._text(answer.feedback) if answer.feedback else None
        text = plain(answer.text).strip()
        between, tolerant = _RANGE.match(text), _TOLERANT.match(text)
        if between:
            low, high = sorted((float(between[1]), float(between[2])))
            return NumericAnswer(min=low, max=high, weight=weight, feedback=feedback)
        if tolerant:
            spread = abs(float(tolerant[2] or 0))
            return NumericAnswer(value=float(tolerant[1]), tolerance=spread, weight=weight, feedback=feedback)
        self._note(KEY_UNREAD.at(self.where, self.item_id, text=text))
        return None

    def _listed(self, stem: str, body: str) -> Item:
        answers, head, general = split_answers(body)
        if head.strip() and answers:
            stem = f"{stem} {self._text(head)}"
        if not answers:
            self._note(INVALID_ITEM.at(self.where, self.item_id, detail=f"“{body[:60]}” in braces is no answer that GIFT knows."))
            return Essay(id=self.item_id, stem=f"{stem} {self._text(body)}".strip())
        if all(answer.sign == "=" and "->" in answer.text for answer in answers):
            return self._with_general(self._matching(stem, answers), general)
        if all(answer.sign == "=" for answer in answers):
            return self._with_general(self._fill_in(stem, answers), general)
        return self._with_general(self._choices(stem, answers), general)

    def _matching(self, stem: str, answers: list[Answer]) -> Item:
        item = Matching(id=self.item_id, stem=stem)
        for answer in answers:
            left, _, right = answer.text.partition("->")
            if left.strip():
                item.pairs.append(Pair(left=self._text(left), right=self._text(right)))
            elif right.strip():
                item.distractors.append(self._text(right))
            if answer.feedback:
                self.builder.account.leave(self.where, answer.feedback)
        return item

    def _text_answers(self, answers: list[Answer]) -> list[TextAnswer]:
        return [
            TextAnswer(
                text=plain_text(self._text(answer.text)),
                weight=_weight(answer),
                feedback=self._text(answer.feedback) if answer.feedback else None,
            )
            for answer in answers
        ]

    def _fill_in(self, stem: str, answers: list[Answer]) -> Item:
        return FillIn(id=self.item_id, stem=stem, answers=self._text_answers(answers))

    def _choice_list(self, answers: list[Answer]) -> list[Choice]:
        return [
            Choice(
                id=_letter(index),
                content=self._text(answer.text),
                weight=_weight(answer),
                feedback=self._text(answer.feedback) if answer.feedback else None,
            )
            for index, answer in enumerate(answers)
        ]

    def _choices(self, stem: str, answers: list[Answer]) -> Item:
        choices = self._choice_list(answers)
        # One that earns all is the key of one choice; the others that earn something are nearly right.
        whole = any(a.sign == "=" for a in answers) or any(choice.weight == 1 for choice in choices)
        several = sum(1 for choice in choices if choice.weight > 0) > 1 and not whole
        if several:
            return MultipleResponse(id=self.item_id, stem=stem, choices=choices, scoring="per_choice")
        return MultipleChoice(id=self.item_id, stem=stem, choices=choices)

    def _cloze(self, question: _Question) -> Item:
        """Several braces in one question: each is a blank."""
        stem, blanks = "", list[Blank]()
        share = 1 / len(question.bodies)
        for index, body in enumerate(question.bodies, 1):
            blanks.append(self._blank(f"b{index}", body, share))
            stem += question.texts[index - 1] + f"\x00b{index}\x00"
        content = self._text(stem + question.texts[-1])
        content = re.sub(r"\x00(b\d+)\x00|\ufffd(b\d+)\ufffd", r'<span data-blank="\1\2"></span>', content)
        self._note(TYPE_GUESSED.at(self.where, self.item_id, detail=f"it has {len(blanks)} answers in braces."))
        return Cloze(id=self.item_id, stem=content, blanks=blanks)

    def _blank(self, blank_id: str, body: str, share: float) -> Blank:
        if body.strip().startswith("#"):
            numeric = self._numeric("", body.strip()[1:])
            assert isinstance(numeric, Numeric)
            return NumericBlank(id=blank_id, answers=numeric.answers, share=share)
        answers, _, _ = split_answers(body)
        if all(answer.sign == "=" for answer in answers):
            return TextBlank(id=blank_id, answers=self._text_answers(answers), share=share)
        return ChoiceBlank(id=blank_id, choices=self._choice_list(answers), share=share)


def _weight(answer: Answer) -> float:
    if answer.percent is not None:
        return max(-1.0, min(1.0, answer.percent / 100))
    return 1.0 if answer.sign == "=" else 0.0


def _letter(index: int) -> str:
    return chr(ord("a") + index) if index < 26 else f"c{index + 1}"


def _breaks(text: str) -> str:
    """Text of no named format: `\\n` is a line break."""
    return _KNOWN_TAG.sub("&lt;", plain(text.replace("\n", " ")).strip()).replace("\n", "<br>")


_MARKDOWN: Callable[[str], str] = MarkdownIt("commonmark", {"html": True}).render


def _markdown(text: str) -> str:
    return _MARKDOWN(text).strip()


def category_path(text: str) -> list[str]:
    """A category's path; `//` is a slash within a name, a leading `$…$` names a context and `top` its root."""
    parts = [part.replace("\x00", "/").strip() for part in plain(text).replace("//", "\x00").split("/")]
    parts = [part for part in parts if part]
    if parts and re.fullmatch(r"\$\w+\$", parts[0]):
        parts = parts[1:]
        if parts and parts[0] == "top":
            parts = parts[1:]
    return parts
