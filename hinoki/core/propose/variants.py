"""Variants: several whole divisions of one project, kept under names; one of them is the division that is worked on."""

from typing import Literal

from pydantic import BaseModel, Field

from hinoki.core.errors import BadPlan
from hinoki.core.plan.contents import Variant
from hinoki.core.plan.plan import Plan
from hinoki.core.propose.accept import MOST_VARIANTS
from hinoki.core.propose.figures import Figures


class VariantWish(BaseModel):
    """What to do: keep the division as it is now under a name, switch to a kept one, rename or drop it."""

    do: Literal["keep", "switch", "rename", "drop"]
    variant: str | None = Field(None, max_length=8, description="the variant meant; none for the division worked on")
    name: str = Field("", max_length=60)


class VariantFigures(BaseModel):
    """One division's figures; none for an open surface."""

    variant: str | None = Field(description="the variant; none for the division worked on")
    name: str
    figures: Figures | None


class DivisionsView(BaseModel):
    """All divisions side by side, the one worked on first."""

    divisions: list[VariantFigures]


def after_wish(plan: Plan, wish: VariantWish) -> tuple[Plan, str]:
    """The plan after a wish, and what the history calls it. Raises BadPlan for a variant that is not there."""
    if wish.do == "keep":
        if len(plan.variants) >= MOST_VARIANTS:
            raise BadPlan(f"A project keeps at most {MOST_VARIANTS} variants. Drop one first.", "variants")
        name = _named(plan, wish.name)
        kept = plan.model_copy(update={"variants": (*plan.variants, plan.as_variant(name))})
        return kept, f"Keep variant “{name}”"
    if wish.do == "rename" and wish.variant is None:
        name = _named(plan, wish.name)
        return plan.model_copy(update={"division_name": name}), f"Call the division “{name}”"
    there = next((v for v in plan.variants if v.id == wish.variant), None)
    if there is None:
        raise BadPlan("This variant is not there any more. Choose another one.", "variants")
    if wish.do == "drop":
        return plan.model_copy(update={"variants": tuple(v for v in plan.variants if v is not there)}), f"Drop “{there.name}”"
    if wish.do == "rename":
        name = _named(plan, wish.name)
        renamed = tuple(v.model_copy(update={"name": name}) if v is there else v for v in plan.variants)
        return plan.model_copy(update={"variants": renamed}), f"Rename “{there.name}”"
    return switched(plan, there), f"Switch to “{there.name}”"


def switched(plan: Plan, to: Variant) -> Plan:
    """The plan with another variant worked on; the division so far takes its place among those kept."""
    before = plan.as_variant(plan.division_name, to.id)
    return plan.model_copy(
        update={
            "division_name": to.name,
            "partings": to.partings,
            "together": to.together,
            "joints": to.joints,
            "pieces": to.pieces,
            "variants": tuple(before if v is to else v for v in plan.variants),
        }
    )


def of_variant(plan: Plan, variant: Variant) -> Plan:
    """The plan with the division of a variant, for its figures."""
    return plan.model_copy(
        update={"partings": variant.partings, "together": variant.together, "joints": variant.joints, "pieces": variant.pieces}
    )


def _named(plan: Plan, wish: str) -> str:
    name = wish.strip()
    if not name:
        raise BadPlan("A variant needs a name.", "name")
    if name in (plan.division_name, *(v.name for v in plan.variants)):
        raise BadPlan(f"There is a variant “{name}” already. Choose another name.", "name")
    return name
