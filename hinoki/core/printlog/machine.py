"""A printer that batches can be sent to, as the maker enters it."""

from typing import Literal

from pydantic import BaseModel, Field, model_validator

Way = Literal["http", "folder"]


class Machine(BaseModel, frozen=True):
    """A printer as entered: how it is reached, which printer of the workshop it is, and what is loaded."""

    id: str = Field("", max_length=60)
    name: str = Field(min_length=1, max_length=80, title="Name")
    way: Way = Field("http", title="Reached by", description="its own address, or a folder that is carried over")
    address: str = Field(
        min_length=1, max_length=500, title="Address", description="such as http://127.0.0.1:8471, or a folder"
    )
    printer_id: str = Field(max_length=60, title="Printer", description="which of the workshop it is")
    spool_id: int | None = Field(None, title="Spool loaded")

    @model_validator(mode="after")
    def _plain(self) -> "Machine":
        if self.way == "http" and not self.address.startswith(("http://", "https://")):
            raise ValueError("the address of a printer begins with http:// or https://")
        return self
