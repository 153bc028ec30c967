"""Whatever a request holds, the answer is one: within bounds it is taken, out of bounds refused with fact, place and way out."""

from __future__ import annotations

import json

import pytest
from pydantic import BaseModel

from rogatum.web.api import api as ninja
from rogatum.web.bounds import In
from tests.web.conftest import Api, undone, upload
from tests.web.test_access import BODIES, filled, paths

RAW = [
    "1e999",
    "NaN",
    "1" + "0" * 400,
    str(2**63),
    "-1",
    '"\\ud800"',
    '"\\u0000"',
    '"' + "x" * 3_000 + '"',
    '""',
    "null",
    "{}",
    "[" * 60 + "]" * 60,
]
DEEP = '{"a":' * 60 + "1" + "}" * 60


def send(api, method, address, body: str):
    with undone():
        return getattr(api.client, method)(f"/api{address}", data=body, content_type="application/json")


def answered(response, *what):
    assert response.status_code < 500, (response.status_code, *what)
    if response.status_code >= 400:
        problem = response.json()
        assert problem["fact"] and problem["way_out"], (problem, *what)


def leaves(value, path=()):
    yield path
    if isinstance(value, dict):
        for key, part in value.items():
            yield from leaves(part, (*path, key))
    elif isinstance(value, list):
        for number, part in enumerate(value):
            yield from leaves(part, (*path, number))


def with_leaf(value, path, raw):
    """The body as JSON with one part of it replaced by raw JSON."""
    marker = "@@here@@"

    def put(part, rest):
        if not rest:
            return marker
        if isinstance(part, dict):
            return {key: put(inner, rest[1:]) if key == rest[0] else inner for key, inner in part.items()}
        return [put(inner, rest[1:]) if number == rest[0] else inner for number, inner in enumerate(part)]

    return json.dumps(put(value, path)).replace(f'"{marker}"', raw)


def body_paths():
    return [(method, path) for method, path in paths() if method in ("post", "put", "patch")]


@pytest.mark.parametrize(("method", "path"), body_paths())
def test_no_body_breaks_an_endpoint(method, path, world, settings):
    settings.JOBS_IMMEDIATE = False  # what is asked for counts here, and not what comes of it
    body = filled(BODIES.get((method, path), {}), world.numbers)
    address, owner = filled(path, world.numbers), Api(world.owner)
    times = {"opens": "2020-01-01T00:00:00", "closes": "2020-01-02T00:00:00Z"}
    more = {"settings": times, "responses": {"1": "²" * 9}, "positions": [1], "expected": 1, "pool": 1, "version": "x"}
    for leaf in list(leaves({**body, **more}))[:14]:
        for raw in RAW:
            answered(send(owner, method, address, with_leaf({**body, **more}, leaf, raw)), method, path, leaf, raw[:40])
    for raw in ["", "{", "\x00", "nul", '{"a":1}{"b"', "[" * 100_000, '"' + "x" * 10, "\ufeff{}", b"\xff\xfe{}", DEEP]:
        answered(send(owner, method, address, raw), method, path, raw[:20])


@pytest.mark.parametrize(("method", "path"), paths())
def test_no_number_in_an_address_breaks_an_endpoint(method, path, world):
    client, numbers = Api(world.owner).client, world.numbers
    for name in [key for key in numbers if f"{{{key}}}" in path]:
        for odd in [2**63, 10**30, -1, 0, "x", "1.5", "%00", "..", "%2e%2e", "²", "\u202e", "a" * 300, "%ff", "%ed%a0%80"]:
            response = client.generic(method.upper(), f"/api{filled(path, numbers | {name: odd})}", "{}", "application/json")
            assert 400 <= response.status_code < 500 or odd in ("..", "%2e%2e"), (odd, response.status_code)


@pytest.mark.parametrize("name", ["offset", "limit", "pool", "first", "last", "chunk"])
@pytest.mark.parametrize("value", [-1, 2**63, 10**30, "x", "", "NaN", "1e9", "-0"])
def test_no_number_in_a_query_breaks_a_list(name, value, api, course, reading):
    for path in (f"/courses/{course}/items", f"/readings/{reading}/items", f"/readings/{reading}/lines"):
        answered(api.client.get(f"/api{path}", {name: value}), path, name, value)


@pytest.mark.parametrize("query", ["\x00", '"', "a" * 999, "* OR", "\ud7ff", "NEAR(", "a\u0000b", "%00", "'", "ä" * 200])
def test_no_words_break_the_search(query, api, course, pools):
    answered(api.client.get(f"/api/courses/{course}/items", {"query": query, "type": query}), query)


@pytest.mark.parametrize(
    "kind", ["multipart/form-data", "multipart/form-data; boundary=", "multipart/form-data; boundary=\x00", "text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x; charset=nonsense"]
)  # fmt: skip
def test_a_form_that_is_none_is_refused(kind, api, course):
    for body in (b"", b"--x", b"--x\r\nContent-Disposition: form-data; name=files; filename=a\r\n\r\nx", b"\x00" * 50):
        response = api.client.generic("POST", f"/api/courses/{course}/sources", body, content_type=kind)
        assert 400 <= response.status_code < 500, (kind, response.status_code)


@pytest.mark.parametrize("name", ["a" * 255, "a" * 5000, "x\x00y.txt", "../../etc/passwd", "/etc/passwd", "\u202etxt.exe", "con", " ", "a\nb.txt", "ä" * 255, "%2e%2e", "C:\\x.txt"])  # fmt: skip
def test_a_name_is_only_a_name(name, api, course):
    status = upload(api, course, name, b"1. What?\n*a. x\nb. y\n")
    assert status < 500
    for source in api.ok("get", f"/courses/{course}/sources"):
        assert source["reading"] or source["problem"]
    pasted = api.call("post", f"/courses/{course}/sources/paste", {"text": "1. What?\n*a. x\nb. y", "name": name})
    assert pasted[0] in (200, 422)


@pytest.mark.parametrize("name", [".", "..", "", "/", "a/.."])
def test_a_file_without_a_name_is_refused_or_gets_one(name, api, course):
    """Such names no browser sends; they are written into the form by hand."""
    body = f'--x\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n1. A?\n*a. x\r\n--x--\r\n'
    response = api.client.generic(
        "POST", f"/api/courses/{course}/sources", body.encode(), content_type="multipart/form-data; boundary=x"
    )
    answered(response, name)


def models_in(schema: dict) -> set[str]:
    return {
        part["$ref"].rsplit("/", 1)[-1]
        for methods in schema["paths"].values()
        for operation in methods.values()
        for part in [operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema", {})]
        if "$ref" in part
    }


def all_inputs(kind: type[BaseModel] = In) -> set[str]:
    return {kind.__name__} | {name for below in kind.__subclasses__() for name in all_inputs(below)}


def test_every_input_has_bounds():
    schema = ninja.get_openapi_schema()
    assert models_in(schema) <= all_inputs()
    for path, methods in schema["paths"].items():
        for operation in methods.values():
            for parameter in operation.get("parameters", []):
                kinds = parameter["schema"].get("anyOf", [parameter["schema"]])
                for kind in kinds:
                    if kind.get("type") == "integer":
                        assert "minimum" in kind and "maximum" in kind, (path, parameter["name"])
                    if kind.get("type") == "string" and parameter["in"] == "query":
                        assert {"maxLength", "enum"} & set(kind) or kind.get("format") == "date", (path, parameter["name"])
