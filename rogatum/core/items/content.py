"""Rich content: a sanitised subset of HTML with MathML, kept as well-formed XML so that every writer can parse it.

What comes out of `rich` is canonical: the same meaning gives the same text, void elements are closed, a lone paragraph
is unwrapped, and no script, style or event handler is left. Formulas are MathML with their TeX as an annotation.
"""

from __future__ import annotations

import html
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import nh3
from latex2mathml.converter import convert as tex_to_markup
from lxml import etree

from rogatum.core import spaces

MATHML = "http://www.w3.org/1998/Math/MathML"
TEX_ENCODING = "application/x-tex"

TEXT_TAGS = frozenset(
    "p br strong em u s sub sup code pre blockquote ul ol li table caption thead tbody tr th td img a audio video span".split()
)
MATH_TAGS = frozenset(
    "math semantics annotation mrow mi mn mo mtext mspace ms mfrac msqrt mroot mstyle merror mpadded mphantom mfenced menclose "
    "msub msup msubsup munder mover munderover mmultiscripts mprescripts none mtable mtr mtd mlabeledtr maligngroup "
    "malignmark".split()
)
# What other tags become; the value is the pair of what opens and what closes.
RENAMED: dict[str, str] = {
    **dict.fromkeys(["i", "cite", "dfn", "var"], "em"),
    "b": "strong",
    **dict.fromkeys(["strike", "del"], "s"),
    **dict.fromkeys(["tt", "kbd", "samp"], "code"),
    "ins": "u",
    "dl": "ul",
    **dict.fromkeys(["dt", "dd"], "li"),
    **dict.fromkeys(["div", "center", "section", "article", "figure", "figcaption", "header", "footer", "address"], "p"),
    "tfoot": "tbody",
}
HEADINGS = frozenset(f"h{n}" for n in range(1, 7))
BLOCKS = frozenset("p br li tr td th table ul ol pre blockquote caption thead tbody audio video".split())
# Tags that only group or place text: nothing is lost when they go.
NEUTRAL = frozenset(
    "html head body meta link title font big small label wbr hr colgroup col nobr source track object param".split()
)
DANGEROUS = frozenset("script style iframe embed form input button select textarea svg noscript template".split())
_MATH_ATTRIBUTES = frozenset(
    "xmlns display mathvariant stretchy fence separator form accent accentunder columnalign rowalign columnspan rowspan open close "
    "separators linethickness lspace rspace width height depth displaystyle scriptlevel notation mathsize largeop movablelimits".split()
)
ATTRIBUTES: dict[str, set[str]] = {
    "img": {"src", "alt", "title", "width", "height"},
    "a": {"href", "title"},
    "audio": {"src", "controls"},
    "video": {"src", "controls", "width", "height"},
    "span": {"data-blank", "lang", "dir"},
    "p": {"lang", "dir"},
    "td": {"colspan", "rowspan"},
    "th": {"colspan", "rowspan", "scope"},
    "ol": {"start", "type"},
    "annotation": {"encoding"},
    **{tag: set(_MATH_ATTRIBUTES) for tag in MATH_TAGS - {"annotation"}},
}

_CLEANER = nh3.Cleaner(
    tags=set(TEXT_TAGS | MATH_TAGS | set(RENAMED) | HEADINGS),
    clean_content_tags={"script", "style", "title", "template", "noscript"},
    attributes=ATTRIBUTES,
    link_rel=None,
    url_schemes={"http", "https", "mailto"},
)
_RENAME = re.compile(r"<(/?)(" + "|".join(sorted(RENAMED, key=len, reverse=True)) + r")(?:\s[^<>]*)?>")
_HEADING = re.compile(r"<(/?)h[1-6](?:\s[^<>]*)?>")
_VOID = re.compile(r"<(br|img)((?:\s[^<>]*?)?)\s*/?>")
_EMPTY_BLOCK = re.compile(r"<(p|strong|em|u|s|span|li)>\s*</\1>")
_BARE_SPAN = re.compile(r"<span>((?:(?!</?span).)*)</span>", re.S)
_LONE_PARAGRAPH = re.compile(r"^<p>((?:(?!</?p[\s>]).)*)</p>$", re.S)
_TAG_NAME = re.compile(r"<([A-Za-z][\w:-]*)")
_HANDLER = re.compile(r"<[^<>]*\son[a-z]++\s*+=", re.I)
_TOKEN = re.compile(spaces.MATH + r"|<[^<>]+>")
TEX = re.compile(r'<annotation encoding="application/x-tex">([^<]*)</annotation>')
MATH = re.compile(spaces.MATH)
# MathML with a prefix, as XML writes it; HTML knows none.
_PREFIXED_MATH = re.compile(r"<(/?)[A-Za-z_][\w.-]{0,30}:(" + "|".join(sorted(MATH_TAGS, key=len, reverse=True)) + r")(?=[\s/>])")
_MATH_OPEN = re.compile(r"<math((?:\s[^<>]*)?)>")
_NAMESPACE = re.compile(r"""\sxmlns(?::[\w.-]+)?\s*+=\s*+(?:"[^"]*"|'[^']*')""")
_BLOCK_TAGS = re.compile(r"<(?:div|center|section|article|figure|figcaption|header|footer|address|h[1-6]|dl|tfoot)\b", re.I)
_IMAGE_SOURCE = re.compile(r'(<(?:img|audio|video)\b[^<>]*?\ssrc=")([^"]*)(")')
_BLANK = re.compile(r'<span data-blank="([^"]*)">\s*</span>')
_SPACES = re.compile(r"\s+")


@dataclass
class Notes:
    """What `rich` took out of content: names of things, never the things."""

    removed: set[str] = field(default_factory=set)
    dropped: set[str] = field(default_factory=set)
    broken_formulas: list[str] = field(default_factory=list)


def escape(text: str) -> str:
    """Plain text as content."""
    return html.escape(text, quote=False)


def rich(
    markup: str,
    resolve: Callable[[str], str | None] | None = None,
    notes: Notes | None = None,
    dollars: bool = False,
) -> str:
    """Any HTML as canonical content.

    `resolve` turns the address of a picture or sound into a media ref, or returns None to leave it. With `dollars`,
    TeX between single dollar signs counts as a formula too. What was taken out is added to `notes`.
    """
    if "<" not in markup and "&" not in markup:
        return _formulas(escape(markup.strip()), notes, dollars)
    if ":math" in markup:
        markup = _PREFIXED_MATH.sub(r"<\1\2", markup)
    if notes is not None:
        _note_removals(markup, notes)
    if resolve is not None and "src" in markup:
        markup = _resolve_sources(markup, resolve)
    clean = _CLEANER.clean(markup)
    if _BLOCK_TAGS.search(markup):
        # Renamed blocks may now nest paragraphs; a second pass lets the HTML parser part them.
        clean = _CLEANER.clean(_renamed(clean))
    return _formulas(_canonical(_renamed(clean)), notes, dollars)


def _renamed(clean: str) -> str:
    clean = _RENAME.sub(lambda m: f"<{m[1]}{RENAMED[m[2]]}>", clean)
    return _HEADING.sub(lambda m: "</strong></p>" if m[1] else "<p><strong>", clean)


def _canonical(clean: str) -> str:
    clean = _VOID.sub(r"<\1\2/>", clean).replace("&nbsp;", "\u00a0")
    if "<math" in clean:
        clean = _MATH_OPEN.sub(lambda found: f'<math xmlns="{MATHML}"{_NAMESPACE.sub("", found[1])}>', clean)
    if "<span" in clean:
        clean = _BARE_SPAN.sub(r"\1", clean)
    for _ in range(3):
        clean, count = _EMPTY_BLOCK.subn("", clean)
        if not count:
            break
    clean = clean.strip(" \t\r\n")
    lone = _LONE_PARAGRAPH.match(clean)
    return lone[1].strip(" \t\r\n") if lone else clean


def _note_removals(markup: str, notes: Notes) -> None:
    tags = {tag.lower() for tag in _TAG_NAME.findall(markup)}
    unknown = tags - TEXT_TAGS - MATH_TAGS - RENAMED.keys() - HEADINGS
    if not unknown and " on" not in markup:
        return
    notes.removed |= {f"<{tag}>" for tag in unknown & DANGEROUS}
    notes.dropped |= {f"<{tag}>" for tag in unknown - DANGEROUS - NEUTRAL if ":" not in tag}
    if _HANDLER.search(markup):
        notes.removed.add("an event handler")


_GONE = re.compile(r"<(script|style|template|noscript)\b[^<>]*>([^<]*+(?:<(?!/\1\b)[^<]*+)*+)</\1\s*+>", re.I)


def removed_texts(markup: str) -> list[tuple[str, str]]:
    """What `rich` takes out together with what it holds, as (tag, text)."""
    return [(found[1].lower(), found[2]) for found in _GONE.finditer(markup) if found[2].strip()]


def _resolve_sources(markup: str, resolve: Callable[[str], str | None]) -> str:
    def replaced(match: re.Match[str]) -> str:
        ref = resolve(html.unescape(match[2] or match[3] or ""))
        return match[0] if ref is None else f'{match[1]}"{html.escape(ref)}"'

    return re.sub(r"""(<(?:img|audio|video|source)\b[^<>]*?\ssrc\s*+=\s*+)(?:"([^"]*)"|'([^']*)')""", replaced, markup, flags=re.I)


# Formulas

# What opens again before it was closed is no formula. A doubled backslash is a line's end in TeX, whatever follows it.
_DELIMITED = r"\\\(((?>\\\\|(?!\\[()]).)++)\\\)|\\\[((?>\\\\|(?!\\[\[\]]).)++)\\\]|\$\$(.+?)\$\$"
_TEX_IN_TEXT = re.compile(_DELIMITED, re.S)
# A lone dollar opens a formula only where it cannot be a price: no space inside the signs, no digit behind the second.
_TEX_OR_DOLLARS = re.compile(_DELIMITED + r"|(?<![\\\w$])\$(?=\S)([^$\n]+?)(?<=\S)\$(?![\d$])", re.S)


def _formulas(content: str, notes: Notes | None, dollars: bool) -> str:
    if "\\(" not in content and "\\[" not in content and "$" not in content:
        return content
    pattern = _TEX_OR_DOLLARS if dollars else _TEX_IN_TEXT

    def replaced(match: re.Match[str]) -> str:
        tex = html.unescape(next(group for group in match.groups() if group is not None))
        if "<" in match[0].replace("&lt;", "") or (match[0].startswith("$") and looks_like_price(tex)):
            return match[0]
        formula = formula_from_tex(tex, display=match[0].startswith(("\\[", "$$")))
        if formula is None and notes is not None:
            notes.broken_formulas.append(tex)
        return formula or match[0]

    parts = _VERBATIM.split(content)
    return "".join(part if index % 2 else pattern.sub(replaced, part) for index, part in enumerate(parts))


# What is no text to look for formulas in.
_VERBATIM = re.compile(rf"({spaces.MATH}|<img\b[^<>]*>|<code>(?:(?!<code>).)*?</code>|<pre>(?:(?!<pre>).)*?</pre>)", re.S)


def looks_like_price(tex: str) -> bool:
    """Whether text between dollar signs is more likely two prices than a formula."""
    return bool(re.match(r"[\d.,]+\s+[A-Za-z]", tex)) or (len(tex) > 3 and not re.search(r"[\\^_={}+*/<>|()-]", tex))


def formula_from_tex(tex: str, display: bool = False) -> str | None:
    """A formula as MathML with the TeX as annotation, or None where the TeX does not parse."""
    tex = tex.strip()
    try:
        markup = tex_to_markup(tex)
        tree = etree.fromstring(markup.encode())
    except Exception:  # noqa: BLE001 - the converter raises whatever its parser meets; any of it means "not a formula"
        return None
    inner = "".join(etree.tostring(child, encoding="unicode") for child in tree)
    inner = inner.replace(f' xmlns="{MATHML}"', "")
    mode = ' display="block"' if display else ""
    return (
        f'<math xmlns="{MATHML}"{mode}><semantics>{inner}'
        f'<annotation encoding="{TEX_ENCODING}">{escape(tex)}</annotation></semantics></math>'
    )


def formulas_of(content: str) -> list[str]:
    """The formulas of content in order: each as its TeX without spaces, or its MathML's text where it has none."""
    found = []
    for match in MATH.finditer(content):
        found.append(normal_tex(_math_text(match[0])))
    return found


_LONE_BRACES = re.compile(r"(?<=[_^])\{(\\[A-Za-z]+|[^\\{}])\}")
_TEX_TWINS = {r"\neq": r"\ne", r"\leq": r"\le", r"\geq": r"\ge", r"\left": "", r"\right": "", r"\to": r"\rightarrow"}
_TEX_TWIN = re.compile(r"\\(?:neq|leq|geq|left|right|to)(?![A-Za-z])")


def normal_tex(tex: str) -> str:
    """TeX without differences that mean nothing: spaces, braces around one sign, two names of one sign."""
    tex = _SPACES.sub("", _TEX_TWIN.sub(lambda m: _TEX_TWINS[m[0]], tex))
    return _LONE_BRACES.sub(r"\1", tex)


def _math_text(math: str) -> str:
    tex = TEX.search(math)
    return html.unescape(tex[1] if tex else re.sub(r"<[^<>]+>", "", math))


# Views of content


def plain_text(content: str, blank: str = "_____", math: Callable[[str], str] = lambda tex: tex) -> str:
    """Content as plain text: blocks become spaces, a formula its TeX through `math`, a blank `blank`."""
    if "<" not in content:
        return " ".join((html.unescape(content) if "&" in content else content).split())

    def replaced(match: re.Match[str]) -> str:
        token = match[0]
        if token.startswith("<math"):
            return escape(math(_math_text(token)))
        if "data-blank" in token:
            return blank
        name = token.strip("</>").split(" ", 1)[0]
        return " " if name in BLOCKS else ""

    return " ".join(html.unescape(_TOKEN.sub(replaced, content)).split())


def comparable(content: str) -> str:
    """Plain text with the differences folded that carry no meaning: kinds of quotes, dashes and spaces."""
    text = plain_text(content, math=normal_tex)
    return text if text.isascii() else text.translate(_FOLDED)


_FOLDED = str.maketrans(
    {"‘": "'", "’": "'", "“": '"', "”": '"', "–": "-", "—": "-", "−": "-", "…": "...", "\u00a0": " ", "\u202f": " "}
)


def skeleton(content: str) -> list[str]:
    """The tags of content in order, without formulas, blanks and pictures: its formatting.

    Paragraphs count by what they part: a lone one is none, whatever stands beside it, and text between blocks is one.
    """
    if "<" not in content:
        return []
    if _TABLES_AND_LISTS.search(content):
        content = "".join(block if _STARTS_AS_BLOCK.match(block) else f"<p>{block}</p>" for block in blocks_of(content))
    found = []
    for match in _TOKEN.finditer(content):
        if match[0].startswith(("<math", "<span data-blank", "<img", "</span")):
            continue
        found.append(match[0].strip("<>").rstrip("/").split(" ", 1)[0])
    if found.count("p") == 1:
        return [tag for tag in found if tag not in ("p", "/p")]
    return _LONE_WITHIN.sub(r"\1 \2", " ".join(found)).split() if "p" in found else found


_TABLES_AND_LISTS = re.compile(r"<(?:table|ul|ol|pre|blockquote)\b")
_STARTS_AS_BLOCK = re.compile(r"<(?:p|table|ul|ol|pre|blockquote)\b")
# A paragraph that is all of a cell, an entry or a quotation, in a skeleton.
_LONE_WITHIN = re.compile(r"\b(blockquote|li|td|th) p((?: (?!p\b|/p\b)\S+)*) /p(?= /(?:blockquote|li|td|th)\b)")


# A picture of a formula has its TeX as the text that stands for it.
_FORMULA_PICTURE = re.compile(r'<img\b[^<>]*?\salt="\\\(([^"<>]*?)\\\)"[^<>]*>')


def has_formula_pictures(content: str) -> bool:
    return 'alt="\\(' in content


def formula_picture(ref: str, tex: str) -> str:
    """The picture of a formula as content."""
    return f'<img src="{html.escape(ref)}" alt="\\({html.escape(tex)}\\)"/>'


def with_formulas_for_pictures(content: str) -> str:
    """The content with each picture of a formula as that formula, told by its TeX."""
    if not has_formula_pictures(content):
        return content
    named = f'<math xmlns="{MATHML}"><semantics><annotation encoding="{TEX_ENCODING}">'
    return _FORMULA_PICTURE.sub(lambda m: f"{named}{escape(html.unescape(m[1]))}</annotation></semantics></math>", content)


def media_refs(content: str) -> list[str]:
    """The addresses of pictures, sounds and films in content, in order."""
    return [html.unescape(match[2]) for match in _IMAGE_SOURCE.finditer(content)] if "src=" in content else []


def with_refs(content: str, change: Callable[[str], str]) -> str:
    """Content with each media address changed."""
    if "src=" not in content:
        return content
    return _IMAGE_SOURCE.sub(lambda m: m[1] + html.escape(change(html.unescape(m[2]))) + m[3], content)


def alt_texts(content: str) -> list[str]:
    """The alternative texts of the pictures in content, in order."""
    return [html.unescape(alt) for alt in re.findall(r'<img\b[^<>]*?\salt="([^"]*)"', content)]


def blanks_of(content: str) -> list[str]:
    """The ids of the blanks in a stem, in order."""
    return _BLANK.findall(content) if "data-blank" in content else []


def blank_marker(blank_id: str) -> str:
    return f'<span data-blank="{blank_id}"></span>'


def tree_of(content: str) -> etree._Element:
    """Content as an element tree under one root named `content`. Raises lxml's XMLSyntaxError on content not made here."""
    return etree.fromstring(f"<content>{content}</content>")


def blocks_of(content: str) -> Iterator[str]:
    """The top-level blocks of content, each as content; runs of inline content count as one block."""
    tree = tree_of(content)
    run = escape(tree.text or "")
    for child in tree:
        tail, child.tail = child.tail or "", None
        markup = etree.tostring(child, encoding="unicode")
        if child.tag in {"p", "table", "ul", "ol", "pre", "blockquote"}:
            if run.strip():
                yield run.strip()
            yield markup
            run = escape(tail)
        else:
            run += markup + escape(tail)
    if run.strip():
        yield run.strip()
