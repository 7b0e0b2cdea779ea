"""The OpenAPI document: shapes and record rows put in from the core's own types, so that nothing is written twice."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiParameter
from pydantic import TypeAdapter

from ..core.engine.shown import PlayMessage
from ..core.project.records import RECORD_TYPES
from .rows import value_fields
from .shapes import SHAPES

_REF = "#/components/schemas/{model}"


def answers(shape: type, status: int = 200, *, many: bool = False) -> dict[int, Any]:
    """The responses of a view that answers with a shape."""
    ref = {"$ref": f"#/components/schemas/{shape.__name__}"}
    return {status: {"type": "array", "items": ref} if many else ref}


def asks(shape: type) -> dict[str, Any]:
    """The body of a view that asks for a shape."""
    return {"application/json": {"$ref": f"#/components/schemas/{shape.__name__}"}}


JOB = OpenApiParameter("job", str, OpenApiParameter.QUERY, description="A name under which this work can be watched.")
AT_POINT = [OpenApiParameter(name, str) for name in ("quest", "stage", "changes")]
"""The *as if* point: a quest and a stage, and changes as `column=value` pairs joined by commas."""
ROWS: dict[int, Any] = {200: {"type": "array", "items": {"$ref": "#/components/schemas/Row"}}}


def put_in_shapes(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """Postprocessing hook: the shapes, the records' values and the rows as components."""
    schemas: dict[str, Any] = result.setdefault("components", {}).setdefault("schemas", {})
    for shape in SHAPES:
        _put(schemas, shape.__name__, TypeAdapter(shape).json_schema(ref_template=_REF, mode="serialization"))
    _put_told(schemas)
    for record_type in RECORD_TYPES:
        _put_row(schemas, record_type)
    names = [f"{t.capitalize()}Row" for t in RECORD_TYPES]
    refs = [{"$ref": f"#/components/schemas/{name}"} for name in names]
    mapping = {t: f"#/components/schemas/{t.capitalize()}Row" for t in RECORD_TYPES}
    schemas["Row"] = {"oneOf": refs, "discriminator": {"propertyName": "type", "mapping": mapping}}
    schemas["EditDone"]["properties"]["rows"]["items"] = {"$ref": "#/components/schemas/Row"}
    _put_refusals(result)
    return result


REFUSALS = {
    400: "The request cannot be read.",
    403: "The request came from a page of another address.",
    404: "There is no such thing.",
    405: "That cannot be done at this address.",
    500: "A fault of the program; its number stands in the log.",
}
"""What any address may answer."""
WRITING = {
    409: "Something else stands in the way; both sides are told.",
    412: "It was changed since; both sides are told.",
    413: "That is too large.",
    415: "Send it as JSON.",
    422: "It makes no sense as it is; every problem is told.",
    428: "It does not say which version it is based on.",
}
"""What an address that is written to may answer besides."""
READING = {422: "What is asked for makes no sense; every problem is told."}


def _put_refusals(result: dict[str, Any]) -> None:
    """Every refusal of every operation, in the one form they have."""
    content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemBody"}}}
    for operations in result["paths"].values():
        for method, operation in operations.items():
            told = REFUSALS | (READING if method == "get" else WRITING)
            for status, means in told.items():
                operation["responses"].setdefault(str(status), {"description": means, "content": content})


def _put(schemas: dict[str, Any], name: str, schema: dict[str, Any]) -> None:
    schemas.update(schema.pop("$defs", {}))
    if "properties" in schema:
        schema["required"] = sorted(schema["properties"])
    schemas[name] = schema


def _put_told(schemas: dict[str, Any]) -> None:
    """What a playtest tells its screen over its socket: no address answers with it, but the screen reads its forms here."""
    told = TypeAdapter(PlayMessage).json_schema(ref_template=_REF, mode="serialization")
    schemas.update(told.pop("$defs", {}))
    schemas["PlayMessage"] = told


def _put_row(schemas: dict[str, Any], record_type: str) -> None:
    full = TypeAdapter(RECORD_TYPES[record_type]).json_schema(ref_template=_REF, mode="serialization")
    schemas.update(full.pop("$defs", {}))
    fields = value_fields(record_type)
    values = {"type": "object", "properties": {f: full["properties"][f] for f in fields}, "required": list(fields)}
    number = {"type": "integer"}
    schemas[f"{record_type.capitalize()}Values"] = values
    properties: dict[str, Any] = {
        "id": number,
        "type": {"type": "string", "enum": [record_type]},
        "key": {"type": "string"},
        "owner": {"type": "integer", "nullable": True},
        "order": {"type": "number"},
        "version": number,
        "values": {"$ref": f"#/components/schemas/{record_type.capitalize()}Values"},
    }
    if record_type == "object":
        properties["design"] = {"allOf": [{"$ref": _REF.format(model="Design")}], "nullable": True}
    schemas[f"{record_type.capitalize()}Row"] = {
        "type": "object",
        "required": list(properties),
        "properties": properties,
    }
