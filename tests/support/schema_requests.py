"""Requests made from the API's own schema: of the right shape for the most part, hostile in places."""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from drf_spectacular.generators import SchemaGenerator

Json = Any
HOSTILE: tuple[Json, ...] = (
    "\x00", "a\x00b", "\ud800", "x\udfffy", "x" * 70_000, "", " ", "=1+1", "<script>", "../../x", "%00", "１２",
    "9999-12-31", "0001-01-01", 10**30, -(10**30), 2**63, 2**31, -1, 0, 1e308, -1e308, 1e-320, float("nan"), float("inf"), True,
    None, [], {}, [[]], ["\x00"], {"\x00": 1}, {"a": {"\ud800": 2}}, [0] * 5_000,
)  # fmt: skip
NESTED = "[" * 5_000 + "]" * 5_000
_OTHERS = ((b"a=1&b=%00", "application/x-www-form-urlencoded"), (b"--x\r\n", "multipart/form-data; boundary=x"))
_METHODS = ("get", "post", "put", "patch", "delete")


@dataclass(frozen=True)
class SchemaRequest:
    """A request as it is sent: its path with the query, and the bytes of its body."""

    method: str
    path: str
    body: bytes
    type: str


class RequestMaker:
    """Makes requests; ``ids`` fill the addresses, ``known`` are true bodies by the name of their schema, to be spoiled."""

    def __init__(self, seed: int, ids: Mapping[str, str], known: Mapping[str, Json]) -> None:
        self._random = random.Random(seed)
        self._schema: Json = SchemaGenerator().get_schema(public=True)  # type: ignore[no-untyped-call]
        self._ids, self._known = ids, known
        self._operations = [
            (method, path, operation)
            for path, methods in sorted(self._schema["paths"].items())
            for method, operation in methods.items()
            if method in _METHODS
        ]

    def requests(self, count: int) -> Iterator[SchemaRequest]:
        """So many requests, over all operations."""
        for i in range(count):
            yield self._request(*self._operations[i % len(self._operations)])

    def _request(self, method: str, path: str, operation: Json) -> SchemaRequest:
        query = []
        for parameter in operation.get("parameters", []):
            if parameter["in"] == "path":
                number = parameter["schema"].get("type") == "integer"
                own = self._ids.get(parameter["name"], "1")
                path = path.replace("{" + parameter["name"] + "}", str(10**30) if number and self._chance(0.1) else own)
            elif self._chance(0.5):
                value = self._random.choice([*HOSTILE[:13], self._value(parameter["schema"], 0)])
                query.append(f"{parameter['name']}={_percent(str(value))}")
        body, kind = b"", "application/json"
        content = operation.get("requestBody", {}).get("content", {})
        if "application/json" in content:
            body = self._body(content["application/json"]["schema"])
        elif content:
            body, kind = self._random.randbytes(self._random.choice([0, 1, 30])), next(iter(content))
        if self._chance(0.05):
            body, kind = self._random.choice([*_OTHERS, (b"\xff\xfe", kind)])
        return SchemaRequest(method, path + ("?" + "&".join(query) if query else ""), body, kind)

    def _body(self, schema: Json) -> bytes:
        if self._chance(0.03):
            return NESTED.encode()
        value = self._value(schema, 0)
        for _ in range(self._random.choice([0, 1, 1, 2])):
            value = self._spoil(value)
        return json.dumps(value).encode("utf-8", "surrogatepass")

    def _spoil(self, value: Json) -> Json:
        """The same with one place made hostile."""
        if isinstance(value, dict) and value and self._chance(0.9):
            key = self._random.choice(list(value))
            return value | {key: self._spoil(value[key])}
        if isinstance(value, list) and value and self._chance(0.9):
            at = self._random.randrange(len(value))
            return [*value[:at], self._spoil(value[at]), *value[at + 1 :]]
        return self._random.choice(HOSTILE)

    def _value(self, schema: Json, depth: int) -> Json:
        if "$ref" in schema:
            name = schema["$ref"].rsplit("/", 1)[1]
            if name in self._known and self._chance(0.9):
                return copy.deepcopy(self._known[name])
            return self._value(self._schema["components"]["schemas"][name], depth + 1)
        for choice in ("anyOf", "oneOf", "allOf"):
            if choice in schema:
                return self._value(self._random.choice(schema[choice]), depth + 1)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return self._random.choice(schema["enum"])
        kind = schema.get("type", "string")
        kind = self._random.choice(kind) if isinstance(kind, list) else kind
        return self._of_kind(kind, schema, depth)

    def _of_kind(self, kind: str, schema: Json, depth: int) -> Json:
        if kind == "object":
            required = set(schema.get("required", []))
            given = {
                key: self._value(value, depth + 1)
                for key, value in schema.get("properties", {}).items()
                if key in required or (depth < 8 and self._chance(0.4))
            }
            return given or ({"a": 1} if isinstance(schema.get("additionalProperties"), dict) else {})
        if kind == "array":
            return [
                self._value(schema.get("items", {}), depth + 1)
                for _ in range(self._random.choice([0, 1, 3]) if depth < 8 else 0)
            ]
        if kind == "integer":
            return self._random.choice([0, 1, 2, 12, 400])
        if kind == "number":
            return self._random.choice([0, 0.5, 1, 12.25, 300])
        if kind == "boolean":
            return self._chance(0.5)
        if kind == "null":
            return None
        return self._random.choice(
            ["A", "ward", "level", "level (nmol/L)", "3 mm", "#336699", "2026-12-01", *self._ids.values()]
        )

    def _chance(self, share: float) -> bool:
        return self._random.random() < share


def _percent(text: str) -> str:
    return "".join(f"%{byte:02X}" for byte in text[:300].encode("utf-8", "surrogatepass"))
