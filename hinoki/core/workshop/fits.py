"""Fit classes and their clearances on each side (trade facts, filament printing with a 0.4 mm nozzle)."""

from typing import Literal

from pydantic import BaseModel, Field

Fit = Literal["press", "snug", "sliding", "loose"]
FITS: tuple[Fit, ...] = ("press", "snug", "sliding", "loose")


RATTLES_MM = 0.35
"""clearance on each side with which what runs rattles (common practice: 0.1 to 0.3 mm run freely)"""


class Fits(BaseModel, frozen=True):
    """Clearance on each side, in millimetres, for each class of fit."""

    press: float = Field(0.05, ge=0, le=2, title="Press", description="each side, mm")
    snug: float = Field(0.10, ge=0, le=2, title="Snug", description="each side, mm")
    sliding: float = Field(0.20, ge=0, le=2, title="Sliding", description="each side, mm")
    loose: float = Field(0.30, ge=0, le=2, title="Loose", description="each side, mm")

    def clearance_mm(self, fit: Fit) -> float:
        """Clearance on each side for a class of fit."""
        return {"press": self.press, "snug": self.snug, "sliding": self.sliding, "loose": self.loose}[fit]
