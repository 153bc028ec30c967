"""Word documents, OpenDocument texts, RTF, web pages and Markdown, both ways."""

from typing import get_args

from rogatum.core.formats.shared.base import Copy, Format
from rogatum.core.formats.word_documents import read, sniff
from rogatum.core.formats.word_documents.carries import CARRIES
from rogatum.core.formats.word_documents.write import document_writer

_KINDS = (
    ("docx", "Word document", ".docx", sniff.looks_like_docx, read.read_docx),
    ("odt", "OpenDocument text", ".odt", sniff.looks_like_odt, read.read_odt),
    ("rtf", "RTF", ".rtf", sniff.looks_like_rtf, read.read_rtf),
    ("html", "Web page", ".html", sniff.looks_like_html, read.read_html),
    ("markdown", "Markdown", ".md", sniff.looks_like_markdown, read.read_markdown),
)
FORMATS = tuple(
    Format(
        name=name,
        label=label,
        suffix=suffix,
        sniff=looks_like,
        read=reader,
        write=document_writer(name),
        copies=get_args(Copy),
        carries=CARRIES[name],
        document=True,
    )
    for name, label, suffix, looks_like, reader in _KINDS
)
