"""Print: a paper test as PDF, with its key on a page of its own. It is only written."""

from rogatum.core.formats.print.carries import CARRIES
from rogatum.core.formats.print.write import write_pdf
from rogatum.core.formats.shared.base import Format

FORMAT = Format(
    name="pdf",
    label="Print",
    suffix=".pdf",
    sniff=lambda _tree: 0.0,
    write=write_pdf,
    copies=("teacher", "student"),
    most_versions=6,
    carries=CARRIES,
)
