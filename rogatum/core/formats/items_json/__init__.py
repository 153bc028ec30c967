"""`rogatum-items/1`: the model itself as JSON, alone or with its media in a zip. The lossless form."""

from rogatum.core.formats.items_json.carries import CARRIES
from rogatum.core.formats.items_json.read import read_items_json
from rogatum.core.formats.items_json.sniff import looks_like_items_json
from rogatum.core.formats.items_json.write import write_items_json
from rogatum.core.formats.shared.base import Format

FORMAT = Format(
    name="items-json",
    label="Rogatum items (JSON)",
    suffix=".json",
    sniff=looks_like_items_json,
    read=read_items_json,
    write=write_items_json,
    package=True,
    carries=CARRIES,
)
