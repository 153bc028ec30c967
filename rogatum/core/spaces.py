"""Pieces of patterns, so that none of ours takes longer than in proportion to the text.

A search for `\\s*X` looks at a run of spaces again from each of its places, and `\\s*a?\\s*b` divides a run in all ways: both take
the square of its length. These pieces take a run once. `tests/core/test_linear_patterns.py` times every pattern of the core.
"""

import re

# Spaces before what cannot begin with one, wherever that is searched: a run is taken whole, from its first place, or not at all.
BEFORE = r"(?:(?<!\s)\s++)?+"
# The same where at least one space must stand.
SOME_BEFORE = r"(?<!\s)\s++"
# A formula within content: from its tag to its end, past whatever other tags lie between.
MATH = r"<math\b[^<]*+(?:<(?!/?math\b)[^<]*+)*+</math>"
# What XML 1.0 (section 2.2) has no place for: controls, lone surrogates, and two code points that are no characters.
NO_CHARACTERS = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")
