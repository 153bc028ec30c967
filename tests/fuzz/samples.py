"""A small sound sample of every format that is read, written by our own writers or by hand; mutants are made of them."""

from __future__ import annotations

import io
import json
from functools import cache

from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P

from rogatum.core.exporting import export_bank
from rogatum.core.formats import readable_formats
from rogatum.core.items import (
    Bank,
    Choice,
    Cloze,
    Essay,
    FillIn,
    Matching,
    MultipleChoice,
    Numeric,
    NumericAnswer,
    Ordering,
    Pair,
    PoolEntry,
    Stimulus,
    TextAnswer,
    TextBlank,
    TrueFalse,
)
from rogatum.core.quizzes.model import Draw, Part, Quiz, ScoreFeedback, Settings
from rogatum.core.sources import MediaBox

PICTURE = b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\x00\x01\x00\x00\x00\x01\x08\x02\x00\x00\x00\x90wS\xde"
ROWS = [
    ["Question", "A", "B", "Answer", "Points"],
    ["Which is finest?", "sand", "clay", "B", "2"],
    ["Which gas?", "oxygen", "helium", "A", "1"],
]
PASTED = "Soils\n\n1. Which is finest?\na) sand\n*b) clay\n\n2. Loam is a ____.\nAnswer: mixture\nPoints: 2\n\nAnswer key\n1. b\n"


def _halves(items):
    cut = len(items) // 2
    return ("first", items[:cut]), ("second", items[cut:])


def _bank() -> tuple[Bank, MediaBox]:
    media = MediaBox()
    ref = media.add_bytes("pit.png", PICTURE)
    table = "<table><tr><td>a</td><td>b</td></tr></table>"
    bank = Bank(title="Soils", stimuli=[Stimulus(id="s1", content=f"<p>Notes</p>{table}")], media=media.entries())
    pair = [Choice(id="a", content="sand"), Choice(id="b", content="clay &lt; 2", weight=1, feedback="fine")]
    bank.items = [
        MultipleChoice(id="i1", title="One", stem=f'Which? <img src="{ref}" alt="a pit"/>', choices=pair, points=2, stimulus="s1"),
        TrueFalse(id="i2", stem="<p>Loam <em>holds</em> sand.</p>", answer=True, feedback={"general": "Yes."}),
        FillIn(id="i3", stem="A soil is ____.", answers=[TextAnswer(text="earth"), TextAnswer(text="col(ou)?r", match="regex")]),
        Numeric(id="i4", stem="How much?", answers=[NumericAnswer(value=25, tolerance=0.5)], metadata={"outcome": ["2.1"]}),
        Matching(id="i5", stem="Match.", pairs=[Pair(left="A", right="top"), Pair(left="B", right="below")]),
        Ordering(id="i6", stem="Order.", sequence=["first", "second", "third"]),
        Essay(id="i7", stem="Why?", sample_answer="Because.", rubric="Two reasons."),
        Cloze(
            id="i8",
            stem='A <span data-blank="b1"></span> of <span data-blank="b2"></span>.',
            blanks=[TextBlank(id=f"b{n}", answers=[TextAnswer(text=text)], share=0.5) for n, text in ((1, "pit"), (2, "soil"))],
        ),
    ]
    bank.pools = [PoolEntry(path=["Soils", f"{name}"], items=[item.id for item in half]) for name, half in _halves(bank.items)]
    feedback = [ScoreFeedback(content="<p>Well done.</p>", least=0.8), ScoreFeedback(content="Once more.", below=0.5)]
    settings = Settings(
        time_limit=25,
        attempts=2,
        show_key="never",
        show_feedback="on submitting",
        shuffle_items=True,
        navigation="in order",
        feedback=feedback,
    )
    drawn = Part(title="Drawn", draw=Draw(pool=["Soils", "first"], pick=2), points_each=4)
    fixed = Part(title="Fixed", items=bank.pools[1].items, points={bank.pools[1].items[0]: 3})
    bank.quizzes = [Quiz(id="w3", title="Week 3", parts=[fixed, drawn], settings=settings)]
    return bank, media


def _ods() -> bytes:
    document, sheet, out = OpenDocumentSpreadsheet(), Table(name="One"), io.BytesIO()
    for row in ROWS:
        line = TableRow()
        for text in row:
            cell = TableCell(valuetype="string")
            cell.addElement(P(text=text))
            line.addElement(cell)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    document.save(out)
    return out.getvalue()


@cache
def samples() -> dict[str, bytes]:
    """Bytes by the name of a file that has them."""
    bank, media = _bank()
    found = {}
    for entry in readable_formats():
        if entry.write is not None:
            written = export_bank(bank, media, entry.name).written
            found[f"{entry.name}{written.suffix}"] = written.data
    delimited = {suffix: sign.join for suffix, sign in (("csv", ","), ("tsv", "\t"))}
    found |= {f"rows.{suffix}": "\n".join(map(join, ROWS)).encode() for suffix, join in delimited.items()}
    found["rows.ods"] = _ods()
    found["pasted.txt"] = PASTED.encode()
    found["items.json"] = json.dumps(json.loads(bank.model_dump_json())).encode()
    return found
