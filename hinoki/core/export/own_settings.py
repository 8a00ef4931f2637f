"""What of a piece is printed otherwise than the project says: as metadata of its file, and in words for lists."""

from collections.abc import Callable, Mapping
from typing import Any

from hinoki.core.plan.print_settings import OwnSettings

WORDS: Mapping[str, Callable[[Any], str]] = {
    "layers": lambda v: f"{v} layers",
    "walls": lambda v: f"{v} wall{'s' if v != 1 else ''}",
    "skins": lambda v: f"{v} skin{'s' if v != 1 else ''}",
    "infill_percent": lambda v: f"{v:g} % infill",
    "brim_mm": lambda v: f"brim of {v:g} mm" if v else "no brim",
}


def own_facts(own: OwnSettings) -> dict[str, str]:
    """By the names of the settings, such as “Walls”: “5”."""
    fields = type(own).model_fields
    return {str(fields[name].title): f"{value}" for name, value in own.model_dump(exclude_none=True).items()}


def own_words(own: OwnSettings) -> str:
    """Such as “fine layers, 5 walls, 40 % infill”; nothing where all is as the project says."""
    return ", ".join(WORDS[name](value) for name, value in own.model_dump(exclude_none=True).items())
