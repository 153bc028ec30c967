"""Rich content: canonical, sanitised, and each of its views."""

from __future__ import annotations

import pytest

from rogatum.core.items import content as c

CANONICAL = {
    "plain text": ("5 < 6 & 7", "5 &lt; 6 &amp; 7"),
    "a lone paragraph is unwrapped": ("<p>loam</p>", "loam"),
    "two paragraphs stay": ("<p>a</p><p>b</p>", "<p>a</p><p>b</p>"),
    "old names of emphasis": ("<b>a</b> <i>b</i> <strike>c</strike>", "<strong>a</strong> <em>b</em> <s>c</s>"),
    "divisions are paragraphs": ("<div>a</div><div>b</div>", "<p>a</p><p>b</p>"),
    "headings are strong paragraphs": ("<h2>a</h2><p>b</p>", "<p><strong>a</strong></p><p>b</p>"),
    "void elements are closed": ("a<br>b", "a<br/>b"),
    "empty blocks go": ("<p>a</p><p></p><p>b</p>", "<p>a</p><p>b</p>"),
    "style and class go": ('<p class="x" style="color:red">a</p>', "a"),
    "bare spans go": ("<span>a</span> <span lang='la'>b</span>", 'a <span lang="la">b</span>'),
    "scripts go with their content": ("a<script>alert(1)</script>b", "ab"),
    "handlers go": ('<p onclick="x()">a</p>', "a"),
    "addresses of scripts go": ('<a href="javascript:x()">a</a>', "<a>a</a>"),
    "data attributes of blanks stay": ('<span data-blank="b1"></span>', '<span data-blank="b1"></span>'),
    "subscripts stay": ("H<sub>2</sub>O", "H<sub>2</sub>O"),
    "non-breaking spaces become signs": ("40&nbsp;%", "40\u00a0%"),
    "tables keep their spans": (
        '<table><tr><td colspan="2">a</td></tr></table>',
        '<table><tbody><tr><td colspan="2">a</td></tr></tbody></table>',
    ),
    "frames go": ("a<iframe src='x'></iframe>", "a"),
}


@pytest.mark.parametrize(("markup", "wanted"), CANONICAL.values(), ids=CANONICAL)
def test_canonical(markup, wanted):
    assert c.rich(markup) == wanted
    assert c.rich(c.rich(markup)) == wanted, "what is canonical stays as it is"


REMOVED = {
    "a script": ("<script>x</script>", "removed", "<script>"),
    "a handler": ('<p onclick="x()">a</p>', "removed", "an event handler"),
    "a form": ("<form><input></form>a", "removed", "<form>"),
    "ruby": ("<ruby>a<rt>b</rt></ruby>", "dropped", "<ruby>"),
}


@pytest.mark.parametrize(("markup", "kind", "name"), REMOVED.values(), ids=REMOVED)
def test_what_is_taken_out_is_named(markup, kind, name):
    notes = c.Notes()
    c.rich(markup, notes=notes)
    assert name in getattr(notes, kind)


FORMULAS = {
    "brackets": (r"Use \(x^2\) here", True, ["x^2"]),
    "two dollars": (r"$$\frac{a}{b}$$", False, [r"\frac{a}{b}"]),
    "dollars": ("of $x_1$ and $y$", True, ["x_1", "y"]),
    "dollars where they are not asked for": ("of $x_1$", False, []),
    "prices": ("It costs $5 or $6 today", True, []),
    "prices with words between": ("from $5 a bag to $8 a bag", True, []),
    "code is left alone": ("<code>\\(x\\)</code>", True, []),
    "braces around one sign mean nothing": (r"\(\rho_{b}\)", False, [r"\rho_b"]),
}


@pytest.mark.parametrize(("text", "dollars", "wanted"), FORMULAS.values(), ids=FORMULAS)
def test_formulas(text, dollars, wanted):
    assert c.formulas_of(c.rich(text, dollars=dollars)) == wanted


def test_a_formula_keeps_both_forms():
    made = c.rich(r"\(\frac{1}{2}\)")
    assert "<mfrac>" in made and r"\frac{1}{2}</annotation>" in made
    assert c.plain_text(made) == r"\frac{1}{2}" and c.plain_text(made, math=lambda tex: f"[{tex}]") == r"[\frac{1}{2}]"


def test_a_formula_that_does_not_parse_is_noted_and_kept_as_text():
    notes = c.Notes()
    assert r"\left(" in c.rich(r"\(\left(\)", notes=notes)
    assert notes.broken_formulas == [r"\left("]


VIEWS = {
    "plain": (c.plain_text, "<p>a <b>b</b></p><p>c&amp;d</p>", "a b c&d"),
    "a blank": (c.plain_text, 'x <span data-blank="b1"></span> y', "x _____ y"),
    "quotes and dashes are alike": (c.comparable, "“a” – b…", '"a" - b...'),
    "formatting": (c.skeleton, "<p>a <em>b</em></p>", ["em", "/em"]),
    "blanks": (c.blanks_of, '<span data-blank="b1"></span><span data-blank="b2"></span>', ["b1", "b2"]),
    "media": (c.media_refs, '<img src="media/a.png" alt="x"/><audio src="media/b.mp3"></audio>', ["media/a.png", "media/b.mp3"]),
    "alternative texts": (c.alt_texts, '<img src="a" alt="a &amp; b"/>', ["a & b"]),
}


@pytest.mark.parametrize(("view", "markup", "wanted"), VIEWS.values(), ids=VIEWS)
def test_views(view, markup, wanted):
    assert view(markup) == wanted


def test_blocks_part_inline_runs_from_blocks():
    assert list(c.blocks_of("a <em>b</em><p>c</p>d<table><tr><td>e</td></tr></table>")) == [
        "a <em>b</em>",
        "<p>c</p>",
        "d",
        "<table><tr><td>e</td></tr></table>",
    ]


def test_addresses_are_changed_and_nothing_else():
    changed = c.with_refs('<img src="media/a.png" alt="media/a.png"/>', lambda ref: ref.replace("a", "b"))
    assert changed == '<img src="medib/b.png" alt="media/a.png"/>'


@pytest.mark.parametrize(
    ("one", "other"), [(r"\rho_{b}", r"\rho_b"), (r"x^{2}", "x^2"), (r"a \neq b", r"a\ne b"), (r"\left(x\right)", "(x)")]
)
def test_tex_that_means_the_same(one, other):
    assert c.normal_tex(one) == c.normal_tex(other)


def test_tex_that_does_not():
    assert c.normal_tex("x^{12}") != c.normal_tex("x^12")
