"""Compares a bank with what is true of its source: which facets of which items are right, and which are wrong without a word.

The truth is a bank with only the fields that are to be judged; any of them may be {"any_of": [...]}. It shares no code with the
program. A wrong item without a warning or error about it is silent; a right one with one, where none was planted, a false alarm.
"""

from __future__ import annotations

import difflib
import html.parser
import math
import re
import unicodedata
from collections import Counter

BLOCKS = {"p", "br", "li", "tr", "td", "th", "div", "table", "ul", "ol", "pre", "blockquote", "caption", "img"}
QUOTES = str.maketrans(
    {"‘": "'", "’": "'", "“": '"', "”": '"', "–": "-", "—": "-", "\u00a0": " ", "\u202f": " ", "\u2009": " ", "−": "-", "…": "..."}
)


class _Text(html.parser.HTMLParser):
    """Plain text of rich content: a formula is its TeX where there is one, a blank is `__`."""

    def __init__(self):
        super().__init__(convert_charrefs=True)
        self.out, self.math, self.tex, self.in_tex, self.images = [], None, None, False, 0

    def handle_starttag(self, tag, attrs):
        attrs = dict(attrs)
        if tag == "math":
            self.math, self.tex = [], None
        elif tag == "annotation" and "tex" in (attrs.get("encoding") or "").lower():
            self.in_tex, self.tex = True, ""
        elif "data-blank" in attrs:
            self.out.append(" __ ")
        if tag == "img":
            self.images += 1
        if tag in BLOCKS:
            self.out.append(" ")

    def handle_endtag(self, tag):
        if tag == "annotation":
            self.in_tex = False
        elif tag == "math" and self.math is not None:
            self.out.append(" " + (self.tex if self.tex is not None else "".join(self.math)) + " ")
            self.math = None
        elif tag in BLOCKS:
            self.out.append(" ")

    def handle_data(self, data):
        if self.in_tex:
            self.tex += data
        elif self.math is not None:
            self.math.append(data)
        else:
            self.out.append(data)


def plain(content):
    if content is None:
        return ""
    parser = _Text()
    parser.feed(str(content))
    parser.close()
    text = unicodedata.normalize("NFC", "".join(parser.out)).translate(QUOTES)
    text = re.sub(
        r"\\\((.*?)\\\)|\$\$(.*?)\$\$|(?<!\\)\$([^$\n]+)\$",
        lambda m: " " + re.sub(r"\s+", "", next(g for g in m.groups() if g is not None)) + " ",
        text,
    )
    text = re.sub(r"[_\s]*__[_\s]*", " __ ", text)
    text = re.sub(r"\s+([.,;:?!)])", r"\1", re.sub(r"\s+", " ", text))
    return text.strip()


def images(content):
    parser = _Text()
    parser.feed(str(content or ""))
    return parser.images


def squeezed(text):
    return re.sub(r"\s+|[{}]", "", text)


def same_text(a, b):
    return a == b or squeezed(a) == squeezed(b)


def number(value):
    return None if value is None else float(value)


def close(a, b):
    return a == b or (a is not None and b is not None and math.isclose(a, b, rel_tol=1e-4, abs_tol=2e-3))


def intervals(answers):
    found = []
    for a in answers or []:
        if a.get("value") is not None:
            value, tolerance = float(a["value"]), float(a.get("tolerance") or 0)
            low, high = value - tolerance, value + tolerance
        else:
            low, high = (
                (float("-inf") if a.get("min") is None else float(a["min"])),
                (float("inf") if a.get("max") is None else float(a["max"])),
            )
        found.append((low, high, round(float(a.get("weight", 1)), 3)))
    return sorted(found)


def same_intervals(a, b):
    def near(x, y):
        return x == y or math.isclose(x, y, rel_tol=1e-6, abs_tol=1e-9)

    return len(a) == len(b) and all(
        near(x[0], y[0]) and near(x[1], y[1]) and abs(x[2] - y[2]) < 0.01 for x, y in zip(a, b, strict=True)
    )


def texts(answers):
    return sorted((plain(a["text"]), round(float(a.get("weight", 1)), 2)) for a in answers or [])


def choices_of(item):
    """Choices as (text, weight); a true/false item has the choices True and False."""
    if item.get("type") == "true_false" and "choices" not in item:
        answer = item.get("answer")
        return [("True", 1.0 if answer is True else 0.0), ("False", 1.0 if answer is False else 0.0)]
    return [(plain(c.get("content")), float(c.get("weight") or 0)) for c in item.get("choices") or []]


def truth_value(item):
    if item.get("type") == "true_false":
        return item.get("answer")
    for text, weight in choices_of(item):
        if weight > 0.999 and text.lower().strip(".") in ("true", "false", "t", "f"):
            return text.lower().startswith("t")
    return None


def same_weights(wanted, got, all_or_nothing):
    if len(wanted) != len(got):
        return False
    if all_or_nothing:
        return [w > 0 for w in wanted] == [w > 0 for w in got]
    return all(abs(w - g) < 0.011 for w, g in zip(wanted, got, strict=True))


def compare_blanks(wanted, got):
    if len(wanted or []) != len(got or []):
        return False
    for w, g in zip(wanted, got, strict=True):
        if w.get("kind") and w["kind"] != g.get("kind"):
            return False
        if w.get("kind") == "choice":
            ok = [(t, x > 0) for t, x in choices_of(w)] == [(t, x > 0) for t, x in choices_of(g)]
        elif w.get("kind") == "numeric":
            ok = same_intervals(intervals(w.get("answers")), intervals(g.get("answers")))
        else:
            ok = texts(w.get("answers")) == texts(g.get("answers"))
        if not ok:
            return False
    return True


def compare_choices(wanted, truth, item):
    got = choices_of(item)
    if item.get("type") == "true_false" and truth_value(truth | {"type": "multiple_choice"}) is not None:
        return truth_value(truth | {"type": "multiple_choice"}) == item.get("answer")
    want = choices_of(truth)
    if len(want) != len(got) or not all(a == b or same_text(a, b) for (a, _), (b, _) in zip(want, got, strict=True)):
        return False
    if not any("weight" in c for c in wanted):
        return True
    both = "all_or_nothing" in (truth.get("scoring"), item.get("scoring")) and truth.get("scoring") != "per_choice"
    whole = both or ("scoring" not in truth and truth.get("type") == "multiple_response")
    return same_weights([w for _, w in want], [w for _, w in got], whole)


def compare_stimulus(wanted, truth, item, bank):
    passages = {s["id"]: plain(s["content"]) for s in bank.get("stimuli") or []}
    want = next((plain(s["content"]) for s in truth.get("_stimuli", []) if s["id"] == wanted), None)
    got = passages.get(item.get("stimulus"))
    return (wanted is None and got is None) or (want is not None and got is not None and same_text(want, got))


def compare_answers(wanted, truth, item):
    if "numeric" in (truth.get("type"), item.get("type")):
        return same_intervals(intervals(wanted), intervals(item.get("answers")))
    return texts(wanted) == texts(item.get("answers"))


def compare_metadata(wanted, item):
    got = {k.lower(): [plain(x) for x in v] for k, v in (item.get("metadata") or {}).items()}
    return all([plain(x) for x in v] == got.get(k.lower()) for k, v in wanted.items())


def same_by_name(wanted, got):
    return all(same_text(plain(v), plain((got or {}).get(k))) for k, v in wanted.items())


def pair(p):
    return (plain(p.get("left")), plain(p.get("right")))


# How each field is compared: what the truth wants, the true item, the item that came out, and its bank.
FIELDS = {
    "stem": lambda w, t, i, b: same_text(plain(w), plain(i.get("stem"))) and images(w) == images(i.get("stem")),
    "choices": lambda w, t, i, b: compare_choices(w, t, i),
    "choice_feedback_texts": lambda w, t, i, b: [plain(x) for x in w] == [plain(c.get("feedback")) for c in i.get("choices") or []],
    "answer": lambda w, t, i, b: truth_value(i) == w,
    "choice_feedback": lambda w, t, i, b: same_by_name(w, i.get("choice_feedback")),
    "answers": lambda w, t, i, b: compare_answers(w, t, i),
    "blanks": lambda w, t, i, b: compare_blanks(w, i.get("blanks")),
    "pairs": lambda w, t, i, b: sorted(map(pair, w)) == sorted(map(pair, i.get("pairs") or [])),
    "distractors": lambda w, t, i, b: sorted(map(plain, w)) == sorted(map(plain, i.get("distractors") or [])),
    "sequence": lambda w, t, i, b: list(map(plain, w)) == list(map(plain, i.get("sequence") or [])),
    "feedback": lambda w, t, i, b: same_by_name(w, i.get("feedback")),
    "metadata": lambda w, t, i, b: compare_metadata(w, i),
    "stimulus": compare_stimulus,
    "shuffle": lambda w, t, i, b: i.get("shuffle") == w,
    "case_sensitive": lambda w, t, i, b: i.get("case_sensitive") == w,
    "scoring": lambda w, t, i, b: i.get("scoring") == w,
    "unit": lambda w, t, i, b: i.get("unit") == w,
    "sample_answer": lambda w, t, i, b: same_text(plain(w), plain(i.get("sample_answer"))),
    "rubric": lambda w, t, i, b: same_text(plain(w), plain(i.get("rubric"))),
}


def compare_field(name, wanted, truth, item, bank):
    """Whether the output `item` has what truth wants in the field `name`; None when the field is not judged for this type."""
    if name == "type":
        return item.get("type") == wanted
    if name == "title":
        return same_text(plain(wanted), plain(item.get("title")))
    if name == "points":
        return close(number(wanted), number(item.get("points")))
    if item.get("type") == "preserved" or name not in FIELDS:
        return None
    return FIELDS[name](wanted, truth, item, bank)


def judge(name, wanted, truth, item, bank):
    if isinstance(wanted, dict) and set(wanted) == {"any_of"}:
        verdicts = [compare_field(name, option, truth | {name: option}, item, bank) for option in wanted["any_of"]]
        return True if True in verdicts else (None if None in verdicts else False)
    return compare_field(name, wanted, truth, item, bank)


NOT_FACETS = {"id", "_stimuli", "note", "case", "comment"}


def first_option(value):
    return value["any_of"][0] if isinstance(value, dict) and set(value) == {"any_of"} else value


def match(wanted, got):
    """Pairs truth items with output items: equal stems first, then the most alike."""
    pairs, left = {}, list(range(len(got)))
    stems = [plain(i.get("stem")) for i in got]
    for n, truth in enumerate(wanted):
        stem = plain(first_option(truth.get("stem")))
        hit = next((g for g in left if same_text(stem, stems[g])), None)
        if hit is not None:
            pairs[n] = hit
            left.remove(hit)
    for n, truth in enumerate(wanted):
        if n in pairs or not left:
            continue
        stem = plain(first_option(truth.get("stem")))
        ratio, hit = max((difflib.SequenceMatcher(None, stem, stems[g], autojunk=False).ratio(), -g) for g in left)
        if ratio >= 0.6:
            pairs[n] = -hit
            left.remove(-hit)
    return pairs, left


def all_text(value):
    if isinstance(value, str):
        return plain(value) + " " + value + " "
    if isinstance(value, dict):
        return "".join(all_text(k) + all_text(v) for k, v in value.items())
    if isinstance(value, list):
        return "".join(map(all_text, value))
    return f"{value} " if value is not None else ""


def flagged_items(bank):
    return {f.get("item") for f in bank.get("findings") or [] if f.get("level") in ("error", "warning") and f.get("item")}


class Tally:
    def __init__(self):
        self.items, self.items_right, self.silent, self.crashes, self.alarms = 0, 0, 0, 0, 0
        self.facets, self.right = Counter(), Counter()
        self.lines = []

    def facet(self, name, ok):
        self.facets[name] += 1
        self.right[name] += bool(ok)
        return ok


def facets_wrong(truth, item, bank, tally):
    """The fields of an item that are not as truth has them."""
    bad = []
    for name, value in truth.items():
        verdict = None if name in NOT_FACETS else judge(name, value, truth, item, bank)
        if verdict is not None and not tally.facet(name, verdict):
            bad.append(name)
    return bad


def mentions_wrong(truth, bank, tally):
    """Texts that must stand somewhere in the bank, and do not."""
    wrong = []
    everything = squeezed(all_text(bank).translate(QUOTES)) if truth.get("must_mention") else ""
    for text in truth.get("must_mention") or []:
        if not tally.facet("mentioned", squeezed(plain(text)) in everything):
            wrong.append(f"vanished: {text[:60]}")
            tally.silent += 1
    return wrong


def score_bank(truth, bank, tally):
    """Compares one output bank with its truth; returns the list of what is wrong."""
    wrong, got = [], bank.get("items") or []
    wanted = [t | {"_stimuli": truth.get("stimuli") or []} for t in truth.get("items") or []]
    pairs, extra = match(wanted, got)
    flagged = flagged_items(bank)
    general = any(f.get("level") in ("error", "warning") and not f.get("item") for f in bank.get("findings") or [])
    unclaimed = all_text((bank.get("accounting") or {}).get("unclaimed"))
    for n, item_truth in enumerate(wanted):
        tally.items += 1
        stem = plain(first_option(item_truth.get("stem")))[:48]
        if n not in pairs:
            tally.facet("found", False)
            silent = not general and stem[:25] not in unclaimed
            tally.silent += silent
            wrong.append(f"missing{' SILENT' if silent else ''}: {stem}")
            continue
        tally.facet("found", True)
        item = got[pairs[n]]
        bad = facets_wrong(item_truth, item, bank, tally)
        if bad:
            silent = item.get("id") not in flagged
            tally.silent += silent
            wrong.append(f"{'SILENT ' if silent else ''}{', '.join(bad)}: {stem}")
        else:
            tally.items_right += 1
            planted = any(stem.startswith(plain(start)[:48]) for start in truth.get("must_flag") or [])
            tally.alarms += item.get("id") in flagged and not planted
    for g in extra:
        tally.facet("no extra", False)
        silent = got[g].get("id") not in flagged
        tally.silent += silent
        wrong.append(f"extra{' SILENT' if silent else ''}: {plain(got[g].get('stem'))[:48]}")
    for start in truth.get("must_flag") or []:
        named = any(plain(i.get("stem")).startswith(plain(start)) and i.get("id") in flagged for i in got)
        named = named or plain(start) in all_text([f for f in bank.get("findings") or [] if f.get("level") in ("error", "warning")])
        if not tally.facet("flagged", named):
            tally.silent += 1
            wrong.append(f"not flagged SILENT: {start[:48]}")
    return wrong + mentions_wrong(truth, bank, tally)
