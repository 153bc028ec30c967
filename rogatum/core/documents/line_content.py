"""Several lines as one content: what runs on, what stands apart, and code, which keeps its lines."""

from __future__ import annotations

import re
from textwrap import dedent

from rogatum.core.documents.lines import Line
from rogatum.core.items.content import escape

_BLOCKS = ("<table", "<pre", "<ul", "<ol", "<blockquote", "<p>")
_INDENT = ("  ", "\t")
_FENCE = "```"
# What tells code from words: a statement's end, a call, an assignment, a word that begins a statement.
CODE_SIGN = re.compile(
    r"[;{}]\s*$|[:\\]\s*$|\w\([^()]*\)\s*[;:{]?\s*$|\w\s*(?:[-+*/]?=|==|<-)\s*\S"
    r"|^\s*(?:(?:for|while|if|elif|def|class|return|print|import|from|SELECT|FROM|WHERE)\b[^.]*$|else\b|\#|//|/\*|<\w)"
)


def content_of(lines: list[Line], without: str = "") -> str:
    """The HTML of lines: those of a text run on until a blank line, paragraphs of a document stay apart.

    `without` names an emphasis that only tells the key.
    """
    if len(lines) == 1 and lines[0].role != "more":
        return lines[0].content(without)
    blocks: list[str] = []
    for group in _groups(lines):
        first = group[0]
        markup = _code(group) if _is_code(group) else first.content(without)
        apart = first.paragraph or first.after_blank or markup.startswith(_BLOCKS)
        if blocks and not apart and not blocks[-1].endswith(("</table>", "</pre>")):
            blocks[-1] += " " + markup
        elif markup:
            blocks.append(markup)
    if len(blocks) < 2:
        return "".join(blocks)
    return "".join(block if block.startswith(_BLOCKS) else f"<p>{block}</p>" for block in blocks)


def _groups(lines: list[Line]) -> list[list[Line]]:
    """The lines one by one, but for runs of lines that are code."""
    found: list[list[Line]] = []
    run: list[Line] = []
    fenced = False
    for line in lines:
        fence = line.text.strip().startswith(_FENCE)
        if (
            not line.pieces
            and line.role == "more"
            and (fenced or fence or line.text.startswith(_INDENT) or CODE_SIGN.search(line.text))
        ):
            if line.after_blank and not _is_code(run) and not fenced:
                found, run = found + _settled(run), []
            run.append(line)
            fenced ^= fence
            continue
        found += [*_settled(run), [line]]
        run = []
    return found + _settled(run)


def _settled(run: list[Line]) -> list[list[Line]]:
    return [run] if _is_code(run) else [[line] for line in run]


def _is_code(run: list[Line]) -> bool:
    """Whether lines below a stem are code: between fences, or most with its signs, several or indented."""
    if not run or run[0].pieces or run[0].role != "more":
        return False
    if any(line.text[line.end :].strip() for line in run):
        # Something was taken off: a mark of a choice.
        return False
    if run[0].text.strip().startswith(_FENCE):
        return len(run) > 2
    signed = sum(bool(CODE_SIGN.search(line.text)) for line in run)
    return signed * 2 > len(run) and (run[0].text.startswith(_INDENT) or len(run) > 1)


def _code(run: list[Line]) -> str:
    inner = [line for line in run if not line.text.strip().startswith(_FENCE)]
    text = "\n".join(f"\n{line.text}" if line.after_blank and n else line.text for n, line in enumerate(inner))
    return f"<pre><code>{escape(dedent(text))}</code></pre>"
