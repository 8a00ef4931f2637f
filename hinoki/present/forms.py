"""What screens draw forms from: the fields of all that is edited, and the kinds there are."""

from collections.abc import Mapping
from functools import cache
from typing import Any, get_args

from pydantic import BaseModel, Field, TypeAdapter

from hinoki.core.divide.partings import Parting
from hinoki.core.export.archive import ExportWish
from hinoki.core.forms import Condition, kind_name, kinds_of
from hinoki.core.join.channels import Way
from hinoki.core.join.faced.half_joint import HalfOf
from hinoki.core.join.joints import Joint
from hinoki.core.join.ladders.hole_ladder import Hole
from hinoki.core.make import Maker
from hinoki.core.model.steps import PrepareStep
from hinoki.core.moving.movements import Movement
from hinoki.core.orient.pieces import OrientWish
from hinoki.core.plan.plan import Plan
from hinoki.core.workshop.inventory import OwnSize
from hinoki.core.workshop.workshop import Workshop

EDITED = (Plan, Workshop, ExportWish, OrientWish, Hole)
"""models whose parts the screens draw forms of"""
LIMITS = ("minimum", "maximum", "exclusiveMinimum", "maxLength", "pattern")
FIELD = ("type", "title", "description", "enum", "const", "default", *LIMITS)
"""what a form needs to know of a field"""


class KindForm(BaseModel):
    """A kind: how it is named, and what its form shows (see `hinoki.core.forms.Form`)."""

    kind: str
    model: str = Field(description="whose fields it has")
    name: str
    says: str
    when: str
    group: str
    fields: list[str]
    words: dict[str, dict[str, str]]
    only_if: dict[str, dict[str, list[str | None] | str]]
    beside_fit: list[str]
    picks: list[str]


class FormsView(BaseModel):
    """Fields by model and name, each as JSON Schema says it; kinds by the part of a plan they stand in."""

    fields: dict[str, dict[str, dict[str, Any]]]
    joints: list[KindForm]
    partings: list[KindForm]
    prepare: list[KindForm]
    ways: list[KindForm]
    makers: list[KindForm]
    movements: list[KindForm]
    on_face: list[str] = Field(description="the kinds of joint of which one side can stand on a face")
    own_sizes: list[KindForm]
    hole: KindForm


@cache
def forms_view() -> FormsView:
    """All forms. They are the same as long as the program runs."""
    return FormsView(
        fields=_fields(),
        joints=[_kind(k) for k in kinds_of(Joint)],
        partings=[_kind(k) for k in kinds_of(Parting)],
        prepare=[_kind(k) for k in kinds_of(PrepareStep)],
        ways=[_kind(k) for k in kinds_of(Way)],
        makers=[_kind(k) for k in kinds_of(Maker)],
        movements=[_kind(k) for k in kinds_of(Movement)],
        on_face=[kind_name(k) for k in kinds_of(HalfOf)],
        own_sizes=[_kind(k) for k in get_args(OwnSize.model_fields["size"].annotation)],
        hole=_kind(Hole),
    )


def _kind(kind: Any) -> KindForm:
    form = kind.form
    return KindForm(
        kind=kind_name(kind),
        model=kind.__name__,
        name=form.name,
        says=form.says,
        when=form.when,
        group=form.group,
        fields=list(form.fields),
        words={field: dict(words) for field, words in form.words.items()},
        only_if={field: _conditions(others) for field, others in form.only_if.items()},
        beside_fit=list(form.beside_fit),
        picks=list(form.picks),
    )


def _conditions(others: Mapping[str, Condition]) -> dict[str, list[str | None] | str]:
    return {other: values if isinstance(values, str) else list(values) for other, values in others.items()}


def _fields() -> dict[str, dict[str, dict[str, Any]]]:
    adapters = [(model.__name__, "validation", TypeAdapter(model)) for model in EDITED]
    _, document = TypeAdapter.json_schemas(adapters)  # type: ignore[arg-type]
    return {
        name: {field: _field(about) for field, about in model["properties"].items()}
        for name, model in sorted(document["$defs"].items())
        if "properties" in model
    }


def _field(about: dict[str, Any]) -> dict[str, Any]:
    kept = {key: about[key] for key in FIELD if key in about}
    for several in ("anyOf", "prefixItems"):
        if several in about:
            kept[several] = [_field(one) for one in about[several]]
    return kept
