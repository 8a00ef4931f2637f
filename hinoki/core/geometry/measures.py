"""Measures as documents hold them."""

from typing import Annotated

from pydantic import Field

Measure = Annotated[float, Field(ge=0.5, le=200, allow_inf_nan=False)]
