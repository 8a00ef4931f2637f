"""A printer that batches can be sent to, as the maker enters it."""

from typing import Literal
from urllib.parse import urlsplit

from pydantic import AnyHttpUrl, BaseModel, Field, TypeAdapter, ValidationError, model_validator

from hinoki.core.errors import HinokiError

ASKED_BY = "Hinoki-Asks"
"""a header that says who asks, so that a Hinoki whose own address was entered for a printer is not asked without end"""

Way = Literal["http", "folder"]
LOCAL = ("localhost", "127.0.0.1", "::1", "0.0.0.0", "::")


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


def refuse_bad_address(machine: Machine, own: str) -> None:
    """Raises HinokiError for an address that cannot be one, or that is Hinoki's own (`own`, such as localhost:8462)."""
    if machine.way != "http":
        return
    try:
        TypeAdapter(AnyHttpUrl).validate_python(machine.address)
        parts = urlsplit(machine.address)
        port = parts.port or (443 if parts.scheme == "https" else 80)
    except (ValidationError, ValueError) as error:
        raise HinokiError(
            f"{machine.address[:80]} is no address of a printer. It looks like http://192.168.1.20:8471.", "address"
        ) from error
    if parts.username or parts.password or parts.query or parts.fragment:
        raise HinokiError("The address of a printer has no name, password, ? or # in it.", "address")
    here, _, listens = own.rpartition(":")
    if str(port) == listens and (parts.hostname in LOCAL or parts.hostname == here.strip("[]")):
        raise HinokiError("This is Hinoki's own address. Enter the printer's.", "address")
