"""What outside programs do with a file that they are given, simulated: each does what a receiver sheet says, and reports it.

It reads the file by the open formats, and then goes its own way: it knows nothing of forecasts, of pools, or of what was meant. What
it makes of items is written down here once more, so that a forecast is held against another hand than its own.
"""

from __future__ import annotations

import html
import math
import re
from collections.abc import Callable
from dataclasses import dataclass, field

from rogatum.core.formats import format_named
from rogatum.core.items import Bank, Item, Media
from rogatum.core.items import coarser as form
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import TEX, formula_from_tex, formula_picture, media_refs, plain_text
from rogatum.core.items.parts import choices, options, without_feedback
from rogatum.core.items.retyping import as_type
from rogatum.core.quizzes.draws import draw as drawn
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import Stock
from rogatum.core.receivers.sheet import Sheet
from rogatum.core.sources import MediaBox, open_bytes


@dataclass
class Received:
    """What a program holds after it was given a file, what it says of it, and what it would not take, by its id."""

    bank: Bank
    report: list[str] = field(default_factory=list)
    refused: dict[str, str] = field(default_factory=dict)


class FileRefused(Exception):
    """The program does not take the file at all; the message says why."""


def read_file(data: bytes, file_name: str, format_name: str, sheet: Sheet) -> tuple[Bank, MediaBox]:
    """The bank of a file. Raises FileRefused for a format that is not taken and a file that is too large."""
    if format_name not in sheet.format_names():
        raise FileRefused(f"{sheet.title} does not read {format_named(format_name).label}.")
    limit = sheet.limits.file_bytes
    if limit is not None and len(data) > limit:
        raise FileRefused(f"{file_name} has {len(data)} bytes, and {sheet.title} takes {limit}.")
    entry = format_named(format_name)
    if entry.read is None:
        raise FileRefused(f"{sheet.title} cannot read {entry.label} back.")
    reading = entry.read(open_bytes(data, file_name))
    most = sheet.limits.items_per_file
    if most is not None and len(reading.bank.items) > most:
        raise FileRefused(f"{file_name} has {len(reading.bank.items)} questions, and {sheet.title} takes {most}.")
    return reading.bank, reading.media


def received(bank: Bank, sheet: Sheet, file_name: str) -> Received:
    """What the program holds of a bank that it read from a file of this name."""
    desk = _Desk(bank, sheet, file_name)
    return desk.all()


class _Desk:
    """Goes through a bank item by item, as the sheet says."""

    def __init__(self, bank: Bank, sheet: Sheet, file_name: str) -> None:
        self.bank, self.sheet, self.file_name = bank, sheet, file_name
        self.sizes = {entry.ref: (entry.size, entry.type) for entry in bank.media}
        self.passages = {stimulus.id: stimulus.content for stimulus in bank.stimuli}
        self.media = list(bank.media)
        self.result = Received(bank.model_copy(update={"items": [], "pools": [], "findings": []}))

    def all(self) -> Received:
        paths = self.bank.pool_paths()
        for item in self.bank.items:
            why = self.why_refused(item)
            if why:
                self.result.refused[item.id] = why
                self.result.report.append(f"“{plain_text(item.stem)[:60]}”: not taken, {why}")
                continue
            made = self.made(item)
            self.result.bank.items.append(made)
            path = self.path(paths.get(item.id, ()))
            if path:
                self.result.bank.place_in_pool(made.id, path)
        if self.sheet.grouping.passages != "takes":
            self.result.bank.stimuli = []
        self.result.bank.media = self.media
        self.result.bank.quizzes = self.quizzes()
        self.result.report.insert(0, f"{len(self.result.bank.items)} questions taken, {len(self.result.refused)} not.")
        return self.result

    # What is not taken

    def why_refused(self, item: Item) -> str:
        habit = self.sheet.types.get(item.type, "refuses" if item.type == "preserved" else "takes")
        if habit == "refuses":
            return f"no {item.type.replace('_', ' ')} questions here"
        limits, shown = self.sheet.limits, self.turned(item)
        told = []
        if limits.stem and limits.stem.beyond == "refuses" and len(plain_text(shown.stem)) > limits.stem.most:
            told.append(f"the question has {len(plain_text(shown.stem))} characters of {limits.stem.most}")
        longest = max((len(plain_text(text)) for text in _answers(shown)), default=0)
        if limits.choice and limits.choice.beyond == "refuses" and longest > limits.choice.most:
            told.append(f"an answer has {longest} characters of {limits.choice.most}")
        if limits.choices and limits.choices.beyond == "refuses" and len(choices(shown)) > limits.choices.most:
            told.append(f"{len(choices(shown))} answers of {limits.choices.most}")
        refs = [ref for content in _body(shown) for ref in media_refs(content)]
        if (
            limits.pictures
            and limits.pictures.beyond == "refuses"
            and self.sheet.content.pictures == "takes"
            and any(map(self.unfit, refs))
        ):
            told.append("a picture that is too large or of a kind that is not shown")
        return ", ".join(told)

    def unfit(self, ref: str) -> bool:
        limits, (size, kind) = self.sheet.limits.pictures, self.sizes.get(ref, (0, ""))
        if limits is None or not kind.startswith("image/"):
            return False
        return bool((limits.bytes and size > limits.bytes) or (limits.kinds is not None and kind not in limits.kinds))

    def turned(self, item: Item) -> Item:
        habit = self.sheet.types.get(item.type, "takes")
        return as_type(item, habit.removeprefix("turns into ")).item if habit.startswith("turns into ") else item  # type: ignore[arg-type]

    # What it becomes

    def made(self, item: Item) -> Item:
        shown = self.marked(self.short(self.turned(item)))
        for step in (self.with_feedback, self.with_passage, self.with_content, self.with_labels, self.with_points):
            shown = step(shown)
        return shown

    def short(self, item: Item) -> Item:
        limits = self.sheet.limits
        if limits.stem and len(plain_text(item.stem)) > limits.stem.most:
            item = item.model_copy(update={"stem": form.cut_to(item.stem, limits.stem.most)})
        if limits.choice:
            item = _cut_answers(item, limits.choice.most)
        if limits.choices and len(choices(item)) > limits.choices.most:
            item = item.model_copy(update={"choices": choices(item)[: limits.choices.most]})
        return map_content(item, self.fitting) if limits.pictures and self.sheet.content.pictures == "takes" else item

    def fitting(self, content: str) -> str:
        return re.sub(r"<img\b[^<>]*?\ssrc=\"([^\"]*)\"[^<>]*>", lambda m: "" if self.unfit(html.unescape(m[1])) else m[0], content)

    def marked(self, item: Item) -> Item:
        if self.sheet.marking.part_marks == "drops":
            return form.all_or_nothing(item)
        return form.nothing_below_zero(item) if self.sheet.marking.below_zero == "drops" else item

    def with_feedback(self, item: Item) -> Item:
        takes = self.sheet.feedback.takes
        kept = {kind: text for kind, text in item.feedback.items() if kind in takes}
        item = without_feedback(item.model_copy(update={"feedback": kept}), {"choice", "answer"} - set(takes))
        if item.type == "essay":
            gone = {} if "rubric" in takes else {"rubric": None}
            gone |= {} if self.sheet.feedback.model_answers == "takes" else {"sample_answer": None}
            item = item.model_copy(update=gone)
        return item

    def with_passage(self, item: Item) -> Item:
        habit = self.sheet.grouping.passages
        if habit == "takes" or not item.stimulus:
            return item
        passage = self.passages.get(item.stimulus, "") if habit == "into the stem" else ""
        stem = f"<p>{passage}</p>{item.stem}" if passage and not passage.startswith("<") else passage + item.stem
        return item.model_copy(update={"stem": stem, "stimulus": None})

    def with_content(self, item: Item) -> Item:
        habits = self.sheet.content
        changes: list[Callable[[str], str]] = []
        if habits.pictures == "drops":
            changes.append(form.without_media)
        elif habits.alternative_texts == "drops":
            changes.append(form.without_alternatives)
        if habits.formatting == "drops":
            changes.append(form.without_formatting)
        if habits.formulas != "as they are":
            changes.append({"text": form.formulas_as_text, "pictures": self.drawn, "TeX": _by_tex}[habits.formulas])
        for change in changes:
            item = map_content(item, change)
        return item

    def drawn(self, content: str) -> str:
        """Each formula as a picture that carries its TeX."""

        def picture(tex: str) -> str:
            ref = f"media/formula-{len(self.media) + 1}.svg"
            self.media.append(Media(ref=ref, sha256=f"drawn {tex}", size=len(tex), type="image/svg+xml"))
            return formula_picture(ref, tex)

        return form.formulas_as(content, picture)

    def with_labels(self, item: Item) -> Item:
        habits, metadata, title = self.sheet.labels, dict(item.metadata), item.title
        codes = [code for code in metadata.get("outcome", []) if code]
        if habits.titles == "drops":
            title = ""
        if habits.others == "drops":
            metadata = {label: values for label, values in metadata.items() if label in ("outcome", "tag")}
        if habits.tags == "drops":
            metadata.pop("tag", None)
        if habits.outcomes != "takes":
            metadata.pop("outcome", None)
        if habits.outcomes == "tags" and codes and habits.tags == "takes":
            metadata["tag"] = [*metadata.get("tag", []), *codes]
        if habits.outcomes == "titles" and codes:
            title = f"[{', '.join(codes)}] {title}".strip()
        names = self.sheet.names
        return item.model_copy(update={"metadata": metadata, "title": form.name_cut_to(title, names.length, names.without)})

    def with_points(self, item: Item) -> Item:
        habits, points = self.sheet.points, item.points
        if habits.points == "drops" or points is None:
            return item.model_copy(update={"points": habits.default})
        points *= habits.scale or 1
        if habits.step:
            points = round(math.floor(points / habits.step + 0.5 + 1e-9) * habits.step, 6)
        if habits.least is not None and points < habits.least:
            points = habits.least
        if habits.most is not None and points > habits.most:
            points = habits.most
        return item.model_copy(update={"points": points})

    def path(self, path: tuple[str, ...]) -> list[str]:
        habits, names = self.sheet.grouping, self.sheet.names
        if habits.pools == "file name":
            path = (self.file_name.rsplit(".", 1)[0],)
        elif habits.pools == "drops":
            path = ()
        elif habits.pools == "joins names" and path:
            path = (" / ".join(path),)
        elif habits.nesting and len(path) > habits.nesting:
            path = (*path[: habits.nesting - 1], " / ".join(path[habits.nesting - 1 :]))
        return [form.name_cut_to(name, names.length, names.without) for name in path]

    # Quizzes

    def quizzes(self) -> list[Quiz]:
        if self.sheet.quiz.quizzes == "drops":
            return []
        stock = Stock(self.bank)
        return [self.quiz(quiz, stock) for quiz in self.bank.quizzes]

    def quiz(self, quiz: Quiz, stock: Stock) -> Quiz:
        habits = self.sheet.quiz
        parts = [self.part(part, stock) for part in quiz.parts]
        if habits.parts == "drops":
            items, points = [], {}
            for part in parts:
                if part.draw is not None:
                    continue
                for key in part.items:
                    if key in items:
                        continue
                    items.append(key)
                    own = part.points.get(key, part.points_each)
                    if own is not None:
                        points[key] = own
            fixed = [Part(items=items, points=points)] if items else []
            parts = fixed + [part.model_copy(update={"title": ""}) for part in parts if part.draw is not None]
        settings = {name: value for name, value in quiz.settings.said() if name in habits.settings}
        return quiz.model_copy(update={"parts": parts, "settings": Settings(**settings)})

    def part(self, part: Part, stock: Stock) -> Part:
        habits, changed = self.sheet.quiz, {}
        held = {item.id for item in self.result.bank.items}
        if part.draw is not None:
            items = stock.drawn_from(part.draw)
            if habits.draws == "takes":
                changed = {"draw": Draw(pool=[], pick=part.draw.pick, without=sorted(held - set(items)))}
            else:
                items = drawn(items, part.draw.pick, self.sheet.name) if habits.draws == "a fixed draw" else items
                changed = {"draw": None, "items": items}
        if habits.instructions == "drops":
            changed["instructions"] = ""
        if habits.page_breaks == "drops":
            changed["page_break"] = False
        if habits.points == "drops":
            changed |= {"points_each": None, "points": {}}
        part = part.model_copy(update=changed)
        return part.model_copy(update={"items": [key for key in part.items if key in held]})


def _by_tex(content: str) -> str:
    """Each formula set anew from its TeX; one that has none is text."""

    def anew(match: re.Match[str]) -> str:
        tex = TEX.search(match[0])
        told = html.unescape(tex[1]) if tex else ""
        return formula_from_tex(told) or match[0] if tex else re.sub(r"<[^<>]+>", "", match[0])

    return re.sub(r"<math\b.*?</math>", anew, content, flags=re.S)


def _answers(item: Item) -> list[str]:
    return [] if item.type == "true_false" else options(item)


def _body(item: Item) -> list[str]:
    return [item.stem, *_answers(item)]


def _cut_answers(item: Item, most: int) -> Item:
    """What students choose from, cut; one list after the other, since each type has its own."""

    def cut(text: str) -> str:
        return form.cut_to(text, most)

    if item.type in ("multiple_choice", "multiple_response"):
        return item.model_copy(update={"choices": [c.model_copy(update={"content": cut(c.content)}) for c in choices(item)]})
    if item.type == "ordering":
        return item.model_copy(update={"sequence": list(map(cut, item.sequence))})
    if item.type == "matching":
        pairs = [pair.model_copy(update={"left": cut(pair.left), "right": cut(pair.right)}) for pair in item.pairs]
        return item.model_copy(update={"pairs": pairs, "distractors": list(map(cut, item.distractors))})
    if item.type == "cloze":
        blanks = [
            blank.model_copy(update={"choices": [c.model_copy(update={"content": cut(c.content)}) for c in blank.choices]})
            if blank.kind == "choice"
            else blank
            for blank in item.blanks
        ]
        return item.model_copy(update={"blanks": blanks})
    return item
