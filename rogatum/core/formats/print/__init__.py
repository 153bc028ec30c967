"""Print: a paper test as PDF, with its key on a page of its own. It is only written."""

from rogatum.core.formats.base import Carries, Format
from rogatum.core.formats.document_parts import HELD
from rogatum.core.formats.print.write import write_pdf

FORMAT = Format(
    name="pdf",
    label="Print",
    suffix=".pdf",
    sniff=lambda _tree: 0.0,
    write=write_pdf,
    write_copy=write_pdf,
    copies=("teacher", "student"),
    most_versions=6,
    carries=Carries(
        types=HELD,
        points=True,
        formatting=True,
        formulas=True,
        media=True,
        pools=True,
        stimuli=True,
        choice_blanks=True,
        sample_answer=True,
    ),
)
