"""What marked text has a place for: what every document that people read has, but for titles of parts."""

from dataclasses import replace

from rogatum.core.formats.shared import document_writing

CARRIES = replace(document_writing.CARRIES, printed=document_writing.PRINTED - {"parts"})
