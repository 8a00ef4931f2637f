"""The data of screens, as Pydantic models."""
