"""No input answers 500: requests made from the API's own schema, as owner, editor and reader. `make fuzz` makes 20,000 others."""

from __future__ import annotations

import json
import os
import random
from typing import Any

import pytest

from rogatum.web.api import api as ninja
from tests.web.conftest import Api, undone
from tests.web.test_access import BODIES, filled, paths

REQUESTS = int(os.environ.get("FUZZ_REQUESTS", "600"))
SEED = os.environ.get("FUZZ_SEED", "1")
SHARES = 6
ODD = [
    None,
    True,
    -1,
    0,
    1,
    2**31,
    2**63,
    10**400,
    5e-324,
    1e308,
    "",
    "²",
    "x" * 2000,
    "<table>" * 30,
    "\u202e=1+1",
    [],
    {},
    [[]],
    ["1"],
]
MARKUP = [
    '<td colspan="abc">',
    "<ul><li>" * 40,
    "[" * 500,
    "$" * 99,
    "<math><mi>",
    '<img src="media/x.png"/>',
    "`" * 300,
    "a.b" * 200,
]


class Maker:
    """Makes values of a schema, most of them right, some of them odd."""

    def __init__(self, chance: random.Random, schema: dict[str, Any]) -> None:
        self.chance, self.parts = chance, schema["components"]["schemas"]

    def value(self, schema: dict[str, Any], depth: int = 0) -> Any:
        if self.chance.random() < 0.06:
            return self.chance.choice(ODD)
        if "$ref" in schema:
            return self.value(self.parts[schema["$ref"].rsplit("/", 1)[-1]], depth)
        for name in ("anyOf", "oneOf", "allOf"):
            if name in schema:
                return self.value(self.chance.choice(schema[name]), depth)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return self.chance.choice(schema["enum"])
        return getattr(self, f"_{schema.get('type', 'null')}")(schema, depth)

    def _object(self, schema: dict[str, Any], depth: int) -> Any:
        if depth > 6:
            return {}
        known = schema.get("properties", {})
        wanted = [name for name in known if name in schema.get("required", ()) or self.chance.random() < 0.5]
        return {name: self.value(known[name], depth + 1) for name in wanted}

    def _array(self, schema: dict[str, Any], depth: int) -> Any:
        return [self.value(schema.get("items", {}), depth + 1) for _ in range(self.chance.choice((0, 1, 1, 2, 3)))]

    def _string(self, schema: dict[str, Any], _depth: int) -> Any:
        if schema.get("format") == "date-time":
            return self.chance.choice(["2026-09-01T10:00:00Z", "9999-12-31T23:59:59Z", "0001-01-01T00:00:00+14:00"])
        return self.chance.choice(["x", "Week 3", "2.1", "<p>x</p>", "=1+1", "points", "a\nb", *MARKUP])

    def _integer(self, schema: dict[str, Any], _depth: int) -> Any:
        low, high = schema.get("minimum", 0), schema.get("maximum", 10)
        return self.chance.choice([low, high, low + 1, self.chance.randint(1, 9)])

    def _number(self, schema: dict[str, Any], depth: int) -> Any:
        return self.chance.choice([self._integer(schema, depth), 0.5, 1e-9, 5e-324])

    def _boolean(self, *_: Any) -> Any:
        return self.chance.random() < 0.5

    def _null(self, *_: Any) -> Any:
        return None


def body_for(maker: Maker, method: str, path: str, schema: dict[str, Any], numbers: dict[str, Any]) -> Any:
    """One of the bodies that are known to work with a part of it made anew, or one made of nothing but the schema."""
    said = schema["paths"][f"/api{path}"][method].get("requestBody", {}).get("content", {}).get("application/json")
    if said is None:
        return None
    known, made = filled(BODIES.get((method, path)), numbers), maker.value(said["schema"])
    if not isinstance(known, dict) or not isinstance(made, dict) or maker.chance.random() < 0.4:
        return made
    return known | dict(maker.chance.sample(sorted(made.items(), key=lambda part: part[0]), min(len(made), 2)))


@pytest.mark.parametrize("share", range(SHARES))
def test_no_request_answers_500(world, share, settings):
    settings.JOBS_IMMEDIATE = False
    chance, schema = random.Random(f"{SEED}/{share}"), ninja.get_openapi_schema()
    maker, asked = Maker(chance, schema), [entry for entry in paths() if f"/api{entry[1]}" in schema["paths"]]
    apis = {role: Api(getattr(world, role)) for role in ("owner", "editor", "reader")}
    for _ in range(REQUESTS // SHARES):
        (method, path), role = chance.choice(asked), chance.choice(sorted(apis))
        body = body_for(maker, method, path, schema, world.numbers)
        try:
            text = None if body is None else json.dumps(body)
        except ValueError:  # a number that JSON has no form for
            continue
        with undone():
            extra = {} if text is None else {"data": text, "content_type": "application/json"}
            response = getattr(apis[role].client, method)(f"/api{filled(path, world.numbers)}", **extra)
        assert response.status_code < 500 or response.status_code == 503, (role, method, path, (text or "")[:2000])
