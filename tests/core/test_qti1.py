"""QTI 1.2: the habits of exporters, and keys found by probing whatever way the rules are written."""

from __future__ import annotations

import io
import zipfile

import pytest

from rogatum.core.receiving import read_source

LABELS = "".join(
    f'<response_label ident="{c}"><material><mattext>{t}</mattext></material></response_label>'
    for c, t in zip("ABCD", ("sand", "silt", "clay", "peat"), strict=True)
)


def lid(cardinality="Single", labels=LABELS, ident="R"):
    return f'<response_lid ident="{ident}" rcardinality="{cardinality}"><render_choice>{labels}</render_choice></response_lid>'


def fib(kind="String", rows=1, tag="response_str"):
    return f'<{tag} ident="R" rcardinality="Single"><render_fib fibtype="{kind}" rows="{rows}"><response_label ident="X"/></render_fib></{tag}>'


def eq(value, ident="R", extra=""):
    return f'<varequal respident="{ident}"{extra}>{value}</varequal>'


def rule(test, score=None, action="Set", goes_on=False, show=""):
    setting = f'<setvar action="{action}">{score}</setvar>' if score is not None else ""
    shown = f'<displayfeedback linkrefid="{show}"/>' if show else ""
    more = ' continue="Yes"' if goes_on else ""
    return f"<respcondition{more}><conditionvar>{test}</conditionvar>{setting}{shown}</respcondition>"


def item(form, rules="", extra="", ident="q1", decvar='<decvar maxvalue="1"/>', stem="Which?"):
    return (
        f'<item ident="{ident}"><presentation><material><mattext>{stem}</mattext></material>{form}</presentation>'
        f"<resprocessing><outcomes>{decvar}</outcomes>{rules}</resprocessing>{extra}</item>"
    )


def bank_of(*items, wrap="{}"):
    text = "<questestinterop>" + wrap.format("".join(items)) + "</questestinterop>"
    return read_source(("x.xml", text.encode())).bank


def only(*arguments, **named):
    bank = bank_of(item(*arguments, **named))
    assert len(bank.items) == 1
    return bank.items[0]


NOT_C = f"<not>{eq('C')}</not>"


@pytest.mark.parametrize(
    ("rules", "weights"),
    [
        (rule(eq("B"), 1), [0, 1, 0, 0]),
        (rule(f"<not>{eq('B')}</not>", 0) + rule("<other/>", 1), [0, 1, 0, 0]),
        (rule(f"<or>{eq('A')}{eq('C')}{eq('D')}</or>", 0) + rule("<other/>", 1), [0, 1, 0, 0]),
        (rule(eq("B"), 1, goes_on=True) + rule(eq("C"), 0.5, goes_on=True), [0, 1, 0.5, 0]),
        (rule(eq("B"), 4, "Add", goes_on=True) + rule("<other/>", 4, "Divide"), [0, 1, 0, 0]),
        (rule("<other/>", -1, goes_on=True) + rule(eq("B"), 2, "Add"), [-1, 1, -1, -1]),
    ],
    ids=["set", "not then other", "wrong ones named", "partial", "divided", "penalty"],
)
def test_single_keys_however_they_are_written(rules, weights):
    assert [choice.weight for choice in only(lid(), rules).choices] == weights


@pytest.mark.parametrize(
    ("rules", "key", "scoring"),
    [
        (rule(f"<and>{eq('A')}{eq('B')}{NOT_C}<not>{eq('D')}</not></and>", 1), "AB", "all_or_nothing"),
        (rule(eq("A") + eq("B"), 1), "AB", "all_or_nothing"),
        (rule('<varsubset respident="R" setmatch="Exact">A,B</varsubset>', 1), "AB", "all_or_nothing"),
        (rule(eq("A"), 0.5, "Add", goes_on=True) + rule(eq("B"), 0.5, "Add", goes_on=True), "AB", "per_choice"),
        (rule(eq("C"), 0) + rule(f"<and>{eq('A')}{eq('B')}</and>", 1), "AB", "all_or_nothing"),
    ],
    ids=["and not", "side by side", "subset", "added", "barred first"],
)
def test_keys_of_several(rules, key, scoring):
    found = only(lid("Multiple"), rules)
    assert found.type == "multiple_response" and found.scoring == scoring
    assert "".join(choice.id for choice in found.choices if choice.weight > 0) == key


def test_what_cannot_be_held_exactly_is_said():
    rules = rule(f"<and>{eq('A')}{eq('B')}</and>", 1) + rule(eq("A"), 0.5)
    codes = [f.code for f in bank_of(item(lid("Multiple"), rules)).findings]
    assert "marking-approximated" in codes
    either = rule(f"<and>{eq('A')}{eq('B')}{NOT_C}</and>", 1) + rule(f"<and>{eq('C')}{eq('D')}</and>", 1)
    assert "several-combinations" in [f.code for f in bank_of(item(lid("Multiple"), either)).findings]
    assert "marking-undecided" in [f.code for f in bank_of(item(lid(), rule("<var_extension/>", 1))).findings]


@pytest.mark.parametrize(
    ("form", "rules", "bounds"),
    [
        (fib("Decimal"), rule('<vargte respident="R">1</vargte><varlte respident="R">2</varlte>', 1), (1, 2)),
        (fib("Decimal", tag="response_num"), rule(eq("25"), 1), (25, 25)),
        (
            fib(),
            rule(f'<or>{eq("5")}<and><vargt respident="R">4.5</vargt><varlt respident="R">5.5</varlt></and></or>', 1),
            (4.5, 5.5),
        ),
        (fib("Integer"), rule('<vargte respident="R">10</vargte>', 1), (10, float("inf"))),
        (fib("Decimal"), rule('<varlt respident="R">1</varlt>', 0) + rule('<varlte respident="R">3</varlte>', 1), (1, 3)),
    ],
    ids=["range", "value", "around a value", "open", "excluded first"],
)
def test_numeric_keys(form, rules, bounds):
    found = only(form, rules)
    assert found.type == "numeric" and [a.bounds() for a in found.answers] == [bounds]


def test_texts_with_case_parts_and_weights():
    found = only(fib(), rule(eq("CaO", extra=' case="Yes"'), 1) + rule(eq("lime"), 0.5))
    assert not found.case_sensitive and [(a.text, a.weight, a.case_sensitive) for a in found.answers] == [
        ("CaO", 1, True),
        ("lime", 0.5, None),
    ]
    part = only(fib(), rule('<varsubstring respident="R">loam</varsubstring>', 1))
    assert part.answers[0].match == "contains"
    assert only(fib(rows=10)).type == "essay"


def test_points_come_from_metadata_before_the_scale():
    meta = "<itemmetadata><qtimetadata><qtimetadatafield><fieldlabel>Points</fieldlabel><fieldentry>2</fieldentry></qtimetadatafield></qtimetadata></itemmetadata>"
    found = only(lid(), rule(eq("B"), 100), meta, decvar='<decvar maxvalue="100"/>')
    assert found.points == 2 and [c.weight for c in found.choices] == [0, 1, 0, 0]


def test_matching_keeps_lefts_rights_and_spares():
    prompts = "".join(
        f'<response_lid ident="R{n}" rcardinality="Single"><material><mattext>left {n}</mattext></material>'
        f"<render_choice>{LABELS}</render_choice></response_lid>"
        for n in (1, 2)
    )
    rules = rule(eq("B", "R1"), 1, "Add", True) + rule(eq("A", "R2"), 1, "Add", True)
    found = only(prompts, rules, decvar='<decvar maxvalue="2"/>')
    assert [(p.left, p.right) for p in found.pairs] == [("left 1", "silt"), ("left 2", "sand")]
    assert found.distractors == ["clay", "peat"] and found.points == 2


def test_unknown_kinds_are_preserved_with_their_original():
    hotspot = '<response_xy ident="R"><render_hotspot><response_label ident="A" rarea="ellipse">1,2,3,4</response_label></render_hotspot></response_xy>'
    bank = bank_of(item(hotspot))
    assert bank.items[0].type == "preserved" and "render_hotspot" in bank.items[0].original
    assert [f.code for f in bank.findings if f.level == "warning"] == ["preserved-kind"]


def test_nothing_disappears_silently():
    bank = bank_of(item(lid(), rule(eq("B"), 1), '<vendor note="keep me">and this</vendor>'))
    assert {"vendor note: keep me", "and this"} <= {u.text for u in bank.accounting.unclaimed}


def test_sections_make_pools_and_selections_draws():
    section = (
        '<assessment title="Soils"><section title="Texture"><selection_ordering><selection><selection_number>1</selection_number>'
        "</selection></selection_ordering>{}</section></assessment>"
    )
    bank = bank_of(item(lid(), rule(eq("B"), 1)), item(lid(), rule(eq("A"), 1), ident="q2"), wrap=section)
    assert bank.pools[0].path == ["Soils", "Texture"] and bank.draws[0].pick == 1 and bank.draws[0].points_each == 1


@pytest.mark.parametrize("reference", [r"Pics\A%20B.PNG", "./pics/a b.png", "$IMS-CC-FILEBASE$/pics/a b.png", "elsewhere/a b.png"])
def test_references_that_lie_are_still_found(reference):
    data = io.BytesIO()
    stem = f'&lt;img src="{reference}" alt="x"&gt;'
    text = (
        "<questestinterop>"
        + item(lid(), rule(eq("B"), 1), stem=stem).replace("<mattext>&lt;img", '<mattext texttype="text/html">&lt;img')
        + "</questestinterop>"
    )
    with zipfile.ZipFile(data, "w") as archive:
        archive.writestr("bank.dat", text)
        archive.writestr("pics/a b.png", b"\x89PNG")
    bank = read_source(("x.zip", data.getvalue())).bank
    assert [m.ref for m in bank.media] == ["media/a_b.png"] and 'src="media/a_b.png"' in bank.items[0].stem


@pytest.mark.parametrize("encoding", ["utf-16", "latin-1", "cp1252", "utf-8-sig"])
def test_encodings(encoding):
    text = "<questestinterop>" + item(lid(), rule(eq("B"), 1), stem="Évrard, 20 °C") + "</questestinterop>"
    declared = "" if encoding in ("utf-8-sig", "utf-16") else f'<?xml version="1.0" encoding="{encoding}"?>'
    assert read_source(("x.xml", (declared + text).encode(encoding))).bank.items[0].stem == "Évrard, 20 °C"
    undeclared = read_source(("x.xml", text.encode(encoding))).bank
    assert undeclared.items[0].stem == "Évrard, 20 °C"
