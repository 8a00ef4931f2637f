"""A plan in the body of a request: declared by its schema, read by Hinoki's own reader, whose refusals name the field."""

from typing import Annotated, Any

from pydantic import WithJsonSchema

NAMED = "x-named"
"""marks a schema that stands in the document under a name"""
PlanBody = Annotated[dict[str, Any], WithJsonSchema({NAMED: "Plan"})]
"""JSON of a plan, as the document says; fields that nobody knows and older versions are `plan_from`'s to tell"""
