"""A publisher's test generator, simulated: one package per chapter within one archive.

It has the habits of such programs: 100 points on every item, a type called "other", pictures in a folder of its own,
markup escaped within text, the same file name in every package. It knows nothing of the rest of the project.
"""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape, quoteattr

HERE = Path(__file__).parent
CHAPTERS = {1: "chapter1.json", 2: "chapter2.json", 3: "chapter3.json"}
LATER_CHAPTERS = {5: "chapter5.json", 6: "chapter6.json"}
EPOCH = (1980, 1, 1, 0, 0, 0)


def chapters_archive(chapters: dict[int, str] = CHAPTERS) -> bytes:
    """Chapters as an archive of archives."""
    outer = io.BytesIO()
    with zipfile.ZipFile(outer, "w") as archive:
        for number, name in chapters.items():
            _put(
                archive,
                f"GroundBeneath_ch{number:02}.zip",
                chapter_package(json.loads((HERE / name).read_text()), number),
            )
    return outer.getvalue()


def _put(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    archive.writestr(zipfile.ZipInfo(name, EPOCH), data, zipfile.ZIP_DEFLATED)


def chapter_package(chapter: dict[str, Any], number: int) -> bytes:
    items = [(section["title"], n, item) for section in chapter["sections"] for n, item in enumerate(section["items"])]
    pictures = sorted({item["picture"] for _, _, item in items if "picture" in item})
    body = [f'<assessment ident="GB{number}" title={quoteattr(chapter["title"])}>']
    serial = 0
    for section in chapter["sections"]:
        body.append(f'<section ident="S{number}_{len(body)}" title={quoteattr(section["title"])}>')
        for item in section["items"]:
            serial += 1
            body.append(_item(f"GB{number}_{serial:03}", item))
        body.append("</section>")
    body.append("</assessment>")
    document = '<?xml version="1.0" encoding="UTF-8"?>\n<questestinterop>\n' + "\n".join(body) + "\n</questestinterop>\n"
    package = io.BytesIO()
    with zipfile.ZipFile(package, "w") as archive:
        _put(archive, "imsmanifest.xml", _manifest(chapter["title"], pictures).encode())
        _put(archive, "items.xml", document.encode())
        for picture in pictures:
            _put(archive, f"pictures/{picture}", (HERE / "pictures" / picture).read_bytes())
    return package.getvalue()


def _manifest(title: str, pictures: list[str]) -> str:
    files = "".join(f'<file href="pictures/{name}"/>' for name in pictures)
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<manifest identifier="MANIFEST1" xmlns="http://www.imsglobal.org/xsd/imscp_v1p1">'
        "<metadata><schema>IMS Content</schema><schemaversion>1.1.3</schemaversion></metadata><organizations/><resources>"
        f'<resource identifier="R1" type="imsqti_xmlv1p2" href="items.xml"><file href="items.xml"/>{files}</resource>'
        f"</resources></manifest><!-- {escape(title)} -->\n"
    )


def _text(markup: str) -> str:
    return f'<material><mattext texttype="text/html">{escape(markup)}</mattext></material>'


def _fields(item: dict[str, Any]) -> str:
    labels = {
        "Type": item.get("said", "other"),
        "Difficulty": item.get("difficulty"),
        "Learning outcome": item.get("outcome"),
        "Page": item.get("page"),
    }
    entries = "".join(
        f"<qtimetadatafield><fieldlabel>{label}</fieldlabel><fieldentry>{escape(str(value))}</fieldentry></qtimetadatafield>"
        for label, value in labels.items()
        if value
    )
    return f"<itemmetadata><qtimetadata>{entries}</qtimetadata></itemmetadata>"


def _condition(test: str, score: float, action: str = "Set", goes_on: bool = False, feedback: str = "") -> str:
    more = ' continue="Yes"' if goes_on else ""
    shown = f'<displayfeedback feedbacktype="Response" linkrefid="{feedback}"/>' if feedback else ""
    setting = f'<setvar varname="SCORE" action="{action}">{score:g}</setvar>'
    return f"<respcondition{more}><conditionvar>{test}</conditionvar>{setting}{shown}</respcondition>"


def _equal(name: str, value: str, index: int | None = None) -> str:
    place = f' index="{index}"' if index else ""
    return f'<varequal respident="{name}"{place}>{escape(value)}</varequal>'


def _options(name: str, cardinality: str, options: list[str], prompt: str = "") -> str:
    labels = "".join(f'<response_label ident="{chr(65 + n)}">{_text(option)}</response_label>' for n, option in enumerate(options))
    return (
        f'<response_lid ident="{name}" rcardinality="{cardinality}">{prompt}<render_choice>{labels}</render_choice></response_lid>'
    )


def _field(name: str, kind: str, rows: int = 1) -> str:
    tag = "response_num" if kind == "Decimal" else "response_str"
    render = f'<render_fib fibtype="{kind}" prompt="Box" rows="{rows}" columns="40"><response_label ident="ANS"/></render_fib>'
    return f'<{tag} ident="{name}" rcardinality="Single">{render}</{tag}>'


def _item(ident: str, item: dict[str, Any]) -> str:
    stem = item["stem"]
    if "picture" in item:
        stem += f'<br><img src="pictures/{item["picture"]}" alt="{item["alt"]}">'
    form, rules = _form(ident, item)
    feedback = ""
    if "feedback" in item:
        feedback = f'<itemfeedback ident="{ident}_general" view="Candidate">{_text(item["feedback"])}</itemfeedback>'
        rules = (
            '<respcondition continue="Yes"><conditionvar><other/></conditionvar>'
            f'<displayfeedback feedbacktype="Response" linkrefid="{ident}_general"/></respcondition>' + rules
        )
    if "solution" in item:
        feedback += (
            f'<itemfeedback ident="{ident}_solution" view="All"><solution><solutionmaterial>{_text(item["solution"])}'
            "</solutionmaterial></solution></itemfeedback>"
        )
    outcomes = '<outcomes><decvar varname="SCORE" vartype="Integer" defaultval="0" maxvalue="100"/></outcomes>'
    return (
        f'<item ident="{ident}">{_fields(item)}<presentation>{_text(stem)}{form}</presentation>'
        f"<resprocessing>{outcomes}{rules}</resprocessing>{feedback}</item>"
    )


def _form(ident: str, item: dict[str, Any]) -> tuple[str, str]:
    """The responses of an item, and its rules."""
    name = f"R_{ident}"
    if "choices" in item:
        right = [n for n, choice in enumerate(item["choices"]) if choice.startswith("*")]
        options = [choice.lstrip("*") for choice in item["choices"]]
        if item.get("several"):
            tests = "".join(
                _equal(name, chr(65 + n)) if n in right else f"<not>{_equal(name, chr(65 + n))}</not>" for n in range(len(options))
            )
            return _options(name, "Multiple", options), _condition(f"<and>{tests}</and>", 100)
        return _options(name, "Single", options), _condition(_equal(name, chr(65 + right[0])), 100)
    if "truth" in item:
        return _options(name, "Single", ["True", "False"]), _condition(_equal(name, "A" if item["truth"] else "B"), 100)
    if "between" in item:
        low, high = item["between"]
        test = f'<and><vargte respident="{name}">{low}</vargte><varlte respident="{name}">{high}</varlte></and>'
        return _field(name, "Decimal"), _condition(test, 100)
    if "words" in item:
        return _field(name, "String"), _condition("<or>" + "".join(_equal(name, word) for word in item["words"]) + "</or>", 100)
    if "pairs" in item:
        rights = sorted({right for _, right in item["pairs"]} | set(item.get("spare", [])))
        forms = [_options(f"{name}_{n}", "Single", rights, _text(left)) for n, (left, _) in enumerate(item["pairs"])]
        share = round(100 / len(item["pairs"]), 4)
        rules = [
            _condition(_equal(f"{name}_{n}", chr(65 + rights.index(right))), share, "Add", goes_on=True)
            for n, (_, right) in enumerate(item["pairs"])
        ]
        return "".join(forms), "".join(rules)
    if "order" in item:
        shown = sorted(item["order"])
        tests = "".join(_equal(name, chr(65 + shown.index(text)), n) for n, text in enumerate(item["order"], 1))
        return _options(name, "Ordered", shown), _condition(f"<and>{tests}</and>", 100)
    return _field(name, "String", rows=10), _condition(f'<unanswered respident="{name}"/>', 0)
