"""The marks that people use, as data: how a stem, a choice, a key and a label are written."""

from __future__ import annotations

import re

from rogatum.core import spaces

# 1. 1) (1) 1: 1 - #1 Q1 Q1. Question 1: **1.** ; an answer may stand before it, on a blank or to be circled: ____ 1. , T F 1.
STEM = re.compile(
    r"^\s*+(?:(?P<blank>_++\s*+(?P<filled>[A-Za-z]{0,5})\s*+_*+)\s*+"
    r"|(?P<truths>[*]?(?P<t>T|True)[*]?\s*+[/|]?\s*+[*]?(?P<f>F|False)[*]?)\s+(?=\(?\d{1,3}[.)])"
    r"|\(?(?P<lead>[A-HT]|True|False)\)?\s+(?=\(?\d{1,3}[.)]))?"
    r"(?:(?:Q(?:uestion)?|Item|Problem|Exercise|Nr?|No|Frage|Aufgabe|Pregunta|Ejercicio|Domanda|Vraag|Pergunta)\s*+\.?\s*+#?\s*+(?P<n1>\d{1,3})(?:\s+of\s+\d{1,3}\b)?(?:\s*+[.):\-–—])?(?=\s|$)"
    r"|#\s?(?P<n2>\d{1,3})\s*[.):\-–—]?(?=\s)"
    r"|\((?P<n3>\d{1,3})\)(?=\s)"
    r"|(?P<n4>\d{1,3})\s?[.):](?=\s|$|[A-Z“\"(\ufffc])"
    r"|(?P<n5>\d{1,3})\s[\-–—](?=\s))"
    r"\s*(?P<rest>.*)$",
    re.I,
)
KEY_MARKS = "*✓✔√☑☒"
OPEN_MARKS = "☐□○◯"
# *a. a.* (a) a) A - a: [x] a.
CHOICE = re.compile(
    rf"^\s*(?P<mark>(?:[{re.escape(KEY_MARKS)}]|\[[xX✓*]\]|->|→)\s*)?(?:\[\s\]\s*|[{OPEN_MARKS}]\s*)?"
    r"(?:\((?P<l1>[A-Za-z]|[ivx]{1,4}|[IVX]{1,4})\)|\[(?P<l4>[A-Za-z])\](?=\s)|(?P<l2>[A-Za-z]|[ivx]{1,4}|[IVX]{1,4})\s?[.):](?!\w\.)|(?P<l3>[A-Za-z])\s[\-–—](?=\s))"
    r"\s*(?P<rest>.*)$"
)
MARK_BEHIND = re.compile(
    rf"{spaces.BEFORE}(?:(?<![{re.escape(KEY_MARKS)}])[{re.escape(KEY_MARKS)}]++|(?:[(\[{{<]{{1,2}}|<[-=]+\s*|[←⇐]\s*|(?<![-–—=])[-–—=]++>\s*+|→\s*+)(?:the\s+)?(?:correct|right|key|best|true|x|answer)(?:\s+(?:answer|one|choice|option|response))?[)\]}}>]{{0,2}}|<[-=]+|[←⇐◄])\s*$",
    re.I,
)

# What every mark behind a choice has some of.
_SIGN_OF_MARK = re.compile(rf"[{re.escape(KEY_MARKS)}(\[{{<>←⇐→◄]")


def mark_behind(text: str, start: int = 0) -> re.Match[str] | None:
    """A mark or words behind a choice that call it right."""
    return MARK_BEHIND.search(text, start) if _SIGN_OF_MARK.search(text, start) else None


_KEY_IN_OTHER_LANGUAGES = (
    "antwort",
    "antworten",
    "richtige antwort",
    "lösung",
    "réponse",
    "réponses",
    "bonne réponse",
    "respuesta",
    "respuestas",
    "respuesta correcta",
    "risposta",
    "risposta corretta",
    "resposta",
    "antwoord",
)
# Labels at the start of a line, and what they mean. A label is followed by a colon (or a dot or dash where it is short).
LABELS: dict[str, tuple[str, ...]] = {
    "key": (
        "answer",
        "answers",
        "ans",
        "correct answer",
        "correct answers",
        "correct",
        "correct choice",
        "correct option",
        "right choice",
        "right option",
        "right answers",
        "solutions",
        "sol",
        "correct response",
        "right answer",
        "key",
        "answer key",
        "solution",
        "accepted answers",
        "accepted answer",
        "correct order",
        "correct sequence",
        "answ",
        "corr",
        "resp",
        "right",
        "richtig",
        "soluzione",
        *_KEY_IN_OTHER_LANGUAGES,
    ),
    "model": (
        "model answer",
        "sample answer",
        "suggested answer",
        "possible answer",
        "expected answer",
        "model solution",
        "sample solution",
        "key points",
    ),
    "rubric": (
        "rubric",
        "marking scheme",
        "marking",
        "grading",
        "grading notes",
        "grading guide",
        "scoring guide",
        "scoring",
        "marking guide",
        "marking notes",
        "mark scheme",
        "points for",
    ),
    "points": ("points", "point", "pts", "marks", "mark", "score", "point value", "punkte", "puntos", "punti"),
    "feedback": ("feedback", "rationale", "explanation", "comment", "general feedback", "why", "reason", "reasoning", "because"),
    "correct": (
        "correct feedback",
        "feedback if correct",
        "if correct",
        "feedback for correct answer",
        "feedback for correct answers",
    ),
    "incorrect": (
        "incorrect feedback",
        "feedback if incorrect",
        "if incorrect",
        "wrong feedback",
        "feedback for incorrect answer",
        "feedback for incorrect answers",
        "feedback for wrong answers",
    ),
    "type": ("type", "question type", "item type"),
    "title": ("title",),
    "hint": ("hint",),
    "difficulty": ("difficulty", "level of difficulty", "difficulty level", "level", "diff", "dif"),
    "page": ("page", "pages", "page reference", "page ref", "ref", "reference", "pg", "p", "pp", "page number", "page no"),
    "outcome": (
        "outcome",
        "learning outcome",
        "objective",
        "learning objective",
        "learning objectives",
        "learning outcomes",
        "outcomes",
        "lo",
        "standard",
        "obj",
        "objectives",
        "nat",
        "sta",
        "std",
    ),
    "topic": ("topic", "topics", "subject", "subj", "top", "section", "sec", "theme"),
    "tag": ("keywords", "keyword", "tags"),
    "level": ("bloom", "bloom's", "bloom's taxonomy", "level of thinking", "cognitive level", "taxonomy", "skill", "blooms", "blm"),
}
MEANING = {word: meaning for meaning, words in LABELS.items() for word in words}
# Words before a colon that begin no label of a question.
NO_LABELS = frozenset(
    (
        "directions",
        "direction",
        "instructions",
        "instruction",
        "name",
        "date",
        "class",
        "score",
        "student",
        "subject line",
        "http",
        "https",
    )
)


def words_for(meaning: str) -> str:
    """The words for a label as an alternative of a pattern, the longest first."""
    return "|".join(re.escape(word) for word in sorted(LABELS[meaning], key=len, reverse=True))


_WORDS = "|".join(re.escape(word) for word in sorted(MEANING, key=len, reverse=True))
LABEL = re.compile(
    rf"^\s*[*_]*(?P<label>{_WORDS})[*_]*(?:\s*+(?:[:=][*_]*|\.(?=\s))|\s++[-–](?=\s))\s*+[*_]*+\s*+(?P<rest>.*)$", re.I
)
LABEL_WORD = re.compile(rf"^\s*[*_]*(?:{_WORDS})[*_]*\s?[:=]", re.I)
# A key that stands behind what it is the key of: “Clay is fine. (T/F) Answer: T”, “Which? (Ans: b)”.
KEY_ON_LINE = re.compile(r"\s[(\[]?(?=(?:correct\s+)?(?:answers?|ans|key)\s*[:=]\s*(?P<key>[^:=]{1,12}?)\s*+[)\]]?\s*+$)", re.I)
# A key as a sentence, or behind an arrow: “The correct answer is B.”, “-> B”.
KEY_SENTENCE = re.compile(
    r"\s*+(?P<words>(?:(?:the\s++)?+(?:(?:correct|right|best)\s++)?+(?:answers?|choices?|options?|responses?|keys?)|ans\.?|correct|right)\s++(?:is|are))\s*+:?\s*+"
    r"(?P<rest>\(?[A-Za-z]{1,5}\)?(?:,?\s(?:and\s|&\s)?\(?[A-Za-z]\)?)*+|\S.{0,240}?)\.?\s*$",
    re.I,
)
KEY_ARROW = re.compile(r"^\s*(?:-+>|=+>|→|⇒)\s*(?P<rest>\(?[A-Za-z]\)?)\.?\s*$")
# Questions and answers as pairs: “Q: … A: …”.
QUESTION_OF_PAIR = re.compile(r"^\s*Q(?P<n>\d{1,3})?\s*[:.]\s*(?P<rest>\S.*)$")
ANSWER_OF_PAIR = re.compile(r"^\s*A(?P<n>\d{1,3})?\s*[:.]\s*(?P<rest>\S.*)$")
CHOICE_FEEDBACK = re.compile(
    r"^\s*(?:feedback|rationale|explanation|comment)\s*(?:for\s+)?\(?(?P<letter>[A-Ha-h])\)?\s*[:.\-–—]\s*", re.I
)
NEAR_KEY = re.compile(r"^\s*(?:the\s+)?(?:answer|ans|correct|key)\b.{0,40}$", re.I)

NAMED_HEADING = re.compile(
    r"^\s*(?:chapter|unit|section|part|module|lesson|week)\s+(?:\d+(?:\.\d+)*|[IVXL]+|[A-Z])\b(?:\s*[:.\-–—,]\s*.*|\s*\(.*|\s*)$",
    re.I,
)
MARKED_HEADING = re.compile(r"^\s{0,3}(#{1,6})\s+(.*?)\s*#*\s*$")
KEY_HEADING = re.compile(
    r"^[\W_]*+(?:[^\d:][^:]{0,50}\s[–—-]\s|(?:test|quiz|exam|version)\s\w{1,3}[\s:,-]{1,3})?(?:the\s|list\sof\s)?(?:correct\s|right\s|model\s)?"
    r"(?:answers?|keys?|solutions?|lösung(?:en|sschlüssel)?|antworten|réponses|corrigé|respuestas|soluciones|clave|risposte|soluzioni|respostas|gabarito|antwoorden)"
    r"(?:\s(?:key|keys|list|sheet|to|for|of|de|des|der|section)\b[^:]*+)?[\W_]*+$",
    re.I,
)
ANSWER_BLANK = re.compile(r"^_{2,}\s+(?=[A-Z“\"0-9])")
# What a choice earns, behind it: “clay (50 %)”, “sand [-25%]”.
SHARE_BEHIND = re.compile(spaces.BEFORE + r"[(\[]\s*+(?P<n>[-−+]?\d{1,3}(?:\.\d+)?)\s?%\s*+[)\]]\s*+$")
# A key that several answers meet, and one that is near a number.
ANY_OF = re.compile(r"^\s*any\s+(?:one|two|three|four|five|\d)\b", re.I)
ABOUT = re.compile(r"^\s*(?:about|approx(?:\.|imately)?|around|roughly|ca\.?|~|≈)\s*(?=[-−]?\d)", re.I)
# An answer in brackets within a text, and a question that asks to fill in.
BRACKETED = re.compile(r"\[(?P<answers>[^\[\]<>_]{1,80})\]")
FILL_CUE = re.compile(r"^\s*(?:fill\s+in|complete)\b", re.I)
TRUE_FALSE_CUE = re.compile(r"\b(?:true\s*(?:or|/)\s*false|t\s*/\s*f)\b", re.I)
SEVERAL_CUE = re.compile(
    r"\b(?:all\s+that|select\s+all|mark\s+all|mark\s+every|choose\s+all|check\s+all|which\s+(?:two|three|four)|(?:choose|select|pick|mark|name)\s+"
    r"(?:two|three|four|2|3|4|several)|more\s+than\s+one|one\s+or\s+more|all\s+of\s+(?:those|them)\s+that)\b",
    re.I,
)
ONE_CUE = re.compile(r"\b(?:choose|select|pick|mark)\s+(?:only\s+)?one\b", re.I)
ESSAY_CUE = re.compile(
    r"^\s*(?:in\s+[\w\s-]+,\s*)?(?:explain|describe|discuss|compare|contrast|outline|summari[sz]e|justify|evaluate|analy[sz]e|draw|sketch|prove|"
    r"give\s+(?:an?|two|three|reasons)|write|list|define|say\s+(?:why|how|what)|illustrate|comment|argue|assess|state\s+and)\b",
    re.I,
)
# What a direction or a heading says of the questions below it.
DIRECTION = re.compile(
    r"^\s*(?:[*_]*(?:directions?|instructions?|note)\b\s*[:.]|(?:please\s+)?(?:choose|select|circle|mark|tick|check|write|indicate|answer|match|"
    r"fill|complete|put|place|identify|decide|for\s+(?:each|questions|items)|in\s+(?:each|the\s+space)|give|each\s+(?:question|item)|read\s+each|"
    r"(?:multiple[\s-]+choice|true\s*(?:/|or|-)\s*false|matching|essays?|short\s+answers?|fill[\s-]+in[^.:]{0,20}|completion)\s*[.:]\s+(?=\w)|"
    r"use\s+(?:the|a)|show|attempt|there\s+(?:is|are)\s+(?:one|only\s+one))\b)",
    re.I,
)
MATCH_CUE = re.compile(r"\bmatch(?:ing|es)?\b|\bcolumn\s+(?:a|b|i|ii|1|2)\b", re.I)
ORDER_CUE = re.compile(r"\b(?:order|sequence|arrange|rank)\b", re.I)
SECTION_TYPES: tuple[tuple[str, re.Pattern[str]], ...] = (
    ("matching", re.compile(r"\bmatch(?:ing)?\b", re.I)),
    ("true_false", re.compile(r"\btrue\s*(?:or|/|-|and)\s*false\b|\bt\s*(?:/|or)\s*f\b", re.I)),
    ("multiple_response", re.compile(r"\bmultiple[\s-]+(?:response|answers?|select)\b|\ball\s+that\s+apply\b", re.I)),
    ("multiple_choice", re.compile(r"\bmultiple[\s-]+choice\b|\bbest\s+(?:answer|choice)\b", re.I)),
    ("ordering", re.compile(r"\border(?:ing)?\b|\bsequenc(?:e|ing)\b|\brank(?:ing)?\b", re.I)),
    ("numeric", re.compile(r"\b(?:numeric(?:al)?|calculations?|problems)\b", re.I)),
    (
        "fill_in",
        re.compile(r"\bfill[\s-]+in\b|\bcompletion\b|\bshort\s+answers?\b|\bidentification\b|\bcomplete\s+(?:the|each)\b", re.I),
    ),
    ("essay", re.compile(r"\bessays?\b|\blong\s+answers?\b|\bdiscussion\b|\bopen[\s-]+(?:ended|questions?)\b", re.I)),
)
TYPE_HEADING = re.compile(
    r"^\s*(?:multiple[\s-]+(?:choice|response|answers?)|true\s*(?:or|/|-|and)\s*false|matching|short\s+answers?|essays?|fill[\s-]+in.{0,20}|"
    r"completion|numeric(?:al)?|ordering|sequenc(?:e|ing)|long\s+answers?|problems|calculations|written\s+questions)\s*+(?:questions?|items|section|problems)?\s*+"
    r"(?:[(\[].*[)\]]|[,–—-]\s.*\d.*)?\s*+[:.]?\s*+$",
    re.I,
)


def names_a_part(text: str, start: int = 0) -> bool:
    """Whether a line names a part of the test; `start` is where its text begins behind a label of its own."""
    named = NAMED_HEADING.match(text) or TYPE_HEADING.match(text)
    return bool(named or (start and TYPE_HEADING.match(text[start:])))


# What a number counts that a question is worth.
POINT_WORDS = r"(?:points?|pts?\.?|marks?|credits?|punkte|puntos|punti)"
POINTS_EACH = re.compile(
    rf"[(\[]?\b(?P<n>\d+(?:[.,]\d+)?)\s*{POINT_WORDS}\s*(?P<each>each|per\s+(?:question|item)|apiece|every)?", re.I
)
WORTH_EACH = re.compile(rf"\b(?:each|every)\b.{{0,30}}?\b(?:worth|carries|is|=)\s*(?P<n>\d+(?:[.,]\d+)?)\s*{POINT_WORDS}", re.I)
USE_FOR = re.compile(
    r"\b(?:questions?|items?|problems?|exercises?|nos?\.?|numbers?)\s+#?(?P<a>\d{1,3})\s*(?:-|–|—|to|through|and|&|,)\s*#?(?P<b>\d{1,3})\b",
    re.I,
)
USE_FOR_ONE = re.compile(r"\bfor\s+(?:the\s+)?(?:question|item|problem|exercise)\s+#?(?P<a>\d{1,3})\b", re.I)
USE_CUE = re.compile(
    r"\b(?:use|refer|read|look|study|consult|based?|following|consider|examine|figure|passage|table|map|graph|diagram|notes?|data|case)\b",
    re.I,
)
KEY_BEFORE = re.compile(r"^(?:_*\s*)?[(\[]?(?P<key>T|F|True|False|TRUE|FALSE)[)\]]?(?:\s*_+)?[\s.:\-–—]+(?=[A-Z“\"0-9])")
KEY_BEHIND = re.compile(
    rf"(?:{spaces.BEFORE}[(\[](?P<key>true|false|t|f)[)\]]|(?:{spaces.BEFORE}[-–—]\s*+|(?<=[.!])\s++)(?P<word>true|false)\.?)\s*+$",
    re.I,
)
PAGE_FURNITURE = re.compile(
    r"^\s*+(?:(?:page|p\.)\s*+\d++(?:\s*+(?:of|/)\s*+\d++)?|\d++\s*+(?:of|/)\s*+\d++|[-–—]\s*+\d++\s*+[-–—]|©.*+|copyright\b.*+|"
    r"(?:name|student|date|class|group|section|score|id|period)\s*+:?\s*+_{3,}.*+|\W*+(?:the\s+)?end\s+of\s+(?:the\s+)?(?:test|quiz|exam(?:ination)?|paper|part\s+\w{1,3}|section\s+\w{1,3})\W*+|"
    r"[-=_*~]{3,}+|(?:please\s+)?turn\s+(?:over|the\s+page).*+|good\s+luck\W*+)\s*+$",
    re.I,
)
BLANK = re.compile(r"_{3,}|(?<!_)_(?:[ ]_){2,}|\.{5,}|…{2,}\.{0,2}|…\.{2,}|<blank>|[\[{(](?:blank|\s{2,}|_+|\.{3,}|…+)[\]})]", re.I)
